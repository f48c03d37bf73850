package web

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/beside"
	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/outline"
	"vindel/knit/piece"
	"vindel/knit/plan"
	"vindel/knit/technique"
	"vindel/knit/words"
)

// shapeView is the shape of a piece as the Place page shows it: its outline over the fabric, with corners that
// can be taken in hand; what each measures, asked and got; or the steps that are written.
type shapeView struct {
	ID, Head int64
	Outline  *outlineView
	Alike    bool // the edges are each other's mirror
	Drawn    bool // it has an outline in millimetres
	Corners  []cornerView
	Image    *outlineRow // where the fabric lies under the outline
	Steps    []shapeStep
	ByRow    []beside.ShapeRow
	Begin    []piece.ShapeToBegin
	Sizes    []sizeView
	Shaped   bool
	Divided  bool
	Mirror   string
	Knitted  int    // rows that are knitted already
	Misfits  string // what no longer fits of them
	Assumed  assumedView
	Rows     int
	Width    int
}

// cornerView is a corner of the outline: where it is drawn, asked and got in millimetres.
type cornerView struct {
	Side           string
	No             int
	X, Y           float64
	Asked, Got     [2]string
	Off            [2]string
	Stitches, Rows int
	Knitted, Ends  bool // it is the first or the last of its edge
}

// shapeStep is an entry of the shape's list in words; Path is where it stands, "" where it was worked out.
type shapeStep struct {
	At   int
	Text string
	Drop bool
}

// sizeView is one size beside the others.
type sizeView struct {
	No                        int // from 1; 0: the one at hand
	Name                      string
	CastOn, Widest, Rows      int
	Wide, Tall                [2]string // asked and got
	Passes, Threadings, Stops int
	Time                      string
}

func millimetres(x float64) string { return strconv.FormatFloat(math.Round(x*10)/10, 'f', -1, 64) }

func signed(x float64) string {
	x = math.Round(x*10) / 10
	switch {
	case x == 0:
		return "0"
	case x > 0:
		return "+" + millimetres(x)
	}
	return "−" + millimetres(-x)
}

func (d *opened) shapeView(done int) *shapeView {
	p, pl := d.piece, d.result.Plan
	drawn := outline.Of(pl)
	v := &shapeView{ID: d.stored.ID, Head: int64(d.stored.Head), Outline: drawOutline(drawn, pl, -1),
		Begin: piece.ShapesToBegin, Shaped: p.Shape != nil, ByRow: beside.ShapeRows(pl),
		Rows: p.FirstRow(len(p.Sections)) - 1, Width: p.Work().Len(), Knitted: rowsKnitted(d, done)}
	v.Assumed = d.assumed()
	if v.Outline == nil {
		return v
	}
	if p.Shape != nil {
		v.Divided = p.Shape.Split != nil
		v.Drawn = p.Shape.Outline != nil
		for i := range p.Shape.Rules {
			r := &p.Shape.Rules[i]
			v.Steps = append(v.Steps, shapeStep{r.At, ruleWords(r), !v.Drawn})
		}
		if sp := p.Shape.Split; sp != nil {
			first := "the part on the carriage's side first"
			if sp.First != 0 {
				first = fmt.Sprintf("the %v part first", sp.First)
			}
			v.Steps = append(v.Steps, shapeStep{sp.At, fmt.Sprintf(
				"Before row %d: it divides, up to %v and from %v, %s", sp.Row, sp.Left, sp.Right, first), true})
			slices.SortStableFunc(v.Steps, func(a, b shapeStep) int { return a.At - b.At })
		}
	}
	w, h := drawn.Size()
	m := (v.Outline.W - w) / 2
	v.Image = &outlineRow{m, m, w, h}
	if o, ok := edit.OutlineOf(p); ok {
		v.Alike = o.Symmetric()
		var kept *piece.Kept
		if p.Shape != nil {
			kept = p.Shape.Kept
		}
		left := p.From - drawn.Low // where the first corner of the left edge lies among the needles
		right := p.To + 1 - drawn.Low
		off := 0
		for _, c := range o.Measures(p.StitchMM(), p.RowMM(), p.Work().Len(), kept) {
			x, last := float64(left)*drawn.StitchMM-o.Left[0][0], len(o.Left)
			if c.Side == machine.Right {
				x, last = float64(right)*drawn.StitchMM-o.Right[0][0], len(o.Right)
			}
			by := c.Off()
			v.Corners = append(v.Corners, cornerView{Side: c.Side.String(), No: c.No, X: m + x + c.Asked[0],
				Y:     m + h - c.Asked[1],
				Asked: [2]string{millimetres(c.Asked[0]), millimetres(c.Asked[1])},
				Got:   [2]string{millimetres(c.Got[0]), millimetres(c.Got[1])},
				Off:   [2]string{signed(by[0]), signed(by[1])}, Stitches: c.Stitches, Rows: c.Rows, Knitted: c.Knitted,
				Ends: c.No == 1 || c.No == last})
			if c.Knitted && math.Abs(by[0]) >= p.StitchMM() {
				off++
			}
		}
		if off > 0 {
			v.Misfits = fmt.Sprintf("%d rows are knitted and stay as they are; %s in them no longer %s what is "+
				"asked. From row %d on the edges go to where they are wanted.",
				kept.Rows, words.Count(off, "corner", "corners"), words.Plural(off, "measures", "measure"), kept.Rows+1)
		}
	}
	return v
}

