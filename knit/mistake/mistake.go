// Package mistake plays what hands get wrong at the machine through the simulated bed, and tells from
// what looks otherwise in the fabric which mistake it was. It imports the core, and nothing of pages.
//
//	mistake.go  the mistakes, where each can be made, and what is said of them
//	play.go     a plan as it comes off the machine when one is made
//	look.go     what can be seen of a fabric, and how two of them differ
//	find.go     marks on the fabric in her hands, and the mistakes that fit them
package mistake

import (
	"fmt"
	"slices"
	"strings"

	"vindel/knit/beside"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/step"
	"vindel/knit/words"
)

// Kind is something that hands get wrong.
type Kind string

// The kinds, the commonest first: of two that fit as well the first is named first.
const (
	Needle     Kind = "needle"         // a needle that stood forward is pushed back
	More       Kind = "pass-more"      // a pass is made twice
	Less       Kind = "pass-less"      // a pass is left out
	CardOff    Kind = "card-off"       // the card or program stands a line further on, or back
	Lever      Kind = "lever"          // a lever is not turned when it should be
	Yarns      Kind = "yarns"          // two yarns change places
	EndNeedle  Kind = "end-needle"     // an end needle is not brought forward
	Selecting  Kind = "selecting-pass" // the pass that only selects is left out
	CardBack   Kind = "card-backwards" // the card lies the wrong way round
	Carriage   Kind = "carriage"       // another carriage goes than should
	DropMissed Kind = "drop"           // stitches that are to be let go are kept
	RackMissed Kind = "rack"           // the second bed is not moved
)

// Kinds lists them in that order.
var Kinds = []Kind{Needle, More, Less, CardOff, Lever, Yarns, EndNeedle, Selecting, CardBack, Carriage, DropMissed,
	RackMissed}

// Mistake is one of them at a place. Pass is the index of the pass at which it is made; Step, of those
// about a step, the index among what hands do before it. Needle is the one that is pushed back. By is,
// of a card, the lines that it is off (±1), or how it lies: 1 back to front, 2 upside down.
type Mistake struct {
	Kind   Kind
	Pass   int
	Step   int
	Needle machine.Needle
	By     int
}

// All lists every mistake that can be made at the passes from index a up to, not including, b.
func All(pl *pass.Plan, a, b int) (list []Mistake) {
	others := carriages(pl)
	for i := max(a, 0); i < min(b, len(pl.Passes)); i++ {
		p := &pl.Passes[i]
		for k := range p.Before {
			list = append(list, atStep(pl, i, k)...)
		}
		switch {
		case p.Carriage == machine.SecondCarriage && p.Yarn(1) == 0:
			list = append(list, Mistake{Kind: DropMissed, Pass: i, Step: -1})
			continue
		case selects(p):
			list = append(list, Mistake{Kind: Selecting, Pass: i, Step: -1})
		case !p.Free || p.Line > 0:
			list = append(list, Mistake{Kind: Less, Pass: i, Step: -1})
		}
		list = append(list, Mistake{Kind: More, Pass: i, Step: -1})
		if p.Line > 0 && reads(pl, p) {
			for _, by := range []int{1, -1} {
				if n := pl.LinesOf(programOf(pl, i)); n > 1 {
					list = append(list, Mistake{Kind: CardOff, Pass: i, Step: -1, By: by})
				}
			}
		}
		if len(others) > 1 && p.Section > 0 && p.Recipe == 0 {
			list = append(list, Mistake{Kind: Carriage, Pass: i, Step: -1})
		}
		half := p.Main()
		ends := byPolicy(p)
		for n := range half.Select.And(half.AtWork).All() {
			kind := Needle
			if ends.Has(n) {
				kind = EndNeedle
			}
			list = append(list, Mistake{Kind: kind, Pass: i, Step: -1, Needle: n})
		}
	}
	return list
}

// atStep is the mistakes that can be made at a step before a pass.
func atStep(pl *pass.Plan, i, k int) (list []Mistake) {
	p := &pl.Passes[i]
	st := &p.Before[k]
	at := func(kind Kind, by int) { list = append(list, Mistake{Kind: kind, Pass: i, Step: k, By: by}) }
	switch st.Slip() {
	case step.LeverLeft:
		_, ok := settingBefore(pl, i, st.Bed())
		if step.Is[step.Switch](st.Step) || ok {
			at(Lever, 0)
		}
	case step.CardAmiss:
		if section := st.Step.(step.SetCard).Section; section > 0 && pl.LinesOf(section) > 0 {
			at(CardBack, 1)
			if pl.Piece.Machine.HasCard() {
				at(CardBack, 2)
			}
		}
	case step.YarnsExchanged:
		if len(pl.Piece.Yarns) > 1 && pass.Find[step.Thread](p.Before) == k {
			if _, _, ok := exchanged(pl, i); ok {
				at(Yarns, 0)
			}
		}
	case step.DropMissed:
		at(DropMissed, 0)
	case step.RackLeft:
		if i > 0 {
			at(RackMissed, 0)
		}
	}
	return list
}

