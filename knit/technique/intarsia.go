package technique

import (
	"fmt"
	"slices"
	"strings"

	"vindel/knit/bed"
	"vindel/knit/finding"
	"vindel/knit/loom"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
)

// Intarsia (rules 5.7). Every field of colour in a row has a bobbin of its own, laid by
// hand in the direction the carriage will go; the carriage feeds no yarn.
var Intarsia = Technique{
	Technique: piece.Technique{Name: "intarsia", Label: "intarsia", Drawn: piece.InYarns, Laid: true},
	Lacks: func(m *machine.Profile, _ *piece.Section) string {
		if !m.Intarsia {
			return "an intarsia setting, which knits yarns laid by hand"
		}
		return ""
	},
	Yarns: func(p *piece.Piece, s *bed.Placed, row int) (loom.Need, *finding.Finding) {
		n, fields := loom.Need{Idle: 1}, Fields(s, row)
		if row == s.FromRow && s.Starts { // the pass that brings the needles to the laying position, and the row
			n.Idle = 2
		}
		far := machine.Needle(p.StrandLimit()) + 1
		for _, f := range fields {
			n.Laid = append(n.Laid, f.Yarn)
			if f.From-fields[0].From <= far {
				n.Reach[0] = append(n.Reach[0], f.Yarn)
			}
			if fields[len(fields)-1].To-f.To <= far {
				n.Reach[1] = append(n.Reach[1], f.Yarn)
			}
		}
		return n, nil
	},
	Brings: true,
	Knit:   intarsiaRow,
	Asks:   asksStitches,
}

// Field is a stretch of one colour in a row.
type Field struct {
	Yarn     piece.YarnNo
	From, To machine.Needle
}

