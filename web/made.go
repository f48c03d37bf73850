package web

import (
	"context"
	"fmt"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/beside"
	"vindel/knit/chart"
	"vindel/knit/fabric"
	"vindel/knit/machine"
	"vindel/knit/mistake"
	"vindel/knit/pass"
	"vindel/paper"
	"vindel/store"
)

// madePicture is a window of a face, and a box in it about what differs, in the units of its drawing.
type madePicture struct {
	Src, Alt      string
	Face          string
	Away          bool // the bed lies mirrored in it
	Needle        int  // at the left edge of the bed, as the core counts them
	Wales         int
	Low, High     int // courses, from 1
	Box           [4]int
	Boxed         bool
	ViewW, ViewH  float64
	Font, Foot    float64 // of the numbers at its edges, and where those below it stand
	Frame         string  // with the edges
	Rows, Needles []axisMark
}

// axisMark is a number at the edge of a picture, at a place in it.
type axisMark struct {
	At   float64
	Text string
}

// How much fabric a picture shows.
const (
	shownCourses  = 44
	shownInPair   = 26
	stitchWide    = 4.0 // as paper draws them
	stitchTall    = 3.0
	mostPairWales = 60
)

// pair is the planned fabric and that with a mistake, the same part of both.
func (d *opened) pair(m mistake.Mistake, seen *mistake.Difference, done int) (planned, made madePicture) {
	top := max(beside.Courses(d.result.Plan, done), 1)
	low := max(1, min(seen.First-4, top-shownInPair+1))
	high := min(low+shownInPair-1, top)
	left, wide := 0, 0
	if f, most := d.result.Fabric, min(mostPairWales, 30+2*int(seen.Right-seen.Left)); f.W > most && seen.First > 0 {
		wide = most
		left = max(0, min(int(seen.Left+seen.Right)/2-int(f.From)-wide/2, f.W-wide))
	}
	planned = d.window("", low, high, left, wide, "")
	made = d.window("", low, high, left, wide, mistakeQuery(m, done))
	planned.Alt, made.Alt = "As planned", "With this mistake"
	if seen.First > 0 {
		made.mark(seen.First, seen.Last, seen.Left, seen.Right)
	}
	return planned, made
}

// mistakeQuery is a mistake as an address holds it.
func mistakeQuery(m mistake.Mistake, done int) string {
	return url.Values{"kind": {string(m.Kind)}, "pass": {fmt.Sprint(m.Pass + 1)}, "step": {fmt.Sprint(m.Step + 1)},
		"needle": {m.Needle.String()},
		"by":     {fmt.Sprint(m.By)}, "done": {fmt.Sprint(done)}}.Encode()
}

// mistakeIn reads a mistake from an address: one that can be made in the plan, or none.
func mistakeIn(q url.Values, pl *pass.Plan) (m mistake.Mistake, ok bool) {
	n, _ := machine.ParseNeedle(q.Get("needle"))
	at := number(q.Get("pass"), 0) - 1
	want := mistake.Mistake{Kind: mistake.Kind(q.Get("kind")), Pass: at, Step: number(q.Get("step"), 0) - 1,
		Needle: n, By: number(q.Get("by"), 0)}
	for _, m := range mistake.All(pl, at, at+1) {
		single := m.Kind == mistake.Needle || m.Kind == mistake.EndNeedle
		if m.Kind == want.Kind && m.Step == want.Step && m.By == want.By && (!single || m.Needle == want.Needle) {
			return m, true
		}
	}
	return want, false
}