// selects says that a pass works no row and is there for what it selects.
func selects(p *pass.Pass) bool {
	return len(p.Works) == 0 && p.Section > 0 && (p.Line > 0 || !p.Main().Sets.Empty()) && !p.Main().Setting.Moves
}

// reads says that the carriage of a pass takes a line as it goes.
func reads(pl *pass.Plan, p *pass.Pass) bool { return p.Line > 0 && pl.Piece.Machine.Selects() }

// programOf is the section (from 1) whose program a pass (index) reads: of machines that select a row ahead,
// the next one's.
func programOf(pl *pass.Plan, i int) int {
	p := &pl.Passes[i]
	ahead := p.Carriage != machine.PurlCarriage || pl.Piece.Machine.PurlAhead
	if ahead && pl.Piece.Machine.School == machine.Preselect && i+1 < len(pl.Passes) && !p.Lace.InProgram {
		return pl.Passes[i+1].Section
	}
	return p.Section
}

// byPolicy is the end needles that stand forward in a pass though its line does not select them: a switch or
// the fingers bring them, so that the edge is knitted.
func byPolicy(p *pass.Pass) machine.Set {
	half := p.Main()
	work := half.AtWork.Minus(half.Hold)
	if !p.Patterned || work.Empty() || half.Setting.Moves {
		return machine.Set{}
	}
	return half.Select.Minus(half.Line).And(machine.SetOf(work.First(), work.Last()))
}

// carriages lists the carriages that work in the plan's sections.
func carriages(pl *pass.Plan) (list []machine.Carriage) {
	for i := range pl.Passes {
		if p := &pl.Passes[i]; p.Carriage != machine.SecondCarriage && !slices.Contains(list, p.Carriage) {
			list = append(list, p.Carriage)
		}
	}
	return list
}

// settingBefore is how a bed's carriage was set before pass i; false where it had not knitted yet.
func settingBefore(pl *pass.Plan, i int, bed machine.BedNo) (machine.Setting, bool) {
	for j := i - 1; j >= 0; j-- {
		if p := &pl.Passes[j]; p.Carriage == machine.KnitCarriage && (bed == machine.Main ||
			!p.Second().AtWork.Empty()) {
			s := p.Beds[bed].Setting
			return s, s.Key != "" && !s.Lays
		}
	}
	return machine.Setting{}, false
}

// Words is what the mistake is called.
func (k Kind) Words() string {
	return map[Kind]string{Needle: "A needle was pushed back", More: "A pass too many", Less: "A pass was left out",
		CardOff: "The card or program was a line off", Lever: "A lever was not turned",
		Yarns:     "Two yarns were exchanged",
		EndNeedle: "An end needle was not brought forward", Selecting: "The selecting pass was forgotten",
		CardBack: "The card or drawing lay the wrong way round", Carriage: "Another carriage went",
		DropMissed: "Stitches were not let go", RackMissed: "The second bed was not moved"}[k]
}

// Say is the mistake at its place, in a knitter's words.
func (m Mistake) Say(pl *pass.Plan) string {
	p := &pl.Passes[m.Pass]
	at := fmt.Sprintf("pass %d", p.N)
	if p.Row() > 0 {
		at += fmt.Sprintf(" (row %d of %s)", p.Row(), pl.Title(p))
	}
	step := func() string {
		said := p.Before[m.Step].Say(pl.Piece)
		if i := strings.IndexAny(said, "(:"); i > 0 {
			said = strings.TrimSpace(said[:i])
		}
		return said
	}
	switch m.Kind {
	case Needle:
		return fmt.Sprintf("Needle %v was not forward in %s.", m.Needle, at)
	case EndNeedle:
		return fmt.Sprintf("The end needle %v was not brought forward for %s.", m.Needle, at)
	case More:
		return fmt.Sprintf("After %s the carriage went once more than planned.", at)
	case Less:
		return fmt.Sprintf("%s was left out: the carriage stayed where it stood.", words.Capital(at))
	case Selecting:
		return fmt.Sprintf("The selecting pass, pass %d, was left out: its row was knitted with nothing selected.", p.N)
	case CardOff:
		way := "further on"
		if m.By < 0 {
			way = "further back"
		}
		what := "program"
		if pl.Piece.Machine.HasCard() {
			what = "card"
		}
		return fmt.Sprintf("From %s on, the %s stood a line %s.", at, what, way)
	case CardBack:
		if m.By == 2 {
			return fmt.Sprintf("The card was put in upside down before pass %d.", p.N)
		}
		if pl.Piece.Machine.HasCard() {
			return fmt.Sprintf("The card was put in back to front before pass %d.", p.N)
		}
		return fmt.Sprintf("The drawing was keyed in, or switched, mirrored before pass %d.", p.N)
	case Carriage:
		return fmt.Sprintf("In %s another carriage went than the %v carriage.", at, p.Carriage)
	case Yarns:
		a, b, _ := exchanged(pl, m.Pass)
		return fmt.Sprintf("%s and %s were exchanged before %s.", words.Capital(pl.Piece.YarnName(a)),
			pl.Piece.YarnName(b), at)
	case Lever:
		return fmt.Sprintf("Before %s this was not done: “%s”.", at, step())
	case DropMissed:
		if m.Step < 0 {
			return fmt.Sprintf("The second bed's carriage did not go across, pass %d, so its stitches were kept.", p.N)
		}
		return fmt.Sprintf("Before %s this was not done: “%s”.", at, step())
	}
	return fmt.Sprintf("Before %s this was not done: “%s”.", at, step())
}

