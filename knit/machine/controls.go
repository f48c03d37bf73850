package machine

import (
	"fmt"
	"strings"
)

// Control is something that the owner of a machine moves: a lever, a slide, a button, a dial, where
// it stands on its carriage, and at which of its positions the carriage does what.
type Control struct {
	Name      string
	Shape     string            // of ControlShapes
	On        Carriage          // the carriage that it sits on; the zero Carriage knits
	At        [2]float64        // where, in parts of its width and height, from the top left
	Positions []string          // as she calls them, in order; none: a dial that is turned to a stitch size
	Sets      map[string]string // the position for each key of Terms, or for Off of a switch
}

// ControlShapes are the shapes that a control can be drawn in, all plain.
var ControlShapes = []string{"lever", "slide", "button", "dial"}

// Off is the key under which a control's position is kept for a switch that is off.
func Off(key string) string { return key + "-off" }

// Bounds on what one machine's face holds.
const (
	MaxControls  = 40
	MaxPositions = 12
	MaxLabel     = 60
)

// Check says what of a control cannot be, with the name of the field first.
func (c *Control) Check() error {
	switch {
	case c.Name == "" || len(c.Name) > MaxLabel:
		return fmt.Errorf("name: 1 to %d characters", MaxLabel)
	case !isShape(c.Shape):
		return fmt.Errorf("shape, %q: %s", c.Shape, strings.Join(ControlShapes, ", "))
	case !(c.At[0] >= 0 && c.At[0] <= 1 && c.At[1] >= 0 && c.At[1] <= 1):
		return fmt.Errorf("at: within the carriage, 0 to 1 each way")
	case len(c.Positions) > MaxPositions:
		return fmt.Errorf("positions: at most %d", MaxPositions)
	}
	there := map[string]bool{}
	for _, p := range c.Positions {
		if p == "" || len(p) > MaxLabel || there[p] {
			return fmt.Errorf("positions, %q: each has a name of its own", p)
		}
		there[p] = true
	}
	for key, p := range c.Sets {
		if !there[p] {
			return fmt.Errorf("sets, %s: %q is no position of %s", key, p, c.Name)
		}
	}
	return nil
}

func isShape(s string) bool {
	for _, w := range ControlShapes {
		if s == w {
			return true
		}
	}
	return false
}

// ForSetting is the position that a carriage's control must have under a setting and a stitch size;
// false: it does not matter, and stays.
func (c *Control) ForSetting(key, size string) (position string, matters bool) {
	if len(c.Positions) == 0 {
		return size, size != ""
	}
	for key != "" {
		if p, ok := c.Sets[key]; ok {
			return p, true
		}
		base, cut := strings.CutSuffix(key, "-held")
		if !cut {
			if base, cut = strings.CutPrefix(key, "second-"); !cut {
				return "", false
			}
		}
		key = base
	}
	return "", false
}

// SettingsOf are the keys of what a carriage of the machine can be set to, and of its switches, in
// the order of Terms: a plan asks for no others.
func (p *Profile) SettingsOf(c Carriage) (keys []string) {
	add := func(there bool, more ...string) {
		if there {
			keys = append(keys, more...)
		}
	}
	switch c {
	case KnitCarriage:
		add(true, "plain")
		add(p.Feeders > 1, "two-colour")
		add(p.Feeders == 1, "outward", "back")
		add(true, "free", "slip")
		add(p.TuckSelected != "tuck", "tuck-rest")
		add(p.TuckSelected == "tuck", "tuck-fwd")
		add(true, "take-back", "pass-over", "tuck-all", "tuck-or-slip")
		add(p.Weave, "weave")
		add(p.Intarsia, "lay")
		add(p.Selects(), "select", Off("select"))
		add(p.EndSwitch, "end-needles", Off("end-needles"))
	case LaceCarriage:
		add(p.Lace == "separate" || p.Lace == "combined", "transfer", "fine")
	case PurlCarriage:
		add(p.PurlCarriage, "purl", "purl-plain", "free")
	case SecondCarriage:
		add(p.HasSecond(), "second-every", "second-turns", "second-left", "second-idle")
	}
	return keys
}
