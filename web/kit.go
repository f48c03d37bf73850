package web

import (
	"slices"
	"strings"

	"vindel/knit/machine"
)

// carriageForm is where a carriage of a machine lives, and what has to be there before it comes on, as they are typed.
type carriageForm struct {
	Key, Name string
	Home      string
	Usual     string // its home where nobody says one; "": it is never away
	Kit       string
}

// carriageForms are those of every carriage that a machine has.
func carriageForms(m *machine.Profile) (list []carriageForm) {
	add := func(c machine.Carriage, usual string) {
		list = append(list, carriageForm{c.String(), c.String() + " carriage", m.Homes[c.String()], usual, kitText(m, c)})
	}
	add(machine.KnitCarriage, "")
	if m.Lace == "separate" {
		add(machine.LaceCarriage, "left")
	}
	if m.PurlCarriage {
		add(machine.PurlCarriage, "right")
	}
	if m.HasSecond() {
		add(machine.SecondCarriage, "")
		list[len(list)-1].Name = "second bed"
	}
	return list
}

// alwaysWord begins a line of what has to be there each time, and not only once.
const alwaysWord = "always: "

// kitText is what has to be there before a carriage comes on, a line each: "left: put the rails on".
func kitText(m *machine.Profile, c machine.Carriage) string {
	var lines []string
	for _, k := range m.Kit {
		if k.For != c {
			continue
		}
		line := k.Text
		if k.Side != 0 {
			line = k.Side.String() + ": " + line
		}
		if k.Always {
			line = alwaysWord + line
		}
		lines = append(lines, line)
	}
	return strings.Join(lines, "\n")
}

// kitTyped reads what is typed of one carriage, as a machine file has it.
func kitTyped(carriage, text string) (list []any) {
	for line := range strings.Lines(text) {
		kit := map[string]any{"carriage": carriage}
		line = strings.TrimSpace(line)
		if rest, always := strings.CutPrefix(line, strings.TrimSpace(alwaysWord)); always {
			line, kit["always"] = strings.TrimSpace(rest), true
		}
		if side, rest, told := strings.Cut(line, ":"); told && slices.Contains([]string{"left", "right"}, side) {
			line, kit["side"] = strings.TrimSpace(rest), side
		}
		if kit["text"] = line; line != "" {
			list = append(list, kit)
		}
	}
	return list
}

// typedCarriages are homes and kit as a form says them; what it does not ask for stays as the machine has it.
func typedCarriages(m *machine.Profile, sent func(key string) (string, bool)) (homes map[string]any, kit []any) {
	homes = map[string]any{}
	for c := machine.KnitCarriage; c <= machine.SecondCarriage; c++ {
		key := c.String()
		home, asked := sent("home-" + key)
		if !asked {
			home = m.Homes[key]
		}
		if home = strings.TrimSpace(home); home != "" {
			homes[key] = home
		}
		text, asked := sent("kit-" + key)
		if !asked {
			text = kitText(m, c)
		}
		kit = append(kit, kitTyped(key, text)...)
	}
	return homes, kit
}