// Ravel is the pass (from 1) before which she must stand again, and how many knitted passes are to be
// ravelled to come there when `done` are knitted.
func (m Mistake) Ravel(pl *pass.Plan, done int) (to, passes int) {
	return m.Pass + 1, beside.Knitted(pl, m.Pass, done)
}

// GoOn is how she comes right again when `done` passes of the plan are knitted: how far to ravel, by hand what
// can be mended in place, how all must stand, and what to do otherwise this time.
func (m Mistake) GoOn(pl *pass.Plan, done int) (list []string) {
	to, passes := m.Ravel(pl, done)
	p := &pl.Passes[m.Pass]
	mended := false
	switch m.Kind {
	case Needle, EndNeedle:
		if !p.Main().Setting.Moves && p.Recipe == 0 {
			list = append(list, fmt.Sprintf("It is one stitch. Let the stitch of %v run down to the row of pass %d "+
				"and latch it up again as drawn; or leave it and embroider it when the piece is off the machine. "+
				"Nothing need be ravelled.", m.Needle, p.N))
			mended = true
		}
	case More:
		list = append(list, "If a row more does no harm here, only go on: the carriage stands on the other side now, "+
			"so a free pass (or, where every row takes two passes, one pass more) brings it back.")
	}
	begin := "Ravel back"
	if mended {
		begin = "Or ravel back"
	}
	switch line := beside.LastLifeline(pl, min(done, len(pl.Passes)-1)); {
	case passes == 0:
		list = append(list, fmt.Sprintf("Nothing is knitted over it yet: go back to pass %d.", to))
	case line > 0 && line <= to && done-line > 0:
		list = append(list, fmt.Sprintf("%s %s, to before pass %d, or to the lifeline before pass %d and knit "+
			"from there.", begin, words.Count(passes, "knitted pass", "knitted passes"), to, line))
	default:
		list = append(list, fmt.Sprintf("%s %s, to before pass %d: needle by needle, the loops back where "+
			"they hung.", begin, words.Count(passes, "knitted pass", "knitted passes"), to))
	}
	return list
}

// Mind is what to do otherwise this time.
func (m Mistake) Mind(pl *pass.Plan) string {
	p := &pl.Passes[m.Pass]
	switch m.Kind {
	case Needle, EndNeedle:
		return fmt.Sprintf("See that %v stands %s before pass %d.", m.Needle, pl.Piece.Machine.Word("forward"), p.N)
	case More, Less, Selecting:
		return fmt.Sprintf("Pass %d goes to the %v, once; tell it here as soon as it is made.", p.N, p.Dir)
	case CardOff, CardBack:
		if p.Window > 0 {
			return fmt.Sprintf("Look in the window before pass %d: it shows number %d.", p.N, p.Window)
		}
		return fmt.Sprintf("Look at the program before pass %d: it reads line %d.", p.N, p.Line)
	case Carriage:
		return fmt.Sprintf("Pass %d is the %v carriage's, to the %v.", p.N, p.Carriage, p.Dir)
	case Yarns:
		return "Look at the threads before you go on: " + yarnsOf(pl, m.Pass) + "."
	}
	if m.Step >= 0 {
		return p.Before[m.Step].Say(pl.Piece) + "."
	}
	return fmt.Sprintf("Pass %d is the second bed's carriage alone, without yarn.", p.N)
}

func yarnsOf(pl *pass.Plan, i int) string {
	p := &pl.Passes[i]
	var parts []string
	for f := range pl.Piece.Machine.Feeders {
		if y := p.Yarn(f + 1); y != 0 {
			parts = append(parts, fmt.Sprintf("%s in feeder %d", pl.Piece.YarnName(y), f+1))
		}
	}
	return strings.Join(parts, ", ")
}
