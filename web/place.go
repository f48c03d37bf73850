package web

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/bed"
	"vindel/knit/beside"
	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/measure"
	"vindel/knit/outline"
	"vindel/knit/piece"
	"vindel/knit/technique"
	"vindel/knit/words"
)

type placeView struct {
	Shape    *shapeView
	Page     Page
	Piece    *piece.Piece
	ID       int64
	Head     int
	Machines []machineChoice
	Machine  string // the choice that is the piece's
	About    string
	Notice   []string // what changing the machine has changed
	From, To string
	Out      string
	Width    int
	WidthCM  string
	Stitches string // of the swatch, over 10 cm
	Rows     string
	Second   secondView
	Bed      bedView
	Sections []sectionView
	Ends     []endsView
	Wish     wishView
	Assumed  assumedView
	Shaped   bool
	BySwatch string // the gauge that the swatch gives; what is typed as a gauge does not count beside it
	Sampler  bool   // it is one: there is a page for what its samples measured
	Widths   []widthOffer
	Findings findingList
	Options  []choice
	Limits   []field
	Yarns    []piece.Word // to choose from
	YarnRows []yarnRow
}

// yarnRow is a yarn of the piece, and where it stands in it.
type yarnRow struct {
	Path edit.Path
	yarnState
}

type widthOffer struct {
	N, Column int
	Text      string
	Mine      bool
}

// sectionView is one section on the Place page, the topmost first as the piece grows.
type sectionView struct {
	No        int // from 1
	Path      edit.Path
	Name      string
	Technique string
	Choices   []piece.Word // techniques that a chart can be knitted in, and their words
	Weft      string
	Rows      int
	Written   string // rows as the file has them; "" where left out
	Size      string
	Yarn      string
	Areas     []areaView
	Charts    []string
	Motifs    int
	Y, H      float64 // on the drawing of the bed
	Tall      float64 // of the whole section, of which the lowest H are drawn
	Colour    string
	Outside   string // the places on the drawing where the shape has no stitches
	Rail      string // its passes and counters
	Changes   string // what changes before its first row
	Options   []choice
	Typed     []field
	Notes     []noteView
	Sizes     string // to make a sampler of
	Variants  int
	Recipe    bool // it has no rows but those of its text
	Ways      bool // there are ways to choose from, with what they cost
	First     bool // the lowest; Last is the topmost
	Last      bool
	CM        string
}

// noteView is a hand step of the knitter's own; its path is where the file has it.
type noteView struct {
	Before int
	Text   string
	Path   edit.Path
}

type areaView struct {
	No              int // from 1
	Path            edit.Path
	Chart           string
	First, From, To string
	Sentence        string
	Options         []choice
	Drop            int
	Transforms      []toggle
	X0, X1          float64
	Section         int
	Cut, CutL, CutR bool
	ChartW, ChartH  int
	Columns, Rows   string
}

type toggle struct {
	Word, Label string
	On          bool
}

// bedView is the bed drawn to scale: X runs from 0 to 1000.
type bedView struct {
	Ticks  []tick
	Centre float64
	From   float64
	To     float64
	Height float64
	Unit   float64   // a needle's place
	Main   []float64 // the middles of the needles at work, where there are two beds
	Second []float64 // the middles of the second bed's needles, where it works
	Facing []float64 // of those that run into the main bed's
}

// secondView is what the page says of the second bed; nothing where it does not work.
type secondView struct {
	Options []choice
	Typed   []field
}

type tick struct {
	X      float64
	Label  string
	Major  bool
	Anchor string // end or start where the label is not centred
}