// Fields lists the fields of section row r over the needles at work, left to right. A needle
// out of work ends a field.
func Fields(s *bed.Placed, r int) (fields []Field) {
	row := s.YarnRow(r)
	for a, z := range s.InWork(r).Runs() {
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

// bobbins is what intarsia keeps from row to row: the fields of the row below, the bobbins
// in them by their place in the plan, and how many of each yarn there have been.
type bobbins struct {
	fields []Field
	inUse  []int
	laid   map[piece.YarnNo]int
}

func intarsiaRow(l *loom.Loom, w loom.Work) {
	st, pl := loom.State[bobbins](l), l.Plan
	fields := Fields(w.Placed, w.Row)
	cones := map[string]bool{}
	starts := w.Row == w.Placed.FromRow && w.Placed.Starts
	if starts {
		st.fields, st.inUse = nil, nil
		if st.laid == nil {
			st.laid = map[piece.YarnNo]int{}
		}
		for y, name := range st.fromFeeders(l, fields) {
			l.IsBobbin(y, name)
			cones[name] = true
		}
		bring := l.Extra(machine.LaidYarns, nil)
		bring.Free = true
		l.Go(bring)
	}
	from := Continue(st.fields, fields)
	here := l.Stands(machine.KnitCarriage)
	inUse, lays := make([]int, len(fields)), make([]pass.Lay, 0, len(fields))
	var begun []string
	var on machine.Set
	for j, f := range fields {
		if from[j] < 0 {
			st.laid[f.Yarn]++
			name := bobbinName(l, f.Yarn, st.laid[f.Yarn])
			pl.Bobbins = append(pl.Bobbins, pass.Bobbin{Name: name, Yarn: f.Yarn, Section: w.Placed.No, FirstRow: w.Row,
				Cone: cones[name]})
			inUse[j] = len(pl.Bobbins) - 1
			if !cones[name] {
				on = on.Or(machine.Range(f.From, f.To))
			}
		} else {
			inUse[j] = st.inUse[from[j]]
			reach(l, w, &pl.Bobbins[inUse[j]], f, here)
		}
		b := &pl.Bobbins[inUse[j]]
		b.LastRow, b.Left, b.Right = w.Row, f.From, f.To
		b.Stitches += w.InWork().And(machine.Range(f.From, f.To)).Len()
		lays = append(lays, pass.Lay{Bobbin: b.Name, Yarn: f.Yarn, First: from[j] < 0, From: f.From, To: f.To})
	}
	if here == machine.Right { // laid in the direction the carriage will go
		slices.Reverse(lays)
	}
	for _, lay := range lays {
		if lay.First && !cones[lay.Bobbin] {
			begun = append(begun, lay.Bobbin)
		}
	}
	st.fields, st.inUse = fields, inUse
	pl.Totals.BobbinsAtOnce = max(pl.Totals.BobbinsAtOnce, len(fields))
	l.NewCourse()
	p := l.New(w, machine.LaidYarns)
	p.Main().Yarns, p.Lays = nil, lays
	if len(begun) > 0 {
		p.Add(step.Note{At: step.Main(on), Side: here,
			Text: fmt.Sprintf("Anchor the end of %s on the %v", strings.Join(begun, " and "), here)})
	}
	switch {
	case starts:
		p.Add(step.Note{Text: "Lay the yarns in their order into the open hooks, and hold them down against the bed " +
			"with a light hand while the carriage passes"})
	case w.Row == w.Placed.FromRow+1 && w.Placed.Starts && len(lays) > 1:
		p.Add(step.Note{Text: "From here on pick up each yarn from beneath the one before. The twists of one row undo " +
			"themselves on the next: leave the bobbins as they hang"})
	}
	l.Go(p)
	l.Laid(w.Need)
	wind(l)
}

func bobbinName(l *loom.Loom, y piece.YarnNo, n int) string {
	return fmt.Sprintf("%s%d", l.Piece.YarnID(y), n)
}

// fromFeeders names the bobbins that the yarns in the feeders become, as the first row has
// fields of their colours: each the field that is nearest to where the yarn hangs (rules 5.7), if its strand
// reaches to where that is begun to be laid, from the other side.
func (st *bobbins) fromFeeders(l *loom.Loom, fields []Field) map[piece.YarnNo]string {
	names := map[piece.YarnNo]string{}
	right := l.Stands(machine.KnitCarriage) == machine.Right
	for _, y := range l.Threaded() {
		n := 0
		for _, f := range fields {
			if f.Yarn != y {
				continue
			}
			across := f.To - fields[0].From
			if right {
				across = fields[len(fields)-1].To - f.From
			}
			if n++; (names[y] == "" || right) && int(across)-1 <= l.Piece.StrandLimit() {
				names[y] = bobbinName(l, y, st.laid[y]+n)
			}
		}
	}
	return names
}

// reach reports a bobbin that hangs far from where its field wants it: it hangs at the end
// of its field where the last pass left it, and is wanted where this one begins.
func reach(l *loom.Loom, w loom.Work, b *pass.Bobbin, f Field, here machine.Side) {
	was, wanted := b.Left, f.From
	if here == machine.Right {
		was, wanted = b.Right, f.To
	}
	away := max(was-wanted, wanted-was)
	if away <= far {
		return
	}
	l.Plan.Report(finding.Finding{Code: finding.BobbinFar, Severity: finding.Warn, Section: w.Placed.No,
		Rows: [2]int{w.Row, w.Row}, Needles: machine.SetOf(was, wanted),
		Text: fmt.Sprintf("Row %d: bobbin %s hangs at %v and is next wanted at %v, %d needles away.", w.Row, b.Name,
			was, wanted, away),
		Fix: "Carry it across loosely under the needles between, or cut it and join a new one"})
}

// wind works out what to wind on the bobbins in use, by a rule of thumb: four needle
// pitches a stitch, a fifth over, and half a metre for the ends.
func wind(l *loom.Loom) {
	for _, i := range loom.State[bobbins](l).inUse {
		b := &l.Plan.Bobbins[i]
		b.Metres = float64(b.Stitches)*4*l.Machine.PitchMM*1.2/1000 + 0.5
	}
	l.Plan.Totals.Bobbins = len(l.Plan.Bobbins)
}
