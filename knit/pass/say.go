package pass

import (
	"cmp"
	"fmt"
	"strings"

	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// Cautions (rules 8), shown at the step where they matter.
const (
	CareHooks = "Latch hooks and moving carriages pinch: keep fingers and hair clear. Never force a carriage; " +
		"check what caught, and the stitch size. Your machine's manual comes first."
	CareWeights = "Weights fall when the last stitches come off: take them off first, with a hand under them."
	CarePower   = "Switch the power off before a cable or a cartridge goes in or out; have mains faults seen to by a " +
		"qualified person."
)

// Say puts a step into words for the knitter, with the words of her machine.
func (st *Step) Say(p *piece.Piece) string {
	m := &p.Machine
	feeder := ""
	if m.Feeders > 1 && st.Feeder > 0 {
		feeder = m.Word(fmt.Sprintf("feeder%d", st.Feeder))
	}
	yarn, of := p.YarnName(st.Yarn), ""
	if st.Bed == machine.Second {
		of = " of the second bed"
	}
	switch st.Do {
	case Rack:
		said := fmt.Sprintf("Move the handle of the second bed to %d, one position at a time", st.Value)
		if st.Recipe > 0 {
			said += fmt.Sprintf("; %v pitch", st.Pitch)
		}
		return said
	case ToOut:
		return fmt.Sprintf("Put %s%s %s", st.chosen(), of, m.Word("out"))
	case Cross:
		return fmt.Sprintf("Cross %s with %s, from the left; those of the first lie in front", st.Needles.Words(),
			st.With.Words())
	case KnitByHand:
		var parts []string
		if !st.Needles.Empty() {
			parts = append(parts, "short on "+st.Needles.Words())
		}
		if !st.With.Empty() {
			parts = append(parts, "long on "+st.With.Words())
		}
		return fmt.Sprintf("Knit by hand with the end of %s, from the %v: %s", yarn, st.Side, strings.Join(parts, ", "))
	case Wrap:
		if st.Shape {
			return fmt.Sprintf("Lay %s once round %s, the first that waits, so that no hole opens", yarn,
				st.Needles.Words())
		}
		return fmt.Sprintf("Lay %s once round %s%s", yarn, st.chosen(), of)
	case Drop:
		return fmt.Sprintf("Let go what %s%s hold, on purpose", st.chosen(), of)
	case TakeOff:
		if st.Marked != nil {
			return fmt.Sprintf("Knit a few rows of waste yarn by hand on %s%s, %s, and take them off: they "+
				"wait on it", words.Stitches(st.Needles.Len()), of, st.Needles.Words())
		}
		return fmt.Sprintf("Take %s%s off the needles, open: %s", words.Stitches(st.Needles.Len()), of,
			st.Needles.Words())
	case Increase, Decrease:
		return st.edge(p)
	case Mark:
		return fmt.Sprintf("Mark the place, before row %d: %s, the carriage on the %v. The piece divides here, and "+
			"%s wait for the second part",
			st.Marked.Row, st.Marked.words(), st.Side, words.Stitches(st.Needles.Len()))
	case Return:
		return fmt.Sprintf("Go back to the mark for the second part, before row %d: %s, the carriage to the %v",
			st.Marked.Row,
			st.Marked.words(), st.Side)
	case Lower:
		return fmt.Sprintf("Lower the %v bed", st.Bed)
	case Raise:
		return fmt.Sprintf("Raise the %v bed", st.Bed)
	case CastOn:
		if st.Way != "" {
			how := map[string]string{"comb": "with the comb",
				"latch": "with the latch tool, as a chain over the needles"}[st.Way]
			return fmt.Sprintf("Cast on %s%s %s, in %s: %s", words.Stitches(st.Needles.Len()), of,
				cmp.Or(how, "by hand, round each needle"),
				yarn, st.chosen())
		}
		if st.Shape {
			return fmt.Sprintf("Cast on %s%s by hand at the edge, in %s: %s", words.Stitches(st.Needles.Len()), of,
				yarn, st.Needles.Words())
		}
		if st.Bed == machine.Second {
			return fmt.Sprintf("Cast on %s of the second bed, by turns with the main bed's, %v, in %s",
				words.Stitches(st.Needles.Len()), st.Needles, yarn)
		}
		return fmt.Sprintf("Cast on %s, %v, in %s; hang the comb and weights", words.Stitches(st.Needles.Len()),
			st.Needles, yarn)
	case BringForward:
		return fmt.Sprintf("Bring %s %s: %s", words.Count(st.Needles.Len(), "needle", "needles"), m.Word("forward"),
			st.Needles.Words())
	case ToHold:
		if st.Marked != nil {
			return fmt.Sprintf("Put %s%s %s: they wait for the second part", st.Needles.Words(), of, m.Word("hold"))
		}
		return fmt.Sprintf("Put %s%s %s", st.chosen(), of, m.Word("hold"))
	case ToWork:
		switch {
		case st.Marked != nil && st.Off:
			return fmt.Sprintf("Hang %s%s again from the waste yarn, on %s, and pull it out",
				words.Stitches(st.Needles.Len()), of, st.Needles.Words())
		case st.Marked != nil:
			return fmt.Sprintf("Bring back what waits%s, %s: %s", of, st.Needles.Words(), m.Word("work"))
		case st.Shape:
			return fmt.Sprintf("Bring back what waits in hold%s, %s: %s", of, st.Needles.Words(), m.Word("work"))
		}
		return fmt.Sprintf("Put %s%s %s", st.chosen(), of, m.Word("work"))
	case Thread:
		if st.Bobbin != "" {
			return fmt.Sprintf("Put %s, which was bobbin %s, back in %s", yarn, st.Bobbin, cmp.Or(feeder, "the feeder"))
		}
		if feeder == "" {
			return fmt.Sprintf("Thread %s", yarn)
		}
		return fmt.Sprintf("Thread %s in %s", yarn, feeder)
	case Unthread:
		if st.Bobbin != "" {
			return fmt.Sprintf("Take %s out of %s without cutting it: it is bobbin %s now", yarn,
				cmp.Or(feeder, "the feeder"), st.Bobbin)
		}
		return fmt.Sprintf("Take %s out of %s", yarn, feeder)
	case Cut:
		return fmt.Sprintf("Cut %s, which hangs on the %v, and bring its end here", yarn, st.Side)
	case Park:
		return fmt.Sprintf("Take %s out and leave it hanging on the %v", yarn, st.Side)
	case SetCard:
		switch {
		case m.Program == machine.Electronic:
			return fmt.Sprintf("Set the program of section %d to line %d", st.Section, st.Value)
		case st.Section > 0:
			at := ""
			if m.LeadIn > 0 {
				at = fmt.Sprintf(" (%s past the click)", words.Count(m.LeadIn, "row", "rows"))
			}
			joined := ""
			if p.Section(st.Section).Joined {
				joined = ", joined round the reader,"
			}
			return fmt.Sprintf("Put in the card of section %d%s at line %d%s: number %d stands in the window",
				st.Section,
				joined, st.Value, at, st.Value)
		}
		return fmt.Sprintf("Set the card back to line %d", st.Value)
	case CardLock:
		return "Lock the card for this pass"
	case CardRelease:
		return "Release the card"
	case SetCams:
		key := st.Setting.Key
		switch {
		case st.Control != "":
			on := [...]string{"off", "on"}[st.Value]
			if st.Control == EndNeedles {
				on += " on both sides"
			}
			return fmt.Sprintf("Turn the %s %s", m.Word(string(st.Control)), on)
		case st.Setting.Of == machine.SecondCarriage:
			return fmt.Sprintf("Set the second bed: %s (%s)", m.Word(key), machine.Meaning(key))
		case st.Setting.Of != machine.KnitCarriage:
			return fmt.Sprintf("Set the %v carriage: %s (%s)", st.Setting.Of, m.Word(key), machine.Meaning(key))
		case key != "" && st.Side != 0:
			return fmt.Sprintf("Set the cams for the way %v: %s (%s)", st.Side, m.Word(key), machine.Meaning(key))
		case key != "":
			return fmt.Sprintf("Set the cams: %s (%s)", m.Word(key), machine.Meaning(key))
		}
		if st.Bed == machine.Second {
			return fmt.Sprintf("Second bed: %s %s", m.Word("size"), st.Size)
		}
		return fmt.Sprintf("%s %s", words.Capital(m.Word("size")), st.Size)
	case Weights:
		switch st.Value {
		case 1:
			return "Take the weights and the comb off"
		case 2:
			return "Hang the comb and the weights"
		}
		return "Move the weights up"
	case SetCounter:
		return fmt.Sprintf("Set the row counter to %d", st.Value)
	case Remove, Attach:
		if st.Part {
			return map[Do]string{Attach: "Attach ", Remove: "Remove "}[st.Do] + st.Text
		}
		return st.brought()
	case Transfer:
		if st.By > 1 || st.Recipe > 0 && !st.Across {
			return fmt.Sprintf("Move %s%s %s to the %v with the %d-prong tool: %s", words.Stitches(st.Needles.Len()),
				of,
				words.Count(max(st.By, 1), "needle", "needles"), st.Side, st.Tool, st.chosen())
		}
		if st.Across {
			return fmt.Sprintf("Move %s of the %v bed across to the other: %v", words.Stitches(st.Needles.Len()),
				st.Bed, st.Needles)
		}
		return fmt.Sprintf("Move %s one needle to the %v with the %d-prong tool: %v",
			words.Stitches(st.Needles.Len()), st.Side, st.Tool, st.Needles)
	case Lifeline:
		at := fmt.Sprintf("%d on the counter", st.Value)
		if st.Window > 0 {
			at += fmt.Sprintf(", card number %d", st.Window)
		}
		return fmt.Sprintf("Lay a lifeline through this plain row, and note it: %s, before pass %d", at, st.Pass)
	case Inspect:
		if st.Text != "" {
			return "Look: " + st.Text
		}
		said := "Look: "
		if !st.Needles.Empty() {
			said += fmt.Sprintf("empty %v", st.Needles)
		}
		if !st.Doubled.Empty() {
			said = strings.TrimSuffix(fmt.Sprintf("%s, doubled %v", said, st.Doubled), ", ")
			said = strings.Replace(said, "Look: , ", "Look: ", 1)
		}
		return said + ", the others one loop each"
	case Reform:
		return fmt.Sprintf("Reform %s as purl, with the latch tool: %v", words.Stitches(st.Needles.Len()), st.Needles)
	case BindOff:
		if st.Marked != nil {
			return fmt.Sprintf("Join a new end of %s on the right and bind off the %s in the middle%s: %s", yarn,
				words.Stitches(st.Needles.Len()), of, st.Needles.Words())
		}
		if st.Shape {
			return fmt.Sprintf("Bind off %s%s with the latch tool, in %s: %s", words.Stitches(st.Needles.Len()), of,
				yarn, st.Needles.Words())
		}
		if st.Recipe > 0 {
			return fmt.Sprintf("Bind off %s%s: %s", words.Stitches(st.Needles.Len()), of, st.Needles.Words())
		}
		if st.Bed == machine.Second {
			return fmt.Sprintf("Bind off %s of the second bed with them, in one chain over both beds",
				words.Stitches(st.Needles.Len()))
		}
		return fmt.Sprintf("Bind off %s", words.Stitches(st.Needles.Len()))
	}
	return st.Text
}

// words are a mark's counter and line.
func (m *Marked) words() string {
	said := fmt.Sprintf("counter %d", m.Counter)
	if m.Line > 0 {
		said += fmt.Sprintf(", line %d", m.Line)
	}
	return said
}

// edge is an edge that moves by one stitch, or both: "Bring L36 to work"; "Move the outer 2 of the right in by
// one: R35 goes out of work".
func (st *Step) edge(p *piece.Piece) string {
	of, m := "", &p.Machine
	if st.Bed == machine.Second {
		of = " of the second bed"
	}
	if st.Tool == 0 {
		if st.Do == Increase {
			return fmt.Sprintf("Bring %s%s into work, %s", st.Needles.Words(), of, m.Word("work"))
		}
		return fmt.Sprintf("Move the stitch of %s%s onto its neighbour, and put the needle %s", st.Needles.Words(),
			of, m.Word("out"))
	}
	side := "of each side"
	if st.Side != 0 {
		side = "of the " + st.Side.String()
	}
	if st.Do == Increase {
		return fmt.Sprintf("Move the outer %d %s%s out by one, onto %s, and fill the empty needle from the loop "+
			"below its neighbour",
			st.Tool, side, of, st.Needles.Words())
	}
	return fmt.Sprintf("Move the outer %d %s%s in by one, and put %s %s", st.Tool, side, of, st.Needles.Words(),
		m.Word("out"))
}

// chosen is the needles as a recipe says them, with their number and ends, or as a pattern.
func (st *Step) chosen() string {
	if st.Chosen == "" || st.Needles.Len() < 4 {
		return st.Needles.Words()
	}
	return fmt.Sprintf("%s, %v to %v: %s", st.Chosen, st.Needles.First(), st.Needles.Last(),
		words.Count(st.Needles.Len(), "needle", "needles"))
}

// brought is a carriage that goes off the bed, or comes on.
func (st *Step) brought() string {
	switch {
	case st.Do == Remove:
		return fmt.Sprintf("Park the %v carriage off the bed, on the %v", st.Carriage, st.Side)
	case st.Carriage != st.Other && st.Carriage != machine.LaceCarriage:
		return fmt.Sprintf("Bring the %v carriage on from the %v; the yarn goes with it", st.Carriage, st.Side)
	}
	return fmt.Sprintf("Bring the %v carriage on from the %v", st.Carriage, st.Side)
}

// SayLay is lay i (from 0) of the pass in words, with the way in which it is laid: "2 spruce B1,
// from beneath A2, R8 to L3"; a weft is "frost over the needles, R8 to L8".
func (p *Pass) SayLay(pc *piece.Piece, i int) string {
	l := &p.Lays[i]
	from, to := l.From, l.To
	if p.Dir == machine.Left {
		from, to = to, from
	}
	if !p.Main().Setting.Lays {
		return fmt.Sprintf("%s over the needles, %v to %v", pc.YarnName(l.Yarn), from, to)
	}
	beneath := ""
	if i > 0 && !l.First {
		beneath = fmt.Sprintf(", from beneath %s", p.Lays[i-1].Bobbin)
	}
	return fmt.Sprintf("%d %s %s%s, %v to %v", i+1, pc.YarnName(l.Yarn), l.Bobbin, beneath, from, to)
}

// Short is the step in a few words, for the rail; "" where the rail stays quiet.
func (st *Step) Short(p *piece.Piece) string {
	m := &p.Machine
	switch st.Do {
	case Care, BringForward:
		return ""
	case ToHold, ToOut, ToWork:
		if st.Recipe == 0 && st.Do == ToHold && !st.Shape && st.Marked == nil {
			return ""
		}
		return fmt.Sprintf("%d %s", st.Needles.Len(), map[Do]string{ToHold: "in hold", ToOut: "out",
			ToWork: "to work"}[st.Do])
	case Cross:
		return fmt.Sprintf("cross %d with %d", st.Needles.Len(), st.With.Len())
	case KnitByHand:
		return fmt.Sprintf("by hand in %s: %d", p.YarnName(st.Yarn), st.Needles.Or(st.With).Len())
	case Wrap:
		return fmt.Sprintf("wrap %d", st.Needles.Len())
	case Drop:
		return fmt.Sprintf("drop %d", st.Needles.Len())
	case TakeOff:
		return fmt.Sprintf("take off %d", st.Needles.Len())
	case Increase:
		return "widen: " + st.Needles.String()
	case Decrease:
		return "narrow: " + st.Needles.String()
	case Mark:
		return "mark, and leave one part"
	case Return:
		return "back to the mark"
	case BindOff:
		return fmt.Sprintf("bind off %d", st.Needles.Len())
	case Lower, Raise:
		return words.Small(st.Say(p))
	case CastOn:
		return fmt.Sprintf("cast on %d", st.Needles.Len())
	case Thread, Unthread:
		switch {
		case st.Bobbin == "":
			return words.Small(st.Say(p))
		case st.Do == Thread:
			return p.YarnName(st.Yarn) + " back in the feeder"
		}
		return p.YarnName(st.Yarn) + " out as bobbin " + st.Bobbin
	case Cut:
		return fmt.Sprintf("cut and join %s", p.YarnName(st.Yarn))
	case Park:
		return ""
	case SetCams:
		switch {
		case st.Control != "":
			return words.Small(m.Word(string(st.Control))) + [...]string{" off", " on"}[st.Value]
		case st.Bed == machine.Second && st.Setting.Key != "":
			return "second bed " + m.Word(st.Setting.Key)
		case st.Side != 0:
			return fmt.Sprintf("cams %s %s", st.Side.Arrow(), m.Word(st.Setting.Key))
		case st.Setting.Key != "":
			return "cams " + m.Word(st.Setting.Key)
		}
		if st.Bed == machine.Second {
			return "second bed size " + st.Size
		}
		return "size " + st.Size
	case Rack:
		return fmt.Sprintf("handle to %d", st.Value)
	case SetCard:
		if m.Program == machine.Electronic {
			return "program in"
		}
		if st.Section == 0 {
			return fmt.Sprintf("card back to line %d", st.Value)
		}
		return "card in"
	case CardLock:
		return "card locked"
	case CardRelease:
		return "card released"
	case Weights:
		return [...]string{"weights up", "weights off", "weights on"}[st.Value]
	case Transfer:
		if st.Across {
			return fmt.Sprintf("move %d across", st.Needles.Len())
		}
		return fmt.Sprintf("move %d %v", st.Needles.Len(), st.Side)
	case Lifeline:
		return "lifeline"
	case Inspect:
		return "look"
	case Reform:
		return fmt.Sprintf("reform %d as purl", st.Needles.Len())
	case Attach:
		if st.Part {
			return "attach a part"
		}
		return fmt.Sprintf("%v carriage on", st.Carriage)
	case Remove:
		if st.Part {
			return "remove a part"
		}
		return ""
	case SetCounter:
		return fmt.Sprintf("counter to %d", st.Value)
	case Note:
		if r := []rune(words.Small(st.Text)); len(r) > 40 {
			return strings.TrimSpace(string(r[:39])) + "…"
		}
		return words.Small(st.Text)
	}
	return st.Text
}