func (s *Server) place(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		p := d.piece
		choices, err := s.machineChoices(c)
		if err != nil {
			s.fail(c, err)
			return
		}
		v := placeView{Page: s.piecePage(c, d, "place"), Piece: p, ID: d.stored.ID, Head: d.stored.Head,
			Machines: choices, Machine: chosen(choices, d.stored.Doc), About: about(&p.Machine),
			Notice: s.notice(d.stored.ID),
			From:   p.From.String(), To: p.To.String(), Out: p.Out.String(), Width: int(p.To-p.From) + 1}
		if v.WidthCM = d.centimetres(v.Width); p.Gauge.Stitches == 0 {
			v.WidthCM += ", assumed"
		}
		v.Stitches, v.Rows = measured(p.Gauge.Stitches), measured(p.Gauge.Rows)
		if g := p.Swatch.Gauge(); g.Stitches > 0 || g.Rows > 0 {
			v.BySwatch = fmt.Sprintf("%s stitches and %s rows in 10 cm", orNone(p.Gauge.Stitches), orNone(p.Gauge.Rows))
		}
		v.Findings, v.Assumed = d.keyed(), d.assumed()
		low, high := p.Ends()
		x := func(n machine.Needle) float64 { // the left edge of a needle's place
			return 1000 * float64(n-p.Machine.Bed.First()) / float64(p.Machine.Bed)
		}
		v.Bed = bedView{Centre: x(0), From: x(low), To: x(high + 1), Ticks: ticks(p, x),
			Unit: 1000 / float64(p.Machine.Bed)}
		if v.Second.Options, v.Second.Typed = secondBed(p); v.Second.Options != nil {
			lie := p.Across()
			facing := bed.Facing(p.Second.Needles, p.Work(), lie)
			for n := range p.Work().All() {
				v.Bed.Main = append(v.Bed.Main, (x(n)+x(n+1))/2)
			}
			for n := range p.Second.Needles.All() {
				at := x(0) + float64(lie.Apart(n, 0)+1)*v.Bed.Unit/2
				if facing.Has(n) {
					v.Bed.Facing = append(v.Bed.Facing, at)
				} else {
					v.Bed.Second = append(v.Bed.Second, at)
				}
			}
		}
		for i, y := range p.Yarns {
			v.Yarns = append(v.Yarns, piece.Word{Value: string(y.ID), Text: y.Name})
			at := edit.Member("yarns").At(i)
			v.YarnRows = append(v.YarnRows, yarnRow{at, yarnState{ID: string(y.ID), Name: y.Name, Colour: y.Colour}})
		}
		for i := range slices.Backward(p.Sections) {
			v.Sections = append(v.Sections, d.sectionView(i+1, x))
		}
		v.Bed.Height = stack(v.Sections, v.Bed.Unit*p.RowMM()/p.StitchMM())
		if p.Shape != nil {
			drawn := outline.Of(d.result.Plan)
			for i := range v.Sections {
				v.Sections[i].outside(drawn, p.FirstRow(v.Sections[i].No-1)-1, v.Bed.From, v.Bed.To, x)
			}
		}
		v.Widths, v.Ends = d.widths(), d.ends()
		if v.Wish, err = d.wish(strings.TrimSpace(c.Query("wide")), strings.TrimSpace(c.Query("tall")), unitsOf(c),
			s.pace(c.Request.Context(), d)); err != nil {
			s.fail(c, err)
			return
		}
		v.Shaped = p.Shape != nil
		v.Sampler = len(edit.Samples(p)) > 0
		v.Options, v.Limits = options(p), limits(p)
		v.Shape = d.shapeView(s.doneOf(c, d))
		v.Shape.Sizes = d.sizes()
		s.render(c, "place", v)
	})
}

// measured is a swatch's figure as it is typed, "" where there is none.
func measured(n float64) string {
	if n == 0 {
		return ""
	}
	return strconv.FormatFloat(math.Round(n*100)/100, 'f', -1, 64)
}

// centimetres is how wide so many stitches are.
func (d *opened) centimetres(n int) string {
	return fmt.Sprintf("%.0f cm", float64(n)*d.piece.StitchMM()/10)
}

