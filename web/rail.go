package web

import (
	"fmt"
	"slices"

	"vindel/knit/beside"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/technique"
	"vindel/knit/words"
)

// railRow is one pass as the desk's script draws it beside a chart row.
type railRow struct {
	Reading int      `json:"reading"` // of the counter before it
	Dir     string   `json:"dir"`
	Feeders []string `json:"feeders"`
	Knots   []bool   `json:"knots"` // a yarn is threaded before the pass
	Text    string   `json:"text"`

	// Passes of the lace carriage for one row are one line of the rail.
	Lace int `json:"lace,omitempty"`
}

func railRows(p *piece.Piece, rows []beside.Row) []railRow {
	list := make([]railRow, len(rows))
	for i, r := range rows {
		list[i] = railRow{Reading: r.Reading, Dir: r.Dir.String(), Knots: r.Knots, Text: r.Text, Lace: r.Lace}
		for _, y := range r.Feeders {
			list[i].Feeders = append(list[i].Feeders, p.YarnID(y))
		}
		if r.Lace > 0 {
			list[i].Text = laceWords(r)
		}
	}
	return list
}

// laceWords says what the lace carriage's passes for a row are, and what comes before them.
func laceWords(r beside.Row) string {
	text := "lace"
	switch {
	case r.First == 0:
	case r.First == r.Last:
		text += fmt.Sprintf(", lines %d", r.First)
	default:
		text += fmt.Sprintf(", lines %d–%d", r.First, r.Last)
	}
	if r.Text != "" {
		text += ", " + r.Text
	}
	return text
}

// mostRailLines is how many lines of the rail a row is made tall for at most.
const mostRailLines = 3

// railLines is how many lines of the rail a row of a section takes at most: its passes, those
// of the lace carriage as one.
func railLines(pl *pass.Plan, s *piece.Section) int {
	p := pl.Piece
	if s == nil {
		return 1
	}
	if count := technique.Of(s).Passes; count != nil { // one a colour, or two
		most := 1
		for _, placed := range pl.Placed {
			for r := 1; placed.Section == s && r <= placed.Cycle; r++ {
				most = max(most, count(placed, r))
			}
		}
		return min(most, mostRailLines) // more of them stand closer, so that the drawing keeps its room
	}
	lines := technique.Of(s).CoursesOf(&p.Machine, s)
	switch {
	case s.Lace() && p.Machine.Lace != "hand" && p.Machine.Lace != "":
		lines++
	case s.Technique.TwoPasses && p.Machine.Feeders == 1:
		lines *= 2
	}
	return lines
}

// rail puts the first round of a section's passes (section from 1) beside the chart rows they knit.
func (st *chartState) rail(pl *pass.Plan, section int, c *piece.Chart) {
	sec, placed := pl.Piece.Section(section), pl.Section(section)
	st.Section = fmt.Sprintf("section %d, %s, %s", section, sec.Technique.Name,
		words.Count(placed.Rows, "row", "rows"))
	a := &sec.Areas[slices.IndexFunc(sec.Areas, func(a piece.Area) bool { return a.Chart == c })]
	st.Needles, st.Repeats = beside.Columns(placed, a)
	rail := beside.RailOf(pl, section, a)
	st.Below = railRows(pl.Piece, rail.Below)
	for row, passes := range rail.Rows {
		st.Rail[row] = railRows(pl.Piece, passes)
	}
}
