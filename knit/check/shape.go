package check

import (
	"fmt"

	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// turns notes stitches that go into hold without a wrap: each turn before them leaves a hole (rules 5.11, Holding).
func turns(pl *pass.Plan, f *fabric.Fabric) []finding.Finding {
	sh := pl.Piece.Shape
	if sh == nil {
		return nil
	}
	var needles machine.Set
	section, rows, n := 0, [2]int{}, 0
	told := map[*piece.ShapeStep]bool{}
	for i := range pl.Parts {
		for part := range pl.Parts[i] {
			s := pl.Parts[i][part]
			for r := 1; s != nil && r <= s.Rows; r++ {
				st := s.Stood(r)
				if st == nil {
					continue
				}
				for k := range st.Edges {
					if e := &st.Edges[k]; e.Step.Hold && !e.Step.Wrap && !told[e.Step] {
						told[e.Step] = true
						n++
						needles = needles.Or(e.Needles)
						if section == 0 {
							section, rows[0] = s.No, r
						}
						if s.No == section {
							rows[1] = r
						}
					}
				}
			}
		}
	}
	if n == 0 {
		return nil
	}
	knitted := map[machine.Needle]int{}
	for i := range f.Courses {
		for m := range f.Courses[i].Knitted.All() {
			knitted[m]++
		}
	}
	longest, shortest := 0, len(f.Courses)
	for _, k := range knitted {
		longest, shortest = max(longest, k), min(shortest, k)
	}
	out := finding.Finding{Code: finding.TurnHole, Severity: finding.Note, Section: section, Rows: rows,
		Needles: needles,
		Text: fmt.Sprintf("%s a hole beside the stitches that wait, since the yarn is not wrapped round the first of "+
			"them; the longest wale has %s, the shortest %d.",
			words.Count(n, "turn leaves", "turns leave each"), words.Count(longest, "row", "rows"), shortest),
		Fix: "Wrap the yarn round the first waiting needle at each turn"}
	if sh.Outline == nil {
		out.Mend = finding.Always(edit.Wrapped(pl.Piece))
	}
	return []finding.Finding{out}
}