// assumedView says by which gauge sizes are assumed, with the way to a swatch; the zero one is of a piece with a swatch.
type assumedView struct {
	ID int64
	By string
}

func (d *opened) assumed() (v assumedView) {
	if p := d.piece; p.Assumed() {
		v = assumedView{d.stored.ID, fmt.Sprintf("%.0f stitches and %.0f rows in 10 cm", 100/p.StitchMM(), 100/p.RowMM())}
	}
	return v
}

func ticks(p *piece.Piece, x func(machine.Needle) float64) (list []tick) {
	for n := p.Machine.Bed.First(); n <= p.Machine.Bed.Last(); n++ {
		k := n.String()[1:]
		num, _ := strconv.Atoi(k)
		if num%5 != 0 && num != 1 {
			continue
		}
		t := tick{X: (x(n) + x(n+1)) / 2, Major: num%20 == 0 || num == 1}
		if t.Major {
			t.Label = n.String()
		}
		if num == 1 { // side by side, so they stand back from the middle
			t.Anchor = "end"
			if n >= 0 {
				t.Anchor = "start"
			}
		}
		list = append(list, t)
	}
	return list
}

// stack gives the sections their places on the drawing, the topmost first: as tall as
// their rows, at row's scale, where that can be seen and leaves room for the others.
func stack(list []sectionView, row float64) (height float64) {
	const least, most = 22.0, 150.0
	y := 40.0
	for i := range list {
		list[i].Tall = float64(list[i].Rows) * row
		list[i].Y, list[i].H = y, min(max(list[i].Tall, least), most)
		list[i].Tall = max(list[i].Tall, list[i].H)
		y += list[i].H + 4
	}
	return y + 6
}

// outside is where the shape has no stitches among those from x coordinates from to to: before is how many rows of
// the piece lie below the section.
func (v *sectionView) outside(o *outline.Outline, before int, from, to float64, x func(machine.Needle) float64) {
	tall := v.Tall / float64(v.Rows)
	spans := make([][]outline.Span, v.Rows+1)
	for _, s := range o.Spans {
		if r := s.Row - before; r >= 1 && r <= v.Rows {
			spans[r] = append(spans[r], s)
		}
	}
	var path strings.Builder
	for r := 1; r <= v.Rows; r++ {
		y := max(0, v.H-float64(r)*tall)
		h := v.H - float64(r-1)*tall - y
		if h <= 0 {
			break
		}
		slices.SortFunc(spans[r], func(a, b outline.Span) int { return int(a.From - b.From) })
		at := from
		gap := func(end float64) {
			if end > at {
				fmt.Fprintf(&path, "M%.2f %.2fh%.2fv%.2fh%.2fz", at, y, end-at, h, at-end)
			}
		}
		for _, s := range spans[r] {
			gap(x(s.From))
			at = x(s.To + 1)
		}
		gap(to)
	}
	v.Outside = path.String()
}

