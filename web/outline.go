package web

import (
	"fmt"
	"strings"

	"vindel/knit/outline"
	"vindel/knit/pass"
	"vindel/knit/piece"
)

// outlineView is a piece's outline, drawn in millimetres with the cast-on below: each part whole and as far as
// it is knitted, and the present row; W by H with a margin.
type outlineView struct {
	W, H  float64
	Parts []outlinePart
	Row   *outlineRow
}

type outlinePart struct{ Whole, Done string }

type outlineRow struct{ X, Y, W, H float64 }

// outlineMargin is the room round an outline, in hundredths of its larger side.
const outlineMargin = 4

// drawOutline draws the outline of a planned piece; at is the index of the pass that comes next, -1 where none
// is knitted: then all is drawn as to be knitted.
func drawOutline(o *outline.Outline, pl *pass.Plan, at int) *outlineView {
	w, h := o.Size()
	if len(o.Spans) == 0 || h == 0 {
		return nil
	}
	m := max(w, h) * outlineMargin / 100
	v := &outlineView{W: w + 2*m, H: h + 2*m}
	path := func(points [][2]float64) string {
		var b strings.Builder
		for i, p := range points {
			fmt.Fprintf(&b, "%s%.1f %.1f", map[bool]string{true: "M", false: "L"}[i == 0], p[0]+m, h-p[1]+m)
		}
		if b.Len() > 0 {
			b.WriteString("z")
		}
		return b.String()
	}
	row, part := rowAt(pl, at)
	for p := piece.Whole; p <= piece.SecondPart; p++ {
		if !o.Parts[p] {
			continue
		}
		one := outlinePart{Whole: path(o.Polygon(p, 0))}
		switch {
		case at < 0:
		case p < part || at >= len(pl.Passes):
			one.Done = one.Whole
		case p == part && row > 1:
			one.Done = path(o.Polygon(p, row-1))
		}
		v.Parts = append(v.Parts, one)
	}
	if s, ok := o.At(row, part); ok && at >= 0 {
		up, tall := o.Up[row], o.Up[row]-o.Up[row-1]
		v.Row = &outlineRow{m + float64(s.From-o.Low)*o.StitchMM, h - up + m, float64(s.To-s.From+1) * o.StitchMM,
			max(tall, max(w, h)/60)}
	}
	return v
}

// rowAt is the row of the piece, counted over all sections, that a pass works or comes before, and its part.
func rowAt(pl *pass.Plan, at int) (row int, part piece.Part) {
	if at < 0 || len(pl.Passes) == 0 {
		return 0, piece.Whole
	}
	for i := at; i < len(pl.Passes); i++ {
		if p := &pl.Passes[i]; p.Section > 0 && p.Row() > 0 {
			return pl.Piece.FirstRow(p.Section-1) + p.Row() - 1, piece.PartOf(p.ID.Part)
		}
	}
	return 0, piece.SecondPart
}
