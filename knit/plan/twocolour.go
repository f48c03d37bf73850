package plan

import (
	"fmt"
	"strings"

	"vindel/knit/bed"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Two-colour rows (rules: 5.1). With two feeders a row is one pass: feeder 1 knits
// the needles at rest, feeder 2 those forward. With one it is two (twopass.go).
var twoColour = technique{
	name:      "two-colour",
	patterned: always,
	lacks: func(m *machine.Profile) string {
		if m.Feeders < 2 && m.School != machine.ByHand {
			return "a second feeder (or needles selected by hand, for rows in two passes)"
		}
		return ""
	},
	need: twoColourNeed,
	row: func(k *planner, s *bed.Placed, r int, yarns [2]piece.YarnNo) {
		if k.m.Feeders == 1 {
			k.twoPassRow(r, yarns)
			return
		}
		p := Pass{Row: r, Feeders: yarns, Cams: machine.PlainCams, Select: k.now.shows(yarns[1]), Patterned: true, TwoYarns: true}
		k.endNeedles(s, &p, true, yarns[1] != 0)
		k.patternRow(p, "two-colour")
	},
}

// shows is the needles that show yarn y in a row of two; none where it takes one.
func (n *Need) shows(y piece.YarnNo) machine.Set {
	switch {
	case y == 0 || n.Yarns[1] == 0:
		return machine.Set{}
	case y == n.Yarns[0]:
		return n.Shows[0]
	}
	return n.Shows[1]
}

// followed is the needles whose colours a two-colour row is counted by: all in work,
// but for the two seam needles where rows take two passes.
func followed(p *piece.Piece) machine.Set {
	work := p.Work()
	if p.Machine.Feeders == 1 && work.Len() > 2 {
		work.Remove(work.First())
		work.Remove(work.Last())
	}
	return work
}

func twoColourNeed(p *piece.Piece, s *bed.Placed, r int) (Need, *finding.Finding) {
	var buf [4]bed.Colour
	colours := s.Colours(buf[:0], r, followed(p))
	switch len(colours) {
	case 1:
		return Need{Yarns: [2]piece.YarnNo{colours[0].Yarn, 0}}, nil
	case 2:
		a, b := colours[0].Yarn, colours[1].Yarn
		n := Need{Yarns: [2]piece.YarnNo{a, b}, Free: true, Shows: [2]machine.Set{colours[0].Needles, colours[1].Needles}}
		if b < a {
			n.Yarns, n.Shows = [2]piece.YarnNo{b, a}, [2]machine.Set{n.Shows[1], n.Shows[0]}
		}
		return n, nil
	}
	return Need{}, tooManyColours(p, s, r, colours)
}

// tooManyColours names the rarest colours of the row and where they stand, and
// offers to knit them in the commonest.
func tooManyColours(p *piece.Piece, s *bed.Placed, r int, colours []bed.Colour) *finding.Finding {
	var names []string
	most, second := 0, -1
	for i, c := range colours {
		names = append(names, p.YarnName(c.Yarn))
		if c.Needles.Len() > colours[most].Needles.Len() {
			most = i
		}
	}
	for i, c := range colours {
		if i != most && (second < 0 || c.Needles.Len() > colours[second].Needles.Len()) {
			second = i
		}
	}
	var extra machine.Set
	for i, c := range colours {
		if i != most && i != second {
			extra = extra.Or(c.Needles)
		}
	}
	var columns []string
	seen := map[string]bool{}
	for n := range extra.All() {
		if name, col, row := s.Source(n, r); name != "" {
			if at := fmt.Sprint(col); !seen[at] {
				seen[at] = true
				columns = append(columns, at)
			}
			_ = row
		}
	}
	where := ""
	if len(columns) > 0 {
		where = ", in column " + strings.Join(columns, ", ") + " of the chart"
	}
	f := &finding.Finding{Code: "colours-in-row", Severity: finding.Stop, Section: s.Index + 1, Rows: [2]int{r, r}, Needles: extra,
		Text: fmt.Sprintf("Row %d has %d colours (%s); a two-colour row takes two. The rarest stand at %v%s.", r, len(colours), strings.Join(names, ", "), extra, where),
		Fix:  fmt.Sprintf("Knit them in %s", p.YarnName(colours[most].Yarn))}
	paint := colours[most].Yarn
	f.Mend = func() []edit.Change { return s.Repaint(extra, r, paint, p) }
	return f
}
