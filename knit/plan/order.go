package plan

import (
	"cmp"
	"slices"

	"vindel/knit/machine"
	"vindel/knit/pass"
)

// order puts what hands do before each pass in an order in which it can be done.
func (k *planner) order() {
	for i := range k.Passes {
		p := &k.Passes[i]
		if p.Recipe > 0 {
			continue // as it is written
		}
		// A recipe's steps that no pass of its own has taken come first, as they are written; and where they end
		// the first part of a divided piece, what was due before them.
		if p.ID.Part == "" {
			slices.SortStableFunc(p.Before, func(a, b pass.Step) int { return min(b.Recipe, 1) - min(a.Recipe, 1) })
		}
		own := len(p.Before)
		for own > 0 && p.Before[own-1].Recipe == 0 {
			own--
		}
		first := p.N == 1 && own == 0
		slices.SortStableFunc(p.Before[own:], func(a, b pass.Step) int {
			return cmp.Compare(rank(first, &a),
				rank(first, &b))
		})
	}
}

// What is done before a pass, in order. At the start the stitches come on first, with their
// own yarn, size and plain cams; then the counter is set, and after that come card, switches,
// pattern cams and the second yarn (rules 5.12).
const (
	careful   = iota // of hooks and carriages
	firstYarn        // of the stitches that are cast on
	firstSize
	firstCams
	beds // how they stand to each other
	castOn
	fingers   // on the row below: reformed, moved, a lifeline
	comesOff  // the part of a divided piece that is finished, its weights first
	returning // to a mark, with what waited
	leaving   // a mark, and stitches that wait
	edges     // of the work, moved
	moving    // stitches of the row to come
	weights
	counter
	program // in, with what is said of it
	locked
	selecting
	ends
	carriages // off the bed, and on
	cams
	size
	yarnOut
	yarnIn
	castOnBehind // at an edge, bound off there, or on the second bed, later than the first pass
	needles
)

func rank(first bool, st *pass.Step) int {
	switch {
	case st.Shape && st.Value == pass.WithYarn:
		return castOnBehind
	case st.Shape && st.Value == pass.OfRowBelow:
		return fingers
	case st.Shape && st.Do == pass.Wrap:
		return fingers
	case st.Shape:
		return edges
	case st.Marked != nil:
		if st.Do == pass.Mark || st.Do == pass.ToHold || st.Do == pass.TakeOff {
			return leaving
		}
		return returning
	}
	switch st.Do {
	case pass.BindOff:
		return comesOff
	case pass.Transfer:
		if !st.Across {
			return moving
		}
	case pass.Care:
		switch st.Text {
		case pass.CarePower:
			return program
		case pass.CareWeights:
			return comesOff
		}
		return careful
	case pass.Rack:
		return beds
	case pass.CastOn:
		if st.Bed == machine.Second && !first {
			return castOnBehind
		}
		return castOn
	case pass.Thread:
		if first && st.Feeder == 1 {
			return firstYarn
		}
		return yarnIn
	case pass.Unthread, pass.Park, pass.Cut:
		return yarnOut
	case pass.SetCams:
		switch {
		case st.Control == pass.Selecting:
			return selecting
		case st.Control == pass.EndNeedles:
			return ends
		case st.Size != "" && first:
			return firstSize
		case st.Size != "":
			return size
		case first && (st.Setting.Key == machine.Plain.Key || st.Bed == machine.Second):
			return firstCams
		}
		return cams
	case pass.Weights:
		if st.Value == 1 {
			return comesOff
		}
		return weights
	case pass.SetCounter:
		return counter
	case pass.Note:
		if st.Bed == machine.Second {
			return beds
		}
		return program
	case pass.SetCard:
		return program
	case pass.CardLock, pass.CardRelease:
		return locked
	case pass.Remove, pass.Attach:
		return carriages
	case pass.BringForward, pass.ToHold, pass.ToWork:
		return needles
	}
	return fingers
}
