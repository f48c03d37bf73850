package measure

import (
	"errors"
	"math"
	"slices"

	"vindel/knit/bed"
	"vindel/knit/pass"
	"vindel/knit/technique"
)

// Wide is a number of stitches near a width that is wished for, and what it measures: Off is how much more than asked.
type Wide struct {
	bed.Width
	MM, Off float64
}

// Tall is a number of rows for a section (from 1) with which the piece comes near a height that is wished for: so many
// repeats and rows more; the height of the whole piece, and how much more than asked that is.
type Tall struct {
	Section, Rows, Repeats, More int
	MM, Off                      float64
	Passes                       int // of the whole piece, as many a row as the section takes now
}

// Patterned is the section (from 1) that a wish is for: of those with one area the one with the most rows; 0: there
// is none.
func Patterned(pl *pass.Plan) (section int) {
	most := 0
	for i := range pl.Piece.Sections {
		s := &pl.Piece.Sections[i]
		if n := pl.Piece.RowsOf(s); len(s.Areas) == 1 && n > most && i < len(pl.Placed) {
			section, most = i+1, n
		}
	}
	return section
}

// Widths offers stitches for a width of mm millimetres, as bed.Widths does near a number of stitches; nil without a
// patterned section.
func Widths(pl *pass.Plan, mm float64) (list []Wide) {
	no := Patterned(pl)
	if no == 0 {
		return nil
	}
	stitch, _, _ := StitchMM(pl.Piece, pl.Piece.Section(no))
	for _, o := range pl.Section(no).Widths(pl.Piece, 1, int(math.Round(mm/stitch))) {
		w := float64(o.N) * stitch
		list = append(list, Wide{o, w, w - mm})
	}
	return list
}

// Heights offers rows of the patterned section for a piece of mm millimetres, all other sections staying as they are:
// the nearest whole repeats below and above, and the nearest rows, with the nearest first.
func Heights(pl *pass.Plan, mm float64) (list []Tall) {
	no := Patterned(pl)
	if no == 0 {
		return nil
	}
	s := pl.Section(no)
	_, row, _ := StitchMM(pl.Piece, s.Section)
	row *= float64(technique.Of(s.Section).CoursesOf(&pl.Piece.Machine, s.Section))
	others := Of(pl).HeightMM - float64(pl.Piece.RowsOf(s.Section))*row
	now, passes := pl.Piece.RowsOf(s.Section), 0
	for i := range pl.Passes {
		if p := &pl.Passes[i]; p.Section == no && p.Row() > 0 {
			passes++
		}
	}
	want := max(0, int(math.Round((mm-others)/row)))
	for _, n := range []int{want, want / s.Height * s.Height, (want/s.Height + 1) * s.Height} {
		if n < 1 || slices.ContainsFunc(list, func(t Tall) bool { return t.Rows == n }) {
			continue
		}
		tall := others + float64(n)*row
		list = append(list, Tall{no, n, n / s.Height, n % s.Height, tall, tall - mm,
			pl.Totals.Passes + int(math.Round(float64((n-now)*passes)/float64(now)))})
	}
	slices.SortStableFunc(list, func(a, b Tall) int { return int(math.Abs(a.Off)*1000) - int(math.Abs(b.Off)*1000) })
	return list
}

// RowsLeft is how many rows more a yarn reaches for, of which so many grams were weighed before and so many after some
// rows were knitted; reserve is kept for finishing. It errs where the weights tell nothing.
func RowsLeft(rows int, before, after, reserve float64) (int, error) {
	switch used := before - after; {
	case rows < 1:
		return 0, errors.New("no row is knitted between the two weights")
	case !(used > 0) || after < 0 || reserve < 0:
		return 0, errors.New("the yarn weighs less after the rows than before them")
	default:
		return max(0, int(math.Floor((after-reserve)*float64(rows)/used+1e-9))), nil
	}
}
