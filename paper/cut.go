package paper

import (
	"fmt"
	"slices"

	"vindel/knit/fabric"
	"vindel/knit/machine"
)

// cutNeedles is how many needles of the main bed a cut shows at most.
const cutNeedles = 26

// CutSVG is a cut through two-bed fabric along one row of a section (both from 1): for each of its
// passes, from the bottom, which needles of the main bed (above) and of the second (below) took which
// yarn, and how the strand goes from one to the next. nil where the row has no pass on two beds.
func CutSVG(f *fabric.Fabric, section, row int) []byte {
	pl := f.Plan
	var passes []int
	for i := range pl.Passes {
		if p := &pl.Passes[i]; p.Section == section && p.Row() == row && !p.Second().AtWork.Empty() {
			passes = append(passes, i)
		}
	}
	if len(passes) == 0 || f.Behind == nil {
		return nil
	}
	const unit, high, left, gap = 9.0, 20.0, 26.0, 11.0
	work := pl.Passes[passes[0]].Main().AtWork
	first := work.First()
	if n := work.Last(); int(n-first)+1 > cutNeedles {
		first = max(first, -cutNeedles/2)
	}
	wide := min(int(work.Last()-first)+1, cutNeedles)
	w, h := left+unit*float64(wide)+12, high*float64(len(passes))+10
	s := newSVG(w, h)
	s.fill(new(path).rect(0, 0, w, h), page)
	cols := colours(pl.Piece)
	for k, i := range passes {
		p := &pl.Passes[i]
		lie := machine.Across{Shift: p.Shift, Pitch: p.Pitch}
		top := h - 8 - high*float64(k) - gap
		x := func(bed machine.BedNo, n machine.Needle) float64 {
			at := 2 * float64(n-first)
			if bed == machine.Second {
				at = float64(lie.Apart(n, first))
			}
			return left + unit*(at+1)/2
		}
		s.text(2, top+gap/2+1, 3.4, -1, false, soft, fmt.Sprintf("%d %s", p.N, p.Dir.Arrow()))
		for bed, set := range [2]machine.Set{p.Main().AtWork, p.Second().AtWork} {
			for n := range set.All() {
				if at := x(machine.BedNo(bed), n); at > left && at < w-12 {
					s.fill(new(path).circle(at, top+gap*float64(bed), 0.8), line)
				}
			}
		}
		for feeder := range f.Took[i] {
			type point struct{ x, y float64 }
			var way []point
			for bed, set := range [2]machine.Set{f.Took[i][feeder], f.Behind[i][feeder]} {
				for n := range set.All() {
					if at := x(machine.BedNo(bed), n); at > left && at < w-12 {
						way = append(way, point{at, top + gap*float64(bed)})
					}
				}
			}
			slices.SortFunc(way, func(a, b point) int {
				if a.x < b.x {
					return -1
				}
				return 1
			})
			strand, loops := new(path), new(path)
			for j, at := range way {
				y := at.y + 0.9*float64(feeder)
				if j == 0 {
					strand.move(at.x, y)
				} else {
					strand.line(at.x, y)
				}
				loops.circle(at.x, y, 1.7)
			}
			if len(way) > 0 {
				col := cols[p.Yarn(feeder+1)]
				s.stroke(strand, shade(col, 0.6), 1.3)
				s.stroke(strand, col, 0.9)
				s.stroke(loops, shade(col, 0.6), 1.3)
				s.stroke(loops, col, 0.9)
			}
		}
	}
	return s.bytes()
}