// rowsKnitted is how many rows of the piece, counted over all sections, are knitted once so many passes are.
func rowsKnitted(d *opened, done int) int {
	pl := d.result.Plan
	if done >= len(pl.Passes) {
		return pl.Piece.FirstRow(len(pl.Piece.Sections)) - 1
	}
	row, _ := rowAt(pl, done)
	return max(0, row-1)
}

// ruleWords is an entry of the shape's list in words.
func ruleWords(r *piece.ShapeRule) string {
	edge := "the " + r.Side.String() + " edge"
	if r.Both {
		edge = "both edges"
	}
	n := max(r.Stitches, -r.Stitches)
	part := ""
	if r.Part != piece.Whole {
		part = " of the " + r.Part.String() + " part"
	}
	switch {
	case r.Release:
		return fmt.Sprintf("Before row %d, %s%s: back to work what waits", r.Rows[0], edge, part)
	case r.Hold && !r.Spread:
		wrap := ", wrapped"
		if !r.Wrap {
			wrap = ", not wrapped"
		}
		return fmt.Sprintf("Before row %d, %s%s: %d into hold%s", r.Rows[0], edge, part, n, wrap)
	case r.Spread:
		way, how := "out", ""
		if r.Stitches < 0 {
			way = "in"
		}
		if r.Hold {
			way = "into hold"
		}
		if r.Fashion > 0 {
			how = fmt.Sprintf(", with the %d-prong tool", r.Fashion)
		}
		return fmt.Sprintf("Rows %d to %d, %s%s: %d %s, %s%s", r.Rows[0], r.Rows[1], edge, part, n, way,
			piece.ShapeWords(r.Rows[0]-1, piece.Spread(r.Rows[0], r.Rows[1], n)), how)
	case n == 1:
		return fmt.Sprintf("Before row %d, %s%s: 1 %s", r.Rows[0], edge, part, map[bool]string{true: "out",
			false: "in"}[r.Stitches > 0])
	case r.Stitches > 0:
		return fmt.Sprintf("Before row %d, %s%s: cast on %d", r.Rows[0], edge, part, n)
	}
	return fmt.Sprintf("Before row %d, %s%s: bind off %d", r.Rows[0], edge, part, n)
}

// sizes are the sizes that are kept side by side, each planned, with the one at hand first.
func (d *opened) sizes() (list []sizeView) {
	p := d.piece
	if len(p.Sizes) == 0 {
		return nil
	}
	one := func(no int, name string, o *piece.Outline, of *piece.Piece) {
		pl := d.result.Plan
		if no > 0 {
			pl = plan.Make(of)
		}
		drawn := outline.Of(pl)
		wide, tall := drawn.Size()
		_, minutes := beside.Minutes(pl)
		v := sizeView{No: no, Name: name, CastOn: of.Work().Len(), Rows: drawn.Rows, Passes: pl.Totals.Passes,
			Threadings: pl.Totals.Threadings,
			Time:       clock(float64(minutes) * 60)}
		for _, s := range drawn.Spans {
			v.Widest = max(v.Widest, int(s.To-s.From)+1)
		}
		if o != nil {
			low, high, up := 0.0, 0.0, 0.0
			for i, edge := range [][][2]float64{o.Left, o.Right} {
				for _, c := range edge {
					if up = max(up, c[1]); i == 0 {
						low = min(low, c[0])
					} else {
						high = max(high, c[0])
					}
				}
			}
			v.Wide[0], v.Tall[0] = millimetres(high-low), millimetres(up)
		}
		v.Wide[1], v.Tall[1] = millimetres(wide), millimetres(tall)
		for _, f := range pl.Findings {
			if f.Severity.String() == "stop" {
				v.Stops++
			}
		}
		list = append(list, v)
	}
	now, _ := edit.OutlineOf(p)
	one(0, "At hand", now, p)
	for i, s := range p.Sizes {
		doc, err := edit.Parse(d.stored.Doc)
		if err != nil {
			continue
		}
		if _, err := doc.Apply(edit.Outline(p, s.Outline, 0)); err != nil {
			continue
		}
		if of, err := technique.Piece(doc); err == nil {
			one(i+1, s.Name, s.Outline, of)
		}
	}
	return list
}

