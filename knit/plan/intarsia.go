package plan

import (
	"fmt"
	"strings"

	"vindel/knit/bed"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Intarsia (rules: 5.7). Every field of colour in a row has a bobbin of its own, laid by
// hand in the direction the carriage will go; the carriage feeds no yarn.
var intarsia = technique{
	name:      "intarsia",
	patterned: never,
	lacks: func(m *machine.Profile) string {
		if !m.Intarsia {
			return "an intarsia setting, which knits yarns laid by hand"
		}
		return ""
	},
	need: func(_ *piece.Piece, _ *bed.Placed, r int) (Need, *finding.Finding) {
		if r == 1 {
			return Need{Idle: 2}, nil // the pass that brings the needles to the laying position, and the row
		}
		return Need{Idle: 1}, nil
	},
	row: intarsiaRow,
}

var layCams = machine.Cams{Selected: machine.Lay, Unselected: machine.Lay, Held: machine.Hold}

// Bobbin is one length of yarn of an intarsia section: rows and stitches are what it
// knits, Metres what to wind, by a rule of thumb (four needle pitches a stitch, a
// fifth over, and half a metre for the ends). Each bobbin leaves two ends to darn.
type Bobbin struct {
	Name              string
	Yarn              piece.YarnNo
	Section           int // from 1
	FirstRow, LastRow int
	Stitches          int
	Metres            float64
	left              machine.Needle // of its field in the last row, and right
	right             machine.Needle
}

// Field is a stretch of one colour in a row.
type Field struct {
	Yarn     piece.YarnNo
	From, To machine.Needle
}

// Fields lists the fields of a row over the needles in work, left to right. A needle
// out of work ends a field.
func Fields(s *bed.Placed, r int, work machine.Set) (fields []Field) {
	row := s.YarnRow(r)
	for a, z := range work.Runs() {
		for n := a; n <= z; n++ {
			y := row[n-s.From]
			if last := len(fields) - 1; n > a && fields[last].Yarn == y {
				fields[last].To = n
			} else {
				fields = append(fields, Field{y, n, n})
			}
		}
	}
	return fields
}

// Continue pairs the fields of a row with those of the row below that they overlap in
// the same colour, one each: as many pairs as can be, then with the greatest overlap,
// then from the left. The result has, for each field of the row, the index of the one
// below, or -1. Since rows meet only their neighbours, the most pairs row by row are
// the fewest bobbins over the piece.
//
// Fields lie side by side, so the pairs that overlap, taken from the left, never
// cross; two of them are at odds only if they share a field, and those stand next to
// one another. So the best of the first k pairs is either the best without pair k, or
// pair k on top of the best of those that share nothing with it.
func Continue(below, row []Field) []int {
	type pair struct{ i, j, overlap, before int } // before: pairs wholly clear of this one
	type best struct{ count, overlap int }
	var pairs []pair
	for i, j := 0, 0; i < len(below) && j < len(row); {
		a, b := below[i], row[j]
		if over := int(min(a.To, b.To)-max(a.From, b.From)) + 1; over > 0 && a.Yarn == b.Yarn {
			p := pair{i, j, over, len(pairs)}
			for p.before > 0 && (pairs[p.before-1].i == i || pairs[p.before-1].j == j) {
				p.before--
			}
			pairs = append(pairs, p)
		}
		if a.To < b.To {
			i++
		} else {
			j++
		}
	}
	sum := make([]best, len(pairs)+1)
	take := make([]bool, len(pairs)+1)
	for k, p := range pairs {
		with := best{sum[p.before].count + 1, sum[p.before].overlap + p.overlap}
		sum[k+1] = sum[k]
		if with.count > sum[k].count || with.count == sum[k].count && with.overlap > sum[k].overlap {
			sum[k+1], take[k+1] = with, true
		}
	}
	from := make([]int, len(row))
	for j := range from {
		from[j] = -1
	}
	for k := len(pairs); k > 0; {
		if !take[k] {
			k--
			continue
		}
		p := pairs[k-1]
		from[p.j] = p.i
		k = p.before
	}
	return from
}

// far is the distance in needles over which a bobbin must be remembered.
const far = 3

func intarsiaRow(k *planner, s *bed.Placed, r int, _ [2]piece.YarnNo) {
	if r == 1 {
		k.pass(Pass{Cams: layCams, Free: true}, "lay")
		k.fields, k.inUse = nil, nil
		if k.laid == nil {
			k.laid = map[piece.YarnNo]int{}
		}
	}
	work := k.p.Work()
	fields := Fields(s, r, work)
	from := Continue(k.fields, fields)
	p := Pass{Row: r, Cams: layCams}
	dir := k.carriage.Other()
	inUse := make([]int, len(fields))
	var moved machine.Set
	for j, f := range fields {
		first := from[j] < 0
		if first {
			k.laid[f.Yarn]++
			k.plan.Bobbins = append(k.plan.Bobbins, Bobbin{Name: fmt.Sprintf("%s%d", k.p.YarnID(f.Yarn), k.laid[f.Yarn]), Yarn: f.Yarn, Section: s.Index + 1, FirstRow: r})
			inUse[j] = len(k.plan.Bobbins) - 1
		} else {
			inUse[j] = k.inUse[from[j]]
		}
		b := &k.plan.Bobbins[inUse[j]]
		if !first { // it hangs at the end where the last pass left it, and is wanted where this one begins
			was, wanted := b.left, f.From
			if dir == machine.Left {
				was, wanted = b.right, f.To
			}
			if was-wanted > far || wanted-was > far {
				moved = moved.Or(machine.Range(min(was, wanted), max(was, wanted)))
				k.bobbinFar(s, r, b.Name, was, wanted)
			}
		}
		b.LastRow, b.left, b.right = r, f.From, f.To
		b.Stitches += work.And(machine.Range(f.From, f.To)).Len()
		p.Lays = append(p.Lays, Lay{Bobbin: b.Name, Yarn: f.Yarn, First: first, From: f.From, To: f.To})
	}
	if dir == machine.Left { // laid in the direction the carriage will go
		for i, j := 0, len(p.Lays)-1; i < j; i, j = i+1, j-1 {
			p.Lays[i], p.Lays[j] = p.Lays[j], p.Lays[i]
		}
	}
	var begun []string
	var on machine.Set
	for _, l := range p.Lays {
		if l.First {
			begun, on = append(begun, l.Bobbin), on.Or(machine.Range(l.From, l.To))
		}
	}
	if len(begun) > 0 {
		p.Before = append(p.Before, Step{Do: Note, Side: k.carriage, Needles: on, Text: fmt.Sprintf("Anchor the end of %s on the %v", strings.Join(begun, ", "), k.carriage)})
	}
	k.fields, k.inUse = fields, inUse
	k.plan.Totals.BobbinsAtOnce = max(k.plan.Totals.BobbinsAtOnce, len(fields))
	k.course++
	k.pass(p, "lay")
}

func (k *planner) bobbinFar(s *bed.Placed, r int, name string, was, wanted machine.Needle) {
	k.plan.Findings = append(k.plan.Findings, finding.Finding{Code: "bobbin-far", Severity: finding.Warn, Section: s.Index + 1, Rows: [2]int{r, r}, Needles: machine.SetOf(was, wanted),
		Text: fmt.Sprintf("Row %d: bobbin %s hangs at %v and is next wanted at %v, %d needles away.", r, name, was, wanted, max(was-wanted, wanted-was)),
		Fix:  "Carry it across loosely under the needles between, or cut it and join a new one"})
}

// wind works out what to wind on each bobbin once all its rows are known.
func (k *planner) wind() {
	for i := range k.plan.Bobbins {
		b := &k.plan.Bobbins[i]
		b.Metres = float64(b.Stitches)*4*k.m.PitchMM*1.2/1000 + 0.5
	}
	k.plan.Totals.Bobbins = len(k.plan.Bobbins)
}
