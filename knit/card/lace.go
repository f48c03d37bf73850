package card

import (
	"fmt"
	"strings"

	"vindel/knit/machine"
	"vindel/knit/pass"
)

// laceLine is what a line of a lace card or program is for: which carriage reads it and
// which way, what it moves or why it is blank, and how many rows are knitted before the
// next line (rules 6, Punch card).
type laceLine struct {
	carriage machine.Carriage
	dir      machine.Side
	lace     pass.Lace
	knit     int  // rows to knit once the line is read
	byPurl   bool // by the purl carriage
	own      bool // a line that the carriage which knits reads itself; the first has the count
	yarns    []string
}

// laceLines describes the lines of a lace section (from 0), line 1 first.
func laceLines(pl *pass.Plan, section int) []laceLine {
	list := make([]laceLine, pl.LinesOf(section))
	cycle := pl.Section(section).Cycle
	var now *laceLine
	for i := range pl.Passes {
		p := &pl.Passes[i]
		if p.Section != section || p.Row() > cycle {
			continue
		}
		if p.Lace.InProgram {
			line := &list[p.Line-1]
			*line = laceLine{carriage: p.Carriage, dir: p.Dir, lace: p.Lace}
			if line.own = p.Carriage != machine.LaceCarriage; !line.own || now == nil || !now.own {
				now = line
			}
		}
		if now == nil || p.Carriage == machine.LaceCarriage {
			continue
		}
		now.knit++
		now.byPurl = p.Carriage == machine.PurlCarriage
		for j := range p.Before {
			if st := &p.Before[j]; st.Do == pass.Thread {
				now.yarns = append(now.yarns, "thread "+pl.Piece.YarnName(st.Yarn))
			}
		}
	}
	return list
}

// words is the line's memo: the carriage, and where to leave it and knit. A carriage that
// reads the lines of its rows itself has the memo on the first of them.
func (l *laceLine) words() string {
	out := append([]string{l.carriage.String()}, l.yarns...)
	if l.knit > 0 {
		knit := fmt.Sprintf("knit %d", l.knit)
		if l.byPurl && !l.own {
			knit += " with the purl carriage"
		}
		if !l.own {
			knit = "then " + knit
		}
		out = append(out, knit)
	}
	return strings.Join(out, ", ")
}

// markLace notes, on every copy of the pattern, which carriage reads the line and which
// way, and where to leave the lace carriage and knit.
func (c *Card) markLace(pl *pass.Plan, up int) {
	for l, line := range laceLines(pl, c.Section) {
		for copied := 0; copied < c.Rows; copied += c.Lines {
			c.Marks[(l+1+copied+up)%c.Rows] = line.dir.Arrow() + " " + line.words()
		}
	}
}

// School is how the lines of a lace card are read, in words: cut for one school it is
// wrong on the other.
func School(m *machine.Profile) string {
	if m.Lace == "combined" {
		return "for a lace carriage that selects and transfers in one pass"
	}
	return "for a lace carriage that transfers what it selected on the pass before"
}