// shape changes the shape of a piece: its outline dragged or typed, its steps, its sizes.
func (s *Server) shape(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		changes, label, err := d.reshape(c.PostForm, rowsKnitted(d, s.doneOf(c, d)))
		if err != nil {
			s.fail(c, inputError{err})
			return
		}
		s.change(c, d.stored.ID, edit.Edit{Kind: edit.Places, Label: label, Changes: changes})
	})
}

// doneOf is how many passes of a piece are knitted.
func (s *Server) doneOf(c *gin.Context, d *opened) int {
	journal, err := s.store.Journal(c.Request.Context(), d.stored.ID, 1)
	if err != nil || len(journal) == 0 {
		return 0
	}
	return d.done(journal[0])
}

// reshape is the edit that a command asks for, and its name in the list of edits.
func (d *opened) reshape(form func(string) string, knitted int) (changes []edit.Change, label string, err error) {
	p := d.piece
	side := map[string]machine.Side{"left": machine.Left, "right": machine.Right}[form("side")]
	no, alike := number(form("corner"), 0), form("alike") != ""
	o, drawn := edit.OutlineOf(p)
	needs := func() error {
		if !drawn {
			return fmt.Errorf("a piece that divides or waits in hold has no single outline; change its steps")
		}
		if side == 0 {
			return fmt.Errorf("%q: left or right", form("side"))
		}
		return nil
	}
	switch do := form("do"); do {
	case "begin":
		i := slices.IndexFunc(piece.ShapesToBegin, func(b piece.ShapeToBegin) bool { return b.Name == form("shape") })
		if i < 0 {
			return nil, "", fmt.Errorf("no shape is called %q", form("shape"))
		}
		b := &piece.ShapesToBegin[i]
		var measures []float64
		for k, m := range b.Measures {
			x, err := typedMM(form(fmt.Sprint("m", k)))
			if err != nil {
				return nil, "", fmt.Errorf("%s: %w", m.Label, err)
			}
			measures = append(measures, x)
		}
		changes, err = edit.BeginShape(p, b, measures)
		return changes, "begin from a shape: " + strings.ToLower(b.Label), err
	case "corner":
		if err := needs(); err != nil {
			return nil, "", err
		}
		x, err := typedMM(form("x"))
		if err != nil {
			return nil, "", err
		}
		y, err := typedMM(form("y"))
		if err != nil {
			return nil, "", err
		}
		if o, err = edit.MoveCorner(o, side, no, [2]float64{x, y}, alike); err != nil {
			return nil, "", err
		}
		return edit.Outline(p, o, knitted), "move a corner", nil
	case "more", "fewer":
		if err := needs(); err != nil {
			return nil, "", err
		}
		if do == "more" {
			return edit.Outline(p, edit.AddCorner(o, side, no, alike), knitted), "add a corner", nil
		}
		return edit.Outline(p, edit.DropCorner(o, side, no, alike), knitted), "take a corner away", nil
	case "step":
		r, err := typedStep(p, form)
		if err != nil {
			return nil, "", err
		}
		return edit.AddStep(p, r), "add a step", nil
	case "divide":
		sp := piece.Split{Row: number(form("row"), 0)}
		for key, n := range map[string]*machine.Needle{"left": &sp.Left, "right": &sp.Right} {
			if *n, err = machine.ParseNeedle(form(key)); err != nil {
				return nil, "", err
			}
		}
		sp.First = map[string]machine.Side{"left": machine.Left, "right": machine.Right}[form("first")]
		return edit.Divide(p, sp), "divide the piece", nil
	case "drop":
		if p.Shape == nil || p.Shape.Outline != nil {
			return nil, "", fmt.Errorf("there is no such step")
		}
		return edit.DropStep(p, number(form("at"), 0)), "take a step away", nil
	case "steps":
		return edit.ShapeAsSteps(p), "write the steps out", nil
	case "none":
		return edit.NoShape(p), "no shape: a rectangle", nil
	case "keep", "scale":
		name := strings.TrimSpace(form("name"))
		if name == "" || o == nil {
			return nil, "", fmt.Errorf("a size needs a name, and an outline")
		}
		wide, tall := number(form("wide"), 100), number(form("tall"), 100)
		if wide < 20 || wide > 500 || tall < 20 || tall > 500 {
			return nil, "", fmt.Errorf("%d and %d percent: 20 to 500", wide, tall)
		}
		return edit.KeepSize(p, name, o.Scaled(float64(wide)/100, float64(tall)/100)), "keep the size " + name, nil
	case "take", "forget":
		i := number(form("size"), 0)
		if i < 1 || i > len(p.Sizes) {
			return nil, "", fmt.Errorf("size %d: there are %d", i, len(p.Sizes))
		}
		if do == "take" {
			return edit.Outline(p, p.Sizes[i-1].Outline, knitted), "take the size " + p.Sizes[i-1].Name, nil
		}
		return edit.DropSize(p, i-1), "forget the size " + p.Sizes[i-1].Name, nil
	}
	return nil, "", fmt.Errorf("%q is no way to change a shape", form("do"))
}

