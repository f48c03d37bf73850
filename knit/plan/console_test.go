package plan_test

import (
	"fmt"
	"strings"
	"testing"

	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/step"
)

// TestConsole: what a console does itself is switched on where the program goes in that was keyed for it, and off
// before one that was not, or at the end; in her words, and for an area alone where the console asks so.
func TestConsole(t *testing.T) {
	set := piecetest.Set
	section := func(chart string, more ...any) map[string]any {
		area := map[string]any{"chart": chart}
		for i := 0; i < len(more); i += 2 {
			area[more[i].(string)] = more[i+1]
		}
		return map[string]any{"technique": "two-colour", "areas": []any{area}}
	}
	chart := func(side string) map[string]any {
		yarn := func(id string) any { return map[string]any{"yarn": id} }
		return map[string]any{"side": side, "legend": map[string]any{".": yarn("A"), "#": yarn("B")},
			"rows": []string{"#..", "##."}}
	}
	for _, c := range []struct {
		name     string
		machine  map[string]any
		sections []any
		want     string
	}{
		{"a chart of the knit side", map[string]any{"mirror_switch": true}, []any{section("knit")},
			"1: Turn the console's mirror switch on; after: Turn the console's mirror switch off"},
		{"and then one of the purl side", map[string]any{"mirror_switch": true}, []any{section("knit"), section("purl")},
			"1: Turn the console's mirror switch on; 3: Turn the console's mirror switch off"},
		{"two that want it", map[string]any{"mirror_switch": true}, []any{section("knit"), section("knit")},
			"1: Turn the console's mirror switch on; after: Turn the console's mirror switch off"},
		{"in her words", map[string]any{"mirror_switch": true, "panel_words": map[string]any{"mirror": "swap key"}},
			[]any{section("knit")}, "1: Turn the console's swap key on; after: Turn the console's swap key off"},
		{"a console without it", map[string]any{}, []any{section("knit")}, ""},
	} {
		c.machine["profile"] = "program-preselect"
		p := piecetest.New(t, "program-preselect", "L6", "R6", []string{"#.."}, set("/machine", c.machine),
			set("/charts/knit", chart("knit")), set("/charts/purl", chart("purl")), set("/sections", c.sections))
		pl := plan.Make(p)
		var said []string
		for i := range pl.Passes {
			for _, st := range pl.Passes[i].Before {
				if st.Do() == step.DoConsole {
					said = append(said, fmt.Sprintf("%d: %s", i+1, st.Say(p)))
				}
			}
		}
		for _, st := range pl.After {
			if st.Do() == step.DoConsole {
				said = append(said, "after: "+st.Say(p))
			}
		}
		if got := strings.Join(said, "; "); got != c.want {
			t.Errorf("%s: %s", c.name, got)
		}
	}
}