func (d *opened) sectionView(no int, x func(machine.Needle) float64) sectionView {
	p := d.piece
	sec := p.Section(no)
	placed := d.result.Plan.Section(no)
	v := sectionView{No: no, Path: edit.Section(no), Name: sec.Name, Technique: sec.Technique.Name, Rows: placed.Rows,
		Size: sec.Size, Yarn: p.YarnID(sec.Yarn), Colour: p.Yarns[sec.RowYarn(1)-1].Colour,
		First: no == 1, Last: no == len(p.Sections), Charts: chartNames(p)}
	v.CM = fmt.Sprintf("%.0f cm", float64(placed.Rows*coursesOf(p, sec))*p.RowMM()/10)
	if p.Gauge.Rows == 0 {
		v.CM += ", assumed"
	}
	v.Rail, v.Changes = beside.SectionWords(d.result.Plan, no)
	if len(sec.Areas) > 0 {
		v.Choices = techniqueWords()
	}
	for _, key := range sec.Technique.Options {
		v.Options = append(v.Options, optionChoice(edit.Section(no).To(key), key, &sec.Options))
	}
	more, typed := sectionOptions(p, no)
	v.Options, v.Typed = append(v.Options, more...), typed
	v.Sizes, v.Variants = sizesAround(sec), len(sec.Variants)
	v.Notes, v.Recipe = d.notes(no), sec.Technique.OwnRows
	v.Ways = sec.Technique.Separates && p.RowsAsked() < large
	v.Weft = p.YarnID(sec.Weft)
	if sec.Rows > 0 {
		v.Written = strconv.Itoa(sec.Rows)
	}
	for k := range sec.Areas {
		a := &sec.Areas[k]
		g := bed.Lie(a)
		av := areaView{No: k + 1, Section: no, Path: edit.Area(no, k+1), Chart: a.Chart.Name, First: a.First.String(),
			From: areaEnd(a, 0), To: areaEnd(a, 1),
			Sentence: bed.Sentence(a, g.W), Drop: a.Drop, Options: areaOptions(a, edit.Area(no, k+1)), X0: x(a.From),
			X1: x(a.To + 1), ChartW: g.W, ChartH: g.H,
			Columns: fmt.Sprintf("%d–%d", a.Columns[0], a.Columns[1]), Rows: fmt.Sprintf("%d–%d", a.Rows[0], a.Rows[1])}
		if a.From > p.From || a.To < p.To {
			v.Motifs++
		}
		av.CutL, av.CutR = (int(a.From-a.First)%g.W+g.W)%g.W != 0, (int(a.To+1-a.First)%g.W+g.W)%g.W != 0
		av.Cut = av.CutL || av.CutR
		words := map[string]string{"turn": "turn left", "turn-right": "turn right", "mirror": "mirror",
			"upside-down": "upside down", "bounce": "up and back", "double-width": "double width",
			"double-length": "double length", "invert": "swap colours"}
		for _, t := range chart.Transforms {
			if t == "invert" && len(a.Chart.Keys) != 2 || !sec.Technique.Takes(t) {
				continue
			}
			av.Transforms = append(av.Transforms, toggle{t, words[t], slices.Contains(a.Transform, t)})
		}
		v.Areas = append(v.Areas, av)
	}
	return v
}

// areaEnd is where an area begins, 0, or ends, 1, as the file says it.
func areaEnd(a *piece.Area, end int) string {
	if a.Edge[end] {
		return "edge"
	}
	return a.Asked[end].String()
}

// notes are the hand steps of her own of a section (from 1), in the order of the file.
func (d *opened) notes(no int) (list []noteView) {
	doc, err := edit.Parse(d.stored.Doc)
	if err != nil {
		return nil
	}
	v, _ := doc.Get(edit.Section(no).To("notes"))
	notes, _ := v.([]any)
	for i, n := range notes {
		note, _ := n.(map[string]any)
		list = append(list, noteView{number(fmt.Sprint(note["before"]), 0), fmt.Sprint(note["text"]),
			edit.Section(no).To("notes").At(i)})
	}
	return list
}

// coursesOf is how many rows of fabric a row of a section makes; nil: one.
func coursesOf(p *piece.Piece, s *piece.Section) int {
	if s == nil {
		return 1
	}
	return technique.Of(s).CoursesOf(&p.Machine, s)
}

// widths offers stitch counts that make whole repeats, or both edges alike.
func (d *opened) widths() (list []widthOffer) {
	p := d.piece
	for i := range p.Sections {
		if len(p.Sections[i].Areas) != 1 {
			continue
		}
		placed, now := d.result.Plan.Section(i+1), int(p.To-p.From)+1
		for _, o := range placed.Widths(p, 1, now) {
			say := "whole repeats"
			switch {
			case o.More > 0 && o.Alike:
				say = "both edges alike"
			case o.Begins:
				say = "ends as it begins, for a seam"
			}
			figures := fmt.Sprintf("%d × %d%s", o.Repeats, placed.Wide[0], plus(o.More))
			if o.Seam > 0 {
				figures += ", and two seam stitches"
			}
			list = append(list, widthOffer{o.N, o.Column, fmt.Sprintf("%s (%s), %s", say, figures, d.centimetres(o.N)),
				o.N == now})
		}
		return list
	}
	return nil
}