func typedMM(text string) (float64, error) {
	x, err := strconv.ParseFloat(strings.NewReplacer(",", ".", "−", "-").Replace(strings.TrimSpace(text)), 64)
	if err != nil || math.Abs(x) > piece.MostMM || math.IsNaN(x) {
		return 0, fmt.Errorf("%q: a number of millimetres", text)
	}
	return x, nil
}

// typedStep reads a step as it is typed.
func typedStep(p *piece.Piece, form func(string) string) (r piece.ShapeRule, err error) {
	r = piece.ShapeRule{Wrap: form("wrap") != "no", Fashion: number(form("fashion"), 0)}
	switch form("side") {
	case "left":
		r.Side = machine.Left
	case "right":
		r.Side = machine.Right
	default:
		r.Both = true
	}
	r.Rows = [2]int{number(form("from"), 0), number(form("to"), 0)}
	if r.Spread = r.Rows[1] > r.Rows[0]; !r.Spread {
		r.Rows[1] = r.Rows[0]
	}
	n := number(form("stitches"), 0)
	switch form("way") {
	case "in":
		r.Stitches = -n
	case "hold":
		r.Stitches, r.Hold = -n, true
	case "release":
		r.Release, r.Spread, r.Rows[1] = true, false, r.Rows[0]
	default:
		r.Stitches = n
	}
	switch form("part") {
	case "first":
		r.Part = piece.FirstPart
	case "second":
		r.Part = piece.SecondPart
	}
	if total := p.FirstRow(len(p.Sections)) - 1; r.Rows[0] < 1 || r.Rows[1] > total {
		return r, fmt.Errorf("rows %d to %d: the piece has %d", r.Rows[0], r.Rows[1], total)
	}
	if r.Stitches == 0 && !r.Release {
		return r, fmt.Errorf("how many stitches?")
	}
	return r, nil
}

// kept is what stands before an edit that has an outline worked out anew: the steps of the rows that are
// knitted, which stay as they are.
func (s *Server) kept(c *gin.Context, id int64, changes []edit.Change) []edit.Change {
	if slices.ContainsFunc(changes, func(ch edit.Change) bool { return ch.Path.Holds("kept") }) {
		return nil
	}
	d, err := s.open(c.Request.Context(), id)
	if err != nil || d.piece.Shape == nil || d.piece.Shape.Outline == nil {
		return nil
	}
	return edit.Keep(d.piece, rowsKnitted(d, s.doneOf(c, d)))
}

// refit is what follows from changes that give a piece with an outline another gauge: its cast-on and rows by that, as
// far as nothing is knitted yet; and what that comes to, in words.
func (s *Server) refit(c *gin.Context, id int64, changes []edit.Change) ([]edit.Change, string) {
	d, err := s.open(c.Request.Context(), id)
	if err != nil || d.piece.Shape == nil || d.piece.Shape.Outline == nil {
		return nil, ""
	}
	doc, err := edit.Parse(d.stored.Doc)
	if err != nil {
		return nil, ""
	}
	anew := func(ch edit.Change) bool { return ch.Path.Holds("outline") || ch.Path.Holds("kept") }
	changes = append(slices.DeleteFunc(slices.Clone(changes), anew), edit.NoShape(d.piece)...)
	if _, err := doc.Apply(changes); err != nil {
		return nil, "" // what it is refused for is told where it is made
	}
	p, err := technique.Piece(doc)
	if err != nil {
		return nil, ""
	}
	return edit.Refit(d.piece, p, rowsKnitted(d, s.doneOf(c, d)))
}
