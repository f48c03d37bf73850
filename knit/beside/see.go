package beside

import (
	"fmt"
	"slices"

	"vindel/knit/fabric"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/step"
	"vindel/knit/words"
)

// Word is a part of a sentence; strong parts are what a glance must confirm.
type Word struct {
	Text   string
	Strong bool
}

// brought is the needles that the reader has brought forward before pass i; put: fingers then put some of them back, or
// others beside them.
func brought(pl *pass.Plan, i int) (came machine.Set, put bool) {
	now := &pl.Passes[i]
	if i == 0 || now.Recipe > 0 || pl.Piece.Machine.School != machine.Preselect {
		return machine.Set{}, false
	}
	put = slices.ContainsFunc(now.Before, func(st pass.Step) bool {
		return st.Bed() == machine.Main && (st.Do() == step.DoPushBack || st.Do() == step.DoBringForward)
	})
	came = pl.Passes[i-1].Main().Sets.And(now.Main().AtWork)
	return came, put && came != now.Main().Select
}

// see says what stands before the knitter if all is well, hands' work done.
func see(f *fabric.Fabric, i int) (list []Word) {
	pl := f.Plan
	now, m := &pl.Passes[i], &pl.Piece.Machine
	half, stand := now.Main(), standOf(f, i)
	forward, rest := half.Select.Len(), half.AtWork.Minus(half.Select).Minus(half.Hold).Len()
	say := func(strong bool, format string, a ...any) {
		list = append(list, Word{fmt.Sprintf(format, a...), strong})
	}
	say(false, "You should see ")
	if came, put := brought(pl, i); put {
		say(true, "%s %s", words.Count(came.Len(), "needle", "needles"), m.Word("forward"))
		say(false, " first, and once the steps are done ")
	}
	if now.Recipe > 0 {
		var empty, doubled [2]machine.Set
		if f.Stands != nil {
			empty[0], doubled[0] = stand.Empty, stand.Doubled
			empty[1], doubled[1] = f.StandsBehind[i].Empty, f.StandsBehind[i].Doubled
		}
		list = append(list, recipeSee(pl, i, empty, doubled)...)
		which := "carriage"
		if now.Carriage == machine.SecondCarriage {
			which = "second bed's carriage"
		}
		say(false, ", the %s on the %v", which, now.Dir.Other())
		if n := now.Window; n > 0 {
			say(false, ", number %d in the card's window", n)
		}
		say(false, ".")
		return list
	}
	switch lace := half.Setting.Moves; {
	case lace && forward == 0:
		say(true, "no needle %s", m.Word("forward"))
	case forward > 0 && selectsNow(m, now):
		if set := half.ByHand.And(half.Select); !set.Empty() {
			say(true, "%s %s, ", set.Brief(), m.Word("forward"))
		} else {
			say(true, "no needle %s, ", m.Word("forward"))
		}
		coming := half.Select.Minus(half.ByHand).Len()
		say(false, "and ")
		say(true, "%s %s %s as the carriage passes", words.Count(coming, "needle", "needles"),
			words.Plural(coming, "comes", "come"), m.Word("forward"))
	case lace:
		say(true, "%s %s", words.Count(forward, "needle", "needles"), m.Word("forward"))
	case half.Setting.Lays && !now.Free:
		say(true, "%s at the laying position", words.Count(half.AtWork.Len(), "needle", "needles"))
	case forward == 0 && (half.Hold.Empty() || !stand.Empty.Empty()):
		say(true, "all %s %s", words.Count(half.AtWork.Len(), "needle", "needles"), m.Word("work"))
	default:
		say(true, "%s %s, %d %s", words.Count(forward, "needle", "needles"), m.Word("forward"), rest, m.Word("work"))
		if !half.Hold.Empty() {
			say(true, ", %s %s", half.Hold.Brief(), m.Word("hold"))
		}
	}
	if !stand.Empty.Empty() || !stand.Doubled.Empty() {
		if n := stand.Empty.Len(); n > 0 || pl.Piece.Shape == nil {
			say(true, ", %d empty", n)
		}
		say(true, ", %d doubled", stand.Doubled.Len())
	}
	say(false, "%s", behindSee(now))
	which := "carriage"
	if turn(pl, i) != "" {
		which = now.Carriage.String() + " carriage"
	}
	say(false, ", the %s on the %v", which, now.Dir.Other())
	if n := now.Window; n > 0 {
		say(false, ", number %d in the card's window", n)
	}
	say(false, ".")
	return list
}