// wishView is what comes near a size that is wished for.
type wishView struct {
	Wide, Tall string // as typed, cm
	Widths     []widthOffer
	Heights    []rowsOffer
	Says       string // why there is nothing
	Inch       bool   // sizes are typed and told in inches
}

// rowsOffer is a number of rows of a section; Path is where that is written.
type rowsOffer struct {
	Path edit.Path
	N    int
	Text string
	Mine bool
}

// wish offers stitches and rows for the size that is asked for in centimetres.
func (d *opened) wish(wide, tall string, in units, pace float64) (v wishView, err error) {
	v = wishView{Wide: wide, Tall: tall, Inch: bool(in)}
	pl := d.result.Plan
	read := func(typed string) float64 {
		if typed == "" || err != nil {
			return 0
		}
		n, bad := strconv.ParseFloat(strings.Replace(typed, ",", ".", 1), 64)
		if bad != nil || !(n > 0) || n > 1000 {
			err = inputError{fmt.Errorf("%q: a size in %s, above 0 and up to 1000", typed, in.word())}
		}
		return n * in.mm()
	}
	w, h := read(wide), read(tall)
	if err != nil || w == 0 && h == 0 {
		return v, err
	}
	off := func(mm float64) string {
		if mm = math.Round(mm); mm == 0 {
			return "as asked"
		}
		return fmt.Sprintf("%s %s", in.off(math.Abs(mm)), map[bool]string{true: "more", false: "less"}[mm > 0])
	}
	if w > 0 {
		for _, o := range measure.Widths(pl, w) {
			say := "whole"
			if o.More > 0 {
				say = "alike edges, or for a seam"
			}
			figures := words.Count(o.Repeats, "repeat", "repeats") + plus(o.More)
			if o.Seam > 0 {
				figures += ", and two seam stitches"
			}
			v.Widths = append(v.Widths, widthOffer{o.N, o.Column, fmt.Sprintf("%s (%s), %s, %s", say, figures,
				in.size(o.MM), off(o.Off)),
				o.N == d.piece.Work().Len()})
		}
	}
	if h > 0 {
		for _, o := range measure.Heights(pl, h) {
			v.Heights = append(v.Heights, rowsOffer{edit.Section(o.Section).To("rows"), o.Rows,
				fmt.Sprintf("rows (%s%s), %s, %s; %s", words.Count(o.Repeats, "repeat", "repeats"), plus(o.More),
					in.size(o.MM), off(o.Off),
					clock(float64(o.Passes)*pace)),
				o.Rows == d.piece.RowsOf(d.piece.Section(o.Section))})
		}
	}
	if len(v.Widths)+len(v.Heights) == 0 {
		v.Says = "No section has a single pattern to repeat, and none of this bed is that wide."
	}
	return v, nil
}

func plus(k int) string {
	if k == 0 {
		return ""
	}
	return fmt.Sprintf(" + %d", k)
}

// centre puts a number of stitches on the middle of the bed, and an area that lay on
// all the needles with them.
func (s *Server) centre(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		p := d.piece
		w := number(c.PostForm("width"), 0)
		if w < 1 || w > int(p.Machine.Bed) {
			s.fail(c, inputError{fmt.Errorf("%q: 1 to %d stitches", c.PostForm("width"), p.Machine.Bed)})
			return
		}
		s.change(c, d.stored.ID, edit.Edit{Kind: edit.Places, Label: fmt.Sprintf("%d stitches in the middle", w),
			Changes: edit.Centred(p, w, number(c.PostForm("column"), 0))})
	})
}