// window is a picture of courses low to high (from 1) of a face, of `wide` needles from the left-th of the
// bed (0: all); of the fabric with a mistake where `made` names one.
func (d *opened) window(face string, low, high, left, wide int, made string) (p madePicture) {
	f := d.result.Fabric
	if face == "" {
		face = d.worn()
	}
	side := chart.KnitSide
	if face == "purl" {
		side = chart.PurlSide
	} else {
		face = "knit"
	}
	if wide == 0 {
		wide = f.W
	}
	p.Face, p.Away, p.Wales, p.Low, p.High = face, f.Away(side), wide, low, high
	p.Needle = int(f.From) + left
	x := left
	if p.Away {
		x = f.W - left - wide
	}
	h := high - low + 1
	at := fmt.Sprintf("%s.svg?x=%d&y=%d&w=%d&h=%d&fit=900x640&v=%d", face, x, low-1, wide, h, d.stored.Head)
	if p.Src = fmt.Sprintf("/pieces/%d/fabric/%s", d.stored.ID, at); made != "" {
		p.Src = fmt.Sprintf("/pieces/%d/knit/made/%s&%s", d.stored.ID, at, made)
	}
	p.ViewW, p.ViewH = stitchWide*float64(wide), stitchTall*(float64(h)+0.6)
	p.Font = max(4.2, 0.034*p.ViewW) // to be read on a phone, and where two stand side by side
	p.Foot = p.ViewH + p.Font*1.3
	p.Frame = fmt.Sprintf("%.1f %.1f %.1f %.1f", -3.2*p.Font, -0.8*p.Font, p.ViewW+4.6*p.Font, p.ViewH+2.8*p.Font)
	every := apart(stitchTall, 1.4*p.Font)
	for c := low; c <= high; c++ {
		if c%every == 0 && float64(high-c)*stitchTall >= 1.2*p.Font || c == high {
			p.Rows = append(p.Rows, axisMark{p.rowAt(c) + stitchTall*0.8, fmt.Sprint(c)})
		}
	}
	every = apart(stitchWide, 3*p.Font)
	for i := range wide {
		n := machine.Needle(p.Needle + i)
		label := n.String()
		if k, _ := strconv.Atoi(label[1:]); k%every == 0 {
			p.Needles = append(p.Needles, axisMark{p.needleAt(n) + stitchWide/2, label})
		}
	}
	return p
}

// apart is every how many stitches a number stands, so that none touches the next.
func apart(stitch, least float64) int {
	every := 5
	for float64(every)*stitch < least {
		every *= 2
	}
	return every
}

// rowAt is the top of a course in the picture, needleAt the left edge of a needle's wale.
func (p *madePicture) rowAt(c int) float64 { return p.ViewH - stitchTall*float64(c-p.Low+1) }

func (p *madePicture) needleAt(n machine.Needle) float64 {
	i := int(n) - p.Needle
	if p.Away {
		i = p.Wales - 1 - i
	}
	return stitchWide * float64(i)
}

// mark draws a box about courses and needles.
func (p *madePicture) mark(first, last int, left, right machine.Needle) {
	first, last = max(first, p.Low), min(last, p.High)
	left, right = max(left, machine.Needle(p.Needle)), min(right, machine.Needle(p.Needle+p.Wales-1))
	if first > last || left > right {
		return
	}
	x := min(p.needleAt(left), p.needleAt(right))
	p.Boxed = true
	p.Box = [4]int{int(x), int(p.rowAt(last)), int(stitchWide * float64(right-left+1)),
		int(stitchTall * float64(last-first+1))}
}

// made draws the fabric of a plan in which a mistake is made.
func (s *Server) made(c *gin.Context) {
	key, done := s.faceKept(c)
	if done {
		return
	}
	s.withPieceIn(c, requestTime, func(d *opened) {
		q := c.Request.URL.Query()
		pl := mistake.Until(d.result.Plan, number(q.Get("done"), len(d.result.Plan.Passes)))
		m, ok := mistakeIn(q, pl)
		if !ok {
			s.fail(c, store.ErrNone)
			return
		}
		ctx := c.Request.Context()
		if err := s.pictures.take(ctx); err != nil {
			s.fail(c, err)
			return
		}
		defer s.pictures.give()
		f, err := m.Play(ctx, pl)
		if err != nil {
			s.fail(c, err)
			return
		}
		n := func(key string) int { return max(0, number(q.Get(key), 0)) }
		side := chart.KnitSide
		if strings.HasPrefix(c.Param("file"), "purl") {
			side = chart.PurlSide
		}
		data, err := madeFace(ctx, f, side, paper.Window{X: n("x"), Y: n("y"), W: n("w"), H: n("h"), Clear: true},
			q.Get("fit"))
		if faceKey(d.stored.Doc, c.Request.URL) != key {
			key = ""
		}
		s.sendFace(c, key, "png", data, err)
	})
}

// madeFace draws a window of a fabric that may have fewer courses than asked for: as much as there is, on a
// picture of the size asked for.
func madeFace(ctx context.Context, f *fabric.Fabric, side chart.Face, win paper.Window, fit string) ([]byte, error) {
	if len(f.Courses) == 0 || win.Y >= len(f.Courses) {
		return nil, store.ErrNone
	}
	return paper.FabricPNG(ctx, f, side, win, fitted(fit, win.W, win.H))
}
