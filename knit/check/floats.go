package check

import (
	"fmt"
	"strings"

	"vindel/knit/bed"
	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// floats reports the yarns that run too far behind the fabric (rules 5.1). One cause is told
// once: rows one on another in which a yarn floats over the same needles are one finding,
// and a row that comes again in a later repeat is not told again.
func floats(pl *pass.Plan, f *fabric.Fabric) (out []finding.Finding) {
	limit := pl.Piece.FloatLimit()
	if len(f.Floating) == 0 {
		return nil
	}
	type told struct {
		section, row int
		yarn         piece.YarnNo
	}
	seen := map[told]bool{}
	var list []*longFloats
	open := map[piece.YarnNo]*longFloats{} // by yarn: those that a next row may go on with
	for _, i := range f.Floating {
		p := &pl.Passes[i]
		long := f.LongFloats(i, limit)
		for len(long) > 0 {
			y, n := long[0].Yarn, 0
			for n < len(long) && long[n].Yarn == y {
				n++
			}
			row := max(p.Row(), 1) // a selecting pass stands before row 1
			if key := (told{p.Section, (row - 1) % pl.Section(p.Section).Cycle, y}); !seen[key] {
				seen[key] = true
				if open[y] == nil || !open[y].goesOn(p.Section, row, long[:n]) {
					open[y] = &longFloats{section: p.Section, rows: [2]int{row, row}, yarn: y}
					list = append(list, open[y])
				}
				open[y].add(row, long[:n], limit)
			}
			long = long[n:]
		}
	}
	for _, l := range list {
		out = append(out, l.finding(pl, limit))
	}
	return out
}

// longFloats are the long floats of a yarn over the same needles, in rows one on another.
type longFloats struct {
	section int
	rows    [2]int
	yarn    piece.YarnNo
	needles machine.Set // of all rows
	now     machine.Set // of the last
	worst   fabric.Float
	more    int        // long floats besides the worst, in its row
	inRow   int        // so far in the row at hand
	catch   []bed.Spot // where stitches of the yarn would break them
}

// goesOn says that floats of a row are the same cause.
func (l *longFloats) goesOn(section, row int, long []fabric.Float) bool {
	return l.section == section && row-l.rows[1] <= 1 && (row == l.rows[1] || !l.now.And(over(long)).Empty())
}

// over is the needles that floats run past.
func over(long []fabric.Float) (on machine.Set) {
	for _, f := range long {
		on = on.Or(machine.Range(f.First, f.Last))
	}
	return on
}

func (l *longFloats) add(row int, long []fabric.Float, limit int) {
	if row != l.rows[1] {
		l.now, l.inRow = machine.Set{}, 0
	}
	l.rows[1], l.now = row, l.now.Or(over(long))
	l.needles = l.needles.Or(l.now)
	l.inRow += len(long)
	for _, f := range long {
		if f.Stitches() > l.worst.Stitches() {
			l.worst = f
		}
		at := row
		if f.Below {
			at--
		}
		l.catch = append(l.catch, bed.Spot{Needles: catches(f, limit), Row: at})
	}
	l.more = max(l.more, l.inRow-1)
}

// finding is one finding for all of them.
func (l *longFloats) finding(pl *pass.Plan, limit int) finding.Finding {
	s, yarn := pl.Section(l.section), pl.Piece.YarnName(l.yarn)
	n, rows, most, turn := l.worst.Stitches(), fmt.Sprintf("Row %d", l.rows[0]), "", ""
	if l.rows[1] > l.rows[0] {
		rows, most = fmt.Sprintf("Rows %d to %d", l.rows[0], l.rows[1]), "up to "
	}
	if l.worst.Turn {
		turn = "over the turn, "
	}
	var text strings.Builder
	fmt.Fprintf(&text, "%s: %s floats %s%d stitches, %.0f mm, %sbehind %v to %v", rows, yarn, most, n,
		float64(n)*pl.Piece.ApartMM(), turn, l.worst.First, l.worst.Last)
	if l.more > 0 {
		fmt.Fprintf(&text, ", and over the limit in %d more %s", l.more, words.Plural(l.more, "place", "places"))
	}
	if s.Rows > s.Cycle {
		text.WriteString(", in each repeat")
	}
	fmt.Fprintf(&text, ". The limit is %d: it will snag.", limit)
	out := finding.Finding{Code: finding.FloatLong, Severity: finding.Warn, Section: l.section, Rows: l.rows,
		Needles: l.needles, Text: text.String()}
	var catch, all machine.Set
	var spots []bed.Spot
	for _, at := range l.catch { // only inside the areas, and in rows of the section
		all = all.Or(at.Needles)
		if at.Needles = at.Needles.And(s.Covered); at.Row > 0 && !at.Needles.Empty() {
			catch, spots = catch.Or(at.Needles), append(spots, at)
		}
	}
	switch {
	case len(spots) > 0:
		out.Fix = fmt.Sprintf("Catch %s at %v", yarn, firstFew(catch))
		out.Mend = func() []edit.Change { return s.Repaint(l.yarn, pl.Piece, spots...) }
	default:
		out.Fix = fmt.Sprintf("Let %s knit a stitch at %v", yarn, firstFew(all))
	}
	return out
}

// catches is where one stitch of the floating yarn would break a long float into stretches
// within the limit, evenly spaced.
func catches(f fabric.Float, limit int) (at machine.Set) {
	n := f.Stitches()
	breaks := n / (limit + 1)
	for b := 1; b <= breaks; b++ {
		at.Add(f.First + machine.Needle((n+1)*b/(breaks+1)-1))
	}
	return at
}

func firstFew(s machine.Set) string {
	var words []string
	for n := range s.All() {
		if len(words) == 4 {
			return strings.Join(words, ", ") + " and so on"
		}
		words = append(words, n.String())
	}
	return strings.Join(words, ", ")
}
