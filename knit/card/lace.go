package card

import (
	"fmt"
	"strings"

	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
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
	yarn     piece.YarnNo // of the first row
	lever    string       // how the lace carriage is set at it, where that changes
}

// LaceRead is a line of a lace program: which carriage reads it, and how many rows are knitted after it, in which yarn.
type LaceRead struct {
	Carriage machine.Carriage
	Knit     int
	Yarn     piece.YarnNo // 0: none is knitted
	Dir      machine.Side // the way it goes as it reads the line
	Why      string       // what the line is for
}

// LaceReads are the lines of a lace section (from 1), line 1 first.
func LaceReads(pl *pass.Plan, section int) (list []LaceRead) {
	for _, l := range laceLines(pl, section) {
		list = append(list, LaceRead{l.carriage, l.knit, l.yarn, l.dir, l.lace.Why})
	}
	return list
}

// laceLines describes the lines of a lace section (from 0), line 1 first.
func laceLines(pl *pass.Plan, section int) []laceLine {
	list := make([]laceLine, pl.LinesOf(section))
	cycle := pl.Section(section).Cycle
	var now *laceLine
	fine := false
	for i := range pl.Passes {
		p := &pl.Passes[i]
		if p.Section != section || p.Row() > cycle {
			continue
		}
		if p.Lace.InProgram {
			line := &list[p.Line-1]
			*line = laceLine{carriage: p.Carriage, dir: p.Dir, lace: p.Lace}
			for j := range p.Before {
				st, ok := p.Before[j].Step.(step.Cams)
				if !ok || !st.Setting.Moves {
					continue
				}
				if st.Setting.Fine || fine { // open is how one begins
					line.lever = map[bool]string{true: "fine", false: "open"}[st.Setting.Fine]
				}
				fine = st.Setting.Fine
			}
			if line.own = p.Carriage != machine.LaceCarriage; !line.own || now == nil || !now.own {
				now = line
			}
		}
		if now == nil || p.Carriage == machine.LaceCarriage {
			continue
		}
		if now.knit++; now.knit == 1 {
			now.yarn = p.Yarn(1)
		}
		now.byPurl = p.Carriage == machine.PurlCarriage
		for j := range p.Before {
			if st, ok := p.Before[j].Step.(step.Thread); ok && !st.Over {
				now.yarns = append(now.yarns, "thread "+pl.Piece.YarnName(st.Yarn))
			}
		}
	}
	return list
}

// words is the line's memo: the carriage, and where to leave it and knit. A carriage that
// reads the lines of its rows itself has the memo on the first of them.
func (l *laceLine) words() string {
	out := []string{l.carriage.String()}
	if l.lever != "" {
		out = append(out, l.lever)
	}
	out = append(out, l.yarns...)
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
			if rows := c.sees(l+copied, up+1); len(rows) > 0 {
				c.Marks[rows[0]] = line.dir.Arrow() + " " + line.words()
			}
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
