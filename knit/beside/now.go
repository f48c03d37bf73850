package beside

import (
	"vindel/knit/pass"
	"vindel/knit/step"
)

// Reading is what the row counter shows before pass i (from 0), hands' work done. A pass is
// named by it everywhere: on the page beside the machine, on the rail, on the sheets.
func Reading(pl *pass.Plan, i int) int {
	before := pl.Passes[i].Before
	for j := len(before) - 1; j >= 0; j-- {
		if st, ok := before[j].Step.(step.Counter); ok {
			return st.To
		}
	}
	if i == 0 {
		return 0
	}
	return pl.Passes[i-1].Counter
}

// Repeat is which repeat of its section's pattern pass i works, from 1, and of how many; 0
// where there is none.
func Repeat(pl *pass.Plan, i int) (n, of int) {
	p := &pl.Passes[i]
	s := pl.Section(p.Section)
	if len(s.Section.Areas) == 0 || p.Row() == 0 {
		return 0, 0
	}
	shift := s.Section.Shift()
	return (p.Row()-1+shift)/s.Height + 1, (s.Rows-1+shift)/s.Height + 1
}

// RowsToRepeat is how many rows a section has if it ends with the repeat that pass i works,
// and if it has one repeat more than now.
func RowsToRepeat(pl *pass.Plan, i int) (stop, more int) {
	n, _ := Repeat(pl, i)
	s := pl.Section(pl.Passes[i].Section)
	return n*s.Height - s.Section.Shift(), s.Rows + s.Height
}

// Knitted is how many of the passes from index a up to, not including, b make fabric: those that are ravelled to go
// back to a.
func Knitted(pl *pass.Plan, a, b int) (n int) {
	for i := a; i < min(b, len(pl.Passes)); i++ {
		if pl.Passes[i].Course > 0 {
			n++
		}
	}
	return n
}

// Courses is how many rows of fabric there are when so many passes are made.
func Courses(pl *pass.Plan, done int) (n int) {
	for i := range min(done, len(pl.Passes)) {
		n = max(n, pl.Passes[i].Course)
	}
	return n
}
