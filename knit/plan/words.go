package plan

import (
	"fmt"
	"strings"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Cautions (rules: Care), shown at the step where they matter.
const (
	careHooks   = "Latch hooks and moving carriages pinch: keep fingers and hair clear. Never force a carriage; check what caught, and the stitch size. Your machine's manual comes first."
	careWeights = "Weights fall when the last stitches come off: take them off first, with a hand under them."
	carePower   = "Switch the power off before a cable or a cartridge goes in or out; have mains faults seen to by a qualified person."
)

// Say puts a step into words for the knitter, with the words of her machine.
func (st *Step) Say(p *piece.Piece) string {
	m := &p.Machine
	feeder := ""
	if m.Feeders > 1 && st.Feeder > 0 {
		feeder = m.Word(fmt.Sprintf("feeder%d", st.Feeder))
	}
	yarn := p.YarnName(st.Yarn)
	switch st.Do {
	case CastOn:
		return fmt.Sprintf("Cast on %s, %v, in %s; hang the comb and weights", count(st.Needles.Len(), "stitch", "stitches"), st.Needles, yarn)
	case BringForward:
		return fmt.Sprintf("Bring %s %s: %v", count(st.Needles.Len(), "needle", "needles"), m.Word("forward"), st.Needles)
	case ToHold:
		return fmt.Sprintf("Put %v %s", st.Needles, m.Word("hold"))
	case ToWork:
		return fmt.Sprintf("Put %v %s", st.Needles, m.Word("work"))
	case Thread:
		if feeder == "" {
			return fmt.Sprintf("Thread %s", yarn)
		}
		return fmt.Sprintf("Thread %s in %s", yarn, feeder)
	case Unthread:
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
			return fmt.Sprintf("Put in the card of section %d, at line %d", st.Section, st.Value)
		}
		return fmt.Sprintf("Set the card back to line %d", st.Value)
	case CardLock:
		return "Lock the card for this pass"
	case CardRelease:
		return "Release the card"
	case SetCams:
		switch {
		case st.Cams == "end-needles":
			return fmt.Sprintf("Turn the %s %s on both sides", m.Word("end-needles"), [...]string{"off", "on"}[st.Value])
		case st.Cams == "transfer" || st.Cams == "fine":
			return fmt.Sprintf("Set the lace carriage: %s (%s)", m.Word(st.Cams), machine.Meaning(st.Cams))
		case st.Cams != "" && st.Way != 0:
			return fmt.Sprintf("Set the cams for the way %v: %s (%s)", st.Way, m.Word(st.Cams), machine.Meaning(st.Cams))
		case st.Cams != "":
			return fmt.Sprintf("Set the cams: %s (%s)", m.Word(st.Cams), machine.Meaning(st.Cams))
		}
		return fmt.Sprintf("%s %s", upperFirst(m.Word("size")), st.Size)
	case Weights:
		if st.Value > 0 {
			return "Take the weights and the comb off"
		}
		return "Move the weights up"
	case SetCounter:
		return fmt.Sprintf("Set the row counter to %d", st.Value)
	case Remove:
		return fmt.Sprintf("Park the %v carriage off the bed, on the %v", st.Carriage, st.Side)
	case Attach:
		if st.Carriage == machine.PurlCarriage || st.Other == machine.PurlCarriage {
			return fmt.Sprintf("Bring the %v carriage on from the %v; the yarn goes with it", st.Carriage, st.Side)
		}
		return fmt.Sprintf("Bring the %v carriage on from the %v", st.Carriage, st.Side)
	case Transfer:
		return fmt.Sprintf("Move %s one needle to the %v with the %d-prong tool: %v", count(st.Needles.Len(), "stitch", "stitches"), st.Dir, st.Tool, st.Needles)
	case Lifeline:
		return fmt.Sprintf("Lay a lifeline through this plain row, at %d on the counter", st.Value)
	case Reform:
		return fmt.Sprintf("Reform %s as purl, with the latch tool: %v", count(st.Needles.Len(), "stitch", "stitches"), st.Needles)
	case BindOff:
		return fmt.Sprintf("Bind off %s", count(st.Needles.Len(), "stitch", "stitches"))
	}
	return st.Text
}

// Short is the step in a few words, for the rail; "" where the rail stays quiet.
func (st *Step) Short(p *piece.Piece) string {
	m := &p.Machine
	switch st.Do {
	case Care, BringForward, ToHold:
		return ""
	case CastOn:
		return fmt.Sprintf("cast on %d", st.Needles.Len())
	case Thread, Unthread:
		return lowerFirst(st.Say(p))
	case Cut:
		return fmt.Sprintf("cut and join %s", p.YarnName(st.Yarn))
	case Park:
		return ""
	case SetCams:
		switch {
		case st.Cams == "end-needles":
			return lowerFirst(m.Word("end-needles")) + [...]string{" off", " on"}[st.Value]
		case st.Way != 0:
			return fmt.Sprintf("cams %s %s", arrow(st.Way), m.Word(st.Cams))
		case st.Cams != "":
			return "cams " + m.Word(st.Cams)
		}
		return "size " + st.Size
	case SetCard:
		if m.Program == machine.Electronic {
			return "program in"
		}
		return "card in"
	case CardLock:
		return "card locked"
	case CardRelease:
		return "card released"
	case Weights:
		return "weights up"
	case Transfer:
		return fmt.Sprintf("move %d %v", st.Needles.Len(), st.Dir)
	case Lifeline:
		return "lifeline"
	case Reform:
		return fmt.Sprintf("reform %d as purl", st.Needles.Len())
	case Attach:
		return fmt.Sprintf("%v carriage on", st.Carriage)
	case Remove:
		return ""
	case SetCounter:
		return "counter to 0"
	}
	return st.Text
}

func lowerFirst(s string) string {
	if s == "" {
		return s
	}
	return strings.ToLower(s[:1]) + s[1:]
}

// Hands says that the step wants the hands at the machine, not only the eye.
func (st *Step) Hands() bool { return st.Do != Care }

func count(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

func upperFirst(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}
