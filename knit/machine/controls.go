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
	Acts      Side              // the way of the carriage for which it acts; 0: for both
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

// Dial says that it has no positions of its own: it is turned to a stitch size.
func (c *Control) Dial() bool { return len(c.Positions) == 0 }

// OneLever says that one control of a carriage does a setting's pattern, or holding with it, whichever way the
// carriage goes: moved for the one, it is moved for the other.
func (p *Profile) OneLever(of Carriage, pattern string, holding bool) bool {
	for i := range p.Controls {
		c := &p.Controls[i]
		if c.On != of || c.Acts != 0 {
			continue
		}
		if _, ok := c.Sets[pattern]; ok {
			return true
		}
		if _, ok := c.Sets["holding"]; ok && holding {
			return true
		}
	}
	return false
}

// Alike says that two settings of a carriage cannot be told apart: her words for them are the same, and none of her
// controls stands otherwise.
func (p *Profile) Alike(was, now *Setting) bool {
	a, b := was.Pattern(), now.Pattern()
	if a == "" || p.Word(a) != p.Word(b) {
		return false
	}
	for i := range p.Controls {
		if c := &p.Controls[i]; c.On == now.Of && c.Sets[a] != c.Sets[b] {
			return false
		}
	}
	return true
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
		add(true, passOver, "tuck-all", "tuck-or-slip", "holding", Off("holding"))
		add(p.Weave, "weave")
		add(p.Intarsia, "lay")
		add(p.Selects(), "select", Off("select"))
		add(p.EndSwitch, "end-needles", Off("end-needles"))
	case LaceCarriage:
		add(p.Lace == "separate" || p.Lace == "combined", "transfer", "fine")
	case PurlCarriage:
		add(p.PurlCarriage, "purl", "purl-plain", "free")
	case SecondCarriage:
		add(p.HasSecond(), "second-every", "second-turns", "second-left", "second-idle", "slip", "tuck-rest", "tuck-fwd",
			"holding", Off("holding"))
	}
	return keys
}
