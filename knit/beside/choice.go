package beside

import (
	"fmt"
	"strings"

	"vindel/knit/bed"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
)

// Choice is what fingers or a comb choose for a pass within one repeat, from the left as it
// lies on the bed.
type Choice struct {
	Cells        []Cell
	Below, Above []piece.YarnNo // the rows under and over it, in small; nil where there is none
	Comb         bool           // the comb serves, across the bed
	Text         string         // "1 2 5 7, comb across; L21 in full hold"
	Stands       string         // where column 1 stands: "columns 1 to 8 stand on R1 to R8"
}

// Cell is one column of the repeat: its yarn in the row, and whether it is picked.
type Cell struct {
	Yarn   piece.YarnNo
	Picked bool
}

// widestChoice is the widest repeat that is drawn cell by cell.
const widestChoice = 24

// choice is what is chosen by hand for a pass; nil where nothing is, or where the row does
// not repeat.
func choice(pl *pass.Plan, p *pass.Pass) *Choice {
	m, s := &pl.Piece.Machine, pl.Section(p.Section)
	half := p.Main()
	if m.School != machine.ByHand || half.ByHand.Empty() || p.Row() == 0 || len(s.Section.Areas) != 1 ||
		half.Setting.Lays {
		return nil
	}
	a := &s.Section.Areas[0]
	first, k := StandsFrom(pl, s.No)
	if k > widestChoice {
		return nil
	}
	c := &Choice{Comb: len(p.Comb.Picks) > 0}
	picked := make([]bool, k)
	for n := range half.Select.Minus(p.Exempt).All() {
		picked[(int(n-first)%k+k)%k] = true
	}
	if !c.Comb { // every repeat of the row must want the same
		for n := range half.AtWork.Minus(p.Exempt).And(machine.Range(a.From, a.To)).All() {
			if picked[(int(n-first)%k+k)%k] != half.Select.Has(n) {
				return nil
			}
		}
	}
	var numbers []string
	yarns := cellsOf(s, p.Row(), first, k)
	for i, on := range picked {
		c.Cells = append(c.Cells, Cell{yarns[i], on})
		if on {
			numbers = append(numbers, fmt.Sprint(i+1))
		}
	}
	if p.Row() > 1 {
		c.Below = cellsOf(s, p.Row()-1, first, k)
	}
	if p.Row() < s.Rows {
		c.Above = cellsOf(s, p.Row()+1, first, k)
	}
	c.Text = strings.Join(numbers, " ")
	if c.Comb {
		c.Text += ", comb across"
	} else {
		c.Text += " of every " + fmt.Sprint(k)
	}
	for n := range half.AtWork.And(p.Exempt).All() { // the comb takes the seam needles too
		if on := picked[(int(n-first)%k+k)%k]; on && !half.Select.Has(n) && !half.Hold.Has(n) {
			c.Text += fmt.Sprintf("; %v back", n)
		}
	}
	if !half.Hold.Empty() {
		c.Text += fmt.Sprintf("; %s %s", half.Hold.Brief(), m.Word("hold"))
	}
	c.Stands = fmt.Sprintf("columns 1 to %d stand on %v to %v", k, first, first+machine.Needle(k-1))
	return c
}

// cellsOf is the yarns of k columns from needle first on in a section's row.
func cellsOf(s *bed.Placed, row int, first machine.Needle, k int) []piece.YarnNo {
	yarns, line := make([]piece.YarnNo, k), s.YarnRow(row)
	for i := range yarns {
		for x := int(first-s.From) + i; x < len(line); x += k {
			if x >= 0 {
				yarns[i] = line[x]
				break
			}
		}
	}
	return yarns
}
