package beside

import (
	"fmt"
	"slices"
	"strings"

	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
	"vindel/knit/words"
)

// Edge is an edge of the work that moves before a pass: its outermost needles from the outside in, as they
// stand before, and the stitches that the fingers move.
type Edge struct {
	Side    machine.Side
	Text    string // what to do there, with the side
	Does    string // without it
	Needles []EdgeNeedle
	Moves   [][2]int // from which to which of the needles, by index
	Fill    int      // which is filled from below its neighbour, by index; -1: none
}

// EdgeNeedle is one needle at a moving edge.
type EdgeNeedle struct {
	Label string
	State string       // stays, comes, goes, waits (in hold), wrapped
	Yarn  piece.YarnNo // that it shows; 0: it holds nothing yet
}

// edgeNeedles is how many needles of an edge are shown besides those that come or go.
const edgeNeedles = 5

// edges are the edges that move before a pass.
func edges(pl *pass.Plan, p *pass.Pass) (list []Edge) {
	after := p.Main().AtWork
	before := after
	var comes, goes, waits, back, wrapped machine.Set
	var moved []step.Edged
	for i := range p.Before {
		st := &p.Before[i]
		if st.Event() != step.OfEdge || st.Bed() != machine.Main {
			continue
		}
		on := st.Needles()
		switch st := st.Step.(type) {
		case step.Widen, step.CastOnEdge:
			before, comes = before.Minus(on), comes.Or(on)
			moved = append(moved, st.(step.Edged))
		case step.Narrow, step.BindOffEdge:
			before, goes = before.Or(on), goes.Or(on)
			moved = append(moved, st.(step.Edged))
		case step.HoldEdge:
			waits = waits.Or(on)
		case step.WorkEdge:
			back = back.Or(on)
		case step.WrapEdge:
			wrapped = wrapped.Or(on)
		}
	}
	if comes.Or(goes).Or(waits).Or(back).Or(wrapped).Empty() || before.Empty() {
		return nil
	}
	all := before.Or(after)
	middle := (all.First() + all.Last() + 1) / 2
	sides := [3]machine.Set{machine.Left: machine.Range(all.First(), middle-1), machine.Right: machine.Range(middle,
		all.Last())}
	for side := machine.Left; side <= machine.Right; side++ {
		on := sides[side]
		touched := comes.Or(goes).Or(waits).Or(back).Or(wrapped).And(on)
		if touched.Empty() {
			continue
		}
		e := Edge{Side: side, Fill: -1}
		var order []machine.Needle
		for n := range all.And(on).All() {
			order = append(order, n)
		}
		inmost := touched.Last()
		if side == machine.Right {
			slices.Reverse(order)
			inmost = touched.First()
		}
		at := map[machine.Needle]int{}
		beyond := 0
		for i, n := range order {
			if i > 0 && beyond >= edgeNeedles+maxTool(moved) || len(order) > 24 && i == 24 {
				break
			}
			if (side == machine.Left) == (n > inmost) && n != inmost {
				beyond++
			}
			v := EdgeNeedle{Label: n.String(), State: "stays"}
			switch {
			case goes.Has(n):
				v.State = "goes"
			case comes.Has(n):
				v.State = "comes"
			case wrapped.Has(n):
				v.State = "wrapped"
			case waits.Has(n) || p.Main().Hold.Has(n):
				v.State = "waits"
			}
			if v.State != "comes" {
				v.Yarn = shownBefore(pl, p, n)
			}
			at[n] = len(e.Needles)
			e.Needles = append(e.Needles, v)
		}
		for _, st := range moved {
			for _, m := range st.Moves(before.Minus(p.Main().Hold)) {
				from, okFrom := at[m.From]
				to, okTo := at[m.To]
				switch {
				case !okFrom || !okTo || !on.Has(m.To):
				case m.Fill:
					e.Fill = to
				default:
					e.Moves = append(e.Moves, [2]int{from, to})
				}
			}
		}
		e.Does = edgeWords(p, comes.And(on), goes.And(on), waits.And(on), back.And(on), wrapped.And(on))
		e.Text = words.Capital(side.String()) + ": " + e.Does
		list = append(list, e)
	}
	return list
}

func maxTool(steps []step.Edged) (n int) {
	for _, st := range steps {
		n = max(n, st.Edging().Tool)
	}
	return n
}

// shownBefore is the yarn that a needle shows before a pass, as the last pass that knitted it left it.
func shownBefore(pl *pass.Plan, p *pass.Pass, n machine.Needle) piece.YarnNo {
	for i := p.N - 2; i >= 0 && i > p.N-40; i-- {
		for g := range pl.Passes[i].Groups() {
			if g.Bed == machine.Main && g.Action.Knits() && g.Needles.Has(n) {
				return g.Yarn
			}
		}
	}
	return 1
}

