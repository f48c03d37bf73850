package piece

import (
	"cmp"
	"encoding/json"
	"slices"

	"vindel/knit/machine"
)

// controlDoc is a control as a machine file has it.
type controlDoc struct {
	Name      string            `json:"name"`
	Shape     string            `json:"shape"`
	On        string            `json:"on,omitempty"`       // as carriage was called once
	Carriage  string            `json:"carriage,omitempty"` // lace, purl, second; left out: the knit carriage
	Acts      string            `json:"acts,omitempty"`     // left, right; left out: both ways
	At        [2]float64        `json:"at"`
	Positions []string          `json:"positions,omitempty"`
	Sets      map[string]string `json:"sets,omitempty"`
}

// controls reads what a machine's face holds. No plan asks for it, so what cannot be read, which
// may be of another Vindel, is left out and makes no piece unreadable.
func controls(v any) (list []machine.Control) {
	all, _ := v.([]any)
	for _, one := range all {
		b, err := json.Marshal(one)
		var d controlDoc
		if err != nil || json.Unmarshal(b, &d) != nil || len(list) == machine.MaxControls {
			continue
		}
		c := machine.Control{Name: d.Name, Shape: d.Shape, At: d.At, Positions: d.Positions, Sets: d.Sets}
		switch d.Acts {
		case "left":
			c.Acts = machine.Left
		case "right":
			c.Acts = machine.Right
		}
		if at, was := c.Sets[takeBack]; was && c.Sets[holdingOff] == "" {
			c.Sets[holdingOff] = at
		}
		delete(c.Sets, takeBack)
		var ok bool
		if c.On, ok = CarriageNamed(cmp.Or(d.Carriage, d.On)); !ok || c.Check() != nil {
			continue
		}
		list = append(list, c)
	}
	return list
}

// ControlCarriages are the carriages that a control can sit on, as files name them.
var ControlCarriages = []Word{{"", "knit carriage"}, {"lace", "lace carriage"}, {"purl", "purl carriage"},
	{"second", "second bed's carriage"}}

var controlCarriage = []machine.Carriage{machine.KnitCarriage, machine.LaceCarriage, machine.PurlCarriage,
	machine.SecondCarriage}

// CarriageNamed is the carriage that a file names as one of ControlCarriages; false: none is.
func CarriageNamed(key string) (machine.Carriage, bool) {
	i := slices.IndexFunc(ControlCarriages, func(w Word) bool { return w.Value == key })
	if i < 0 {
		return 0, false
	}
	return controlCarriage[i], true
}

// CarriageKey is how files name a carriage.
func CarriageKey(c machine.Carriage) string {
	return ControlCarriages[slices.Index(controlCarriage, c)].Value
}

// ControlsDoc is controls as a machine file holds them.
func ControlsDoc(list []machine.Control) (all []any) {
	for _, c := range list {
		d := controlDoc{Name: c.Name, Shape: c.Shape, Carriage: CarriageKey(c.On), At: c.At,
			Positions: c.Positions, Sets: c.Sets}
		if c.Acts != 0 {
			d.Acts = c.Acts.String()
		}
		all = append(all, d)
	}
	return all
}
