package plan

import (
	"vindel/knit/bed"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// technique turns the rows of a placed section into passes. Adding one is a file
// with such a value, its test, and a line in the table below (docs/techniques.md).
type technique struct {
	name string
	// patterned says that the needles of its rows are selected from the chart.
	patterned func(m *machine.Profile) bool
	// lacks says what the machine is missing, and which part of it; "" when it can.
	lacks func(m *machine.Profile) string
	// also says what the machine is missing for just this section; nil: nothing ever.
	also func(m *machine.Profile, s *piece.Section) string
	// need is the yarns of section row r (from 1), or the finding that stops the plan there.
	need func(p *piece.Piece, s *bed.Placed, r int) (Need, *finding.Finding)
	// may says what stands in the way of row r once the rows below it are planned; nil:
	// nothing ever does.
	may func(k *planner, s *bed.Placed, r int) *finding.Finding
	// lines numbers the program lines of a section whose passes begin at index from, where
	// they are not one a row, and says how many there are; nil: one a row.
	lines func(k *planner, from int, s *bed.Placed) int
	// row knits section row r with the yarns shared out: in feeder order, or in
	// knitting order where each takes a pass of its own.
	row func(k *planner, s *bed.Placed, r int, yarns [2]piece.YarnNo)
}

// techniques in the order of the rules.
var techniques = []*technique{&plain, &twoColour, &slip, &tuck, &lace, &weave, &intarsia, &texture}

func always(*machine.Profile) bool { return true }
func never(*machine.Profile) bool  { return false }

// oneYarn is the need of a row that the section's own yarn knits.
func oneYarn(_ *piece.Piece, s *bed.Placed, r int) (Need, *finding.Finding) {
	return Need{Yarns: [2]piece.YarnNo{s.Section.RowYarn(r), 0}}, nil
}

// lack is what the machine is missing to knit a section, "" when it can.
func (t *technique) lack(m *machine.Profile, s *piece.Section) string {
	lack := ""
	if t.lacks != nil {
		lack = t.lacks(m)
	}
	if lack == "" && t.also != nil {
		lack = t.also(m, s)
	}
	return lack
}

func find(name *piece.Technique) *technique {
	for _, t := range techniques {
		if t.name == name.Name {
			return t
		}
	}
	return nil
}

// Able lists the shipped machines that can knit a technique.
func Able(name string) (ids []string) {
	t := find(&piece.Technique{Name: name})
	for _, id := range machine.IDs() {
		if m, err := machine.Shipped(id); err == nil && t != nil && (t.lacks == nil || t.lacks(&m) == "") {
			ids = append(ids, id)
		}
	}
	return ids
}