func edgeWords(p *pass.Pass, comes, goes, waits, back, wrapped machine.Set) string {
	var parts []string
	tool := 0
	for i := range p.Before {
		if st, ok := p.Before[i].Step.(step.Edged); ok && st.Bed() == machine.Main &&
			!st.Needles().And(comes.Or(goes)).Empty() {
			tool = max(tool, st.Edging().Tool)
		}
	}
	if !wrapped.Empty() {
		parts = append(parts, "wrap "+wrapped.Words())
	}
	switch n := comes.Len(); {
	case n == 1 && tool > 0:
		parts = append(parts, fmt.Sprintf("move the outer %d out by one, onto %v", tool, comes))
	case n == 1:
		parts = append(parts, fmt.Sprintf("bring %v to work", comes))
	case n > 1:
		parts = append(parts, fmt.Sprintf("cast on %d: %s", n, comes.Words()))
	}
	switch n := goes.Len(); {
	case n == 1 && tool > 0:
		parts = append(parts, fmt.Sprintf("move the outer %d in by one; %v goes out", tool, goes))
	case n == 1:
		parts = append(parts, fmt.Sprintf("move %v onto its neighbour", goes))
	case n > 1:
		parts = append(parts, fmt.Sprintf("bind off %d: %s", n, goes.Words()))
	}
	if !waits.Empty() {
		parts = append(parts, "into hold: "+waits.Words())
	}
	if !back.Empty() {
		parts = append(parts, "back to work: "+back.Words())
	}
	return strings.Join(parts, "; ")
}

// ShapeRow is a row before which the shape changes: its number counted over all sections, the counter, what each
// edge does ("": nothing), what divides or goes back, and how many needles are in work from it on.
type ShapeRow struct {
	Pass, Row, Counter int
	Part               string
	Left, Right, Parts string
	Stitches           int
}

// ShapeRows lists the rows before which the shape changes, in the order in which they are knitted.
func ShapeRows(pl *pass.Plan) (list []ShapeRow) {
	if pl.Piece.Shape == nil {
		return nil
	}
	for i := range pl.Passes {
		p := &pl.Passes[i]
		r := ShapeRow{Pass: p.N, Part: p.ID.Part, Counter: Reading(pl, i),
			Stitches: p.Main().AtWork.Minus(p.Main().Hold).Len()}
		for j := range p.Before {
			switch st := p.Before[j].Step.(type) {
			case step.Mark:
				r.Parts = fmt.Sprintf("it divides: %s wait", words.Stitches(st.On.Len()))
			case step.Return:
				r.Parts = "back to where it divided"
			}
		}
		for _, e := range edges(pl, p) {
			if e.Side == machine.Left {
				r.Left = e.Does
			} else {
				r.Right = e.Does
			}
		}
		if r.Left == "" && r.Right == "" && r.Parts == "" || p.Section == 0 {
			continue
		}
		j := i // a pass on the way to the row works none
		for j+1 < len(pl.Passes) && pl.Passes[j].Row() == 0 && pl.Passes[j+1].Section > 0 {
			j++
		}
		r.Row = pl.Piece.FirstRow(pl.Passes[j].Section-1) + max(1, pl.Passes[j].Row()) - 1
		list = append(list, r)
	}
	return list
}

// Until is how many rows can be knitted from a pass on before anything happens, what the counter shows then, and
// what it is.
type Until struct {
	Rows, Reading int
	Text          string
}

func until(pl *pass.Plan, i, upTo int) (u Until) {
	for j := i; j < i+upTo && j < len(pl.Passes); j++ {
		if p := &pl.Passes[j]; !p.Free {
			u.Rows++
		}
	}
	if j := i + upTo; j < len(pl.Passes) {
		u.Reading, u.Text = Reading(pl, j), RowOf(pl, &pl.Passes[j]).Text
	} else if n := len(pl.Passes); n > 0 {
		u.Reading, u.Text = pl.Passes[n-1].Counter, "the last row is knitted"
	}
	return u
}

// String is the stretch in words, and what comes then: "in 6 rows: weights up".
func (u Until) String() string {
	switch {
	case u.Rows == 0:
		return ""
	case u.Text == "":
		return words.Count(u.Rows, "row", "rows") + " until anything"
	}
	return fmt.Sprintf("in %s: %s", words.Count(u.Rows, "row", "rows"), u.Text)
}

// Waiting says, while the first part of a divided piece is knitted, what waits and how; "" elsewhere.
func Waiting(pl *pass.Plan, i int) string {
	if pl.Passes[i].ID.Part != piece.FirstPart.String() {
		return ""
	}
	for j := i; j >= 0; j-- {
		for k := range pl.Passes[j].Before {
			if st, ok := pl.Passes[j].Before[k].Step.(step.Mark); ok {
				how := pl.Piece.Machine.Word("hold")
				if st.Off {
					how = "on waste yarn"
				}
				return fmt.Sprintf("first part; %s wait %s for the second: %s", words.Stitches(st.On.Len()),
					how, st.On.Words())
			}
		}
	}
	return ""
}

// BeginsAnew reports whether a pass is the first of a second part: before it so much is done by hand that it is
// ticked one by one, as before the first pass of all.
func BeginsAnew(p *pass.Pass) bool {
	return pass.Has[step.Return](p.Before)
}
