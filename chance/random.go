package chance

import (
	"encoding/json"
	"math/rand/v2"
	"strings"
	"testing"

	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/technique"
)

// recipes are small texts for random pieces: they come one after another in what hands and machine can do.
var recipes = []string{
	"yarn A\npass 2\nrepeat 3 \"band\"\n  hold every 3 from 2\n  pass 2\n  pass 1: knit held, knit others\nend\npass 2",
	"yarn A\npass 2\nrepeat 2\n  move right 1 of every 6 from 3\n  pass 2\nend",
	"yarn A\nrepeat 4 \"wedge\"\n  hold last 3\n  wrap last 3\n  pass 2\nend\nwork all\npass 2",
	"yarn [A, B]\npass 4: tuck every 4 from 2, knit others\ncounter 0\npass 2",
	"size 6\nyarn A\npass 2\nweights 4\ndrop L1\npass 2\nremove \"the row guide\"\npass 2",
}

// Piece is a piece of any technique, machine, start, finish, shape and choice that a file may hold, small enough to
// be worked out at once; many stop, as hers may. What the readers refuse is drawn again.
func Piece(t testing.TB, rng *rand.Rand) (*edit.Document, *piece.Piece) {
	t.Helper()
	return read(t, func() map[string]any { return randomTree(rng) })
}

// read draws files until one is read.
func read(t testing.TB, draw func() map[string]any) (*edit.Document, *piece.Piece) {
	t.Helper()
	for range 1000 {
		b, err := json.Marshal(draw())
		if err != nil {
			t.Fatal(err)
		}
		if p, err := technique.Read(b); err == nil {
			doc, err := edit.Parse(b)
			if err != nil {
				t.Fatal(err)
			}
			return doc, p
		}
	}
	t.Fatal("of a thousand random files none is read")
	return nil, nil
}

// Motif is a piece on a machine that a card drives, whose patterns seldom fill the card: what it brings forward beyond
// them is for hands to put right, or stops the piece.
func Motif(t testing.TB, rng *rand.Rand) (*edit.Document, *piece.Piece) {
	t.Helper()
	return read(t, func() map[string]any {
		tree := randomTree(rng)
		m := tree["machine"].(map[string]any)
		m["profile"] = pick(rng, "card-preselect", "card-preselect", "card-preselect", "card-direct", "two-bed-pairs")
		m["end_switch"] = rng.IntN(2) == 0
		from, to := machine.Needle(-20-rng.IntN(30)), machine.Needle(16+rng.IntN(30))
		tree["needles"] = map[string]any{"from": from.String(), "to": to.String()}
		if tree["shape"] != nil {
			tree["shape"] = randomShape(rng, from, int(to-from)+1)
		}
		for _, s := range tree["sections"].([]any) {
			areas, _ := s.(map[string]any)["areas"].([]any)
			for _, a := range areas {
				at := from + machine.Needle(rng.IntN(int(to-from)-12))
				a := a.(map[string]any)
				delete(a, "first")
				a["from"], a["to"] = at.String(), (at + machine.Needle(2+rng.IntN(10))).String()
			}
		}
		return tree
	})
}

func pick[T any](rng *rand.Rand, list ...T) T { return list[rng.IntN(len(list))] }

// within adds a member in one of n cases.
func within(rng *rand.Rand, n int, to map[string]any, key string, v func() any) {
	if rng.IntN(n) == 0 {
		to[key] = v()
	}
}

func randomTree(rng *rand.Rand) map[string]any {
	w := pick(rng, 6, 8, 12, 12, 20, 24)
	from := machine.Needle(-w/2 - pick(rng, 0, 0, 0, 1, 5))
	to := from + machine.Needle(w) - 1
	label := func() string { return (from + machine.Needle(rng.IntN(w))).String() }
	m := map[string]any{"profile": pick(rng, "hand-mid", "hand-chunky", "card-preselect", "card-preselect",
		"card-direct",
		"program-preselect", "program-preselect", "program-small", "two-bed-pairs")}
	within(rng, 4, m, "purl_carriage", func() any { return true })
	within(rng, 4, m, "second_bed", func() any { return true })
	within(rng, 8, m, "end_switch", func() any { return rng.IntN(2) == 0 })
	within(rng, 8, m, "tuck_selected", func() any { return pick(rng, "knit", "tuck") })
	within(rng, 8, m, "mirror_switch", func() any { return true })
	within(rng, 8, m, "hold_disturbs", func() any { return true })
	within(rng, 8, m, "window", func() any { return pick(rng, "read", "next") })
	within(rng, 8, m, "lace", func() any { return pick(rng, "separate", "combined", "hand") })
	within(rng, 12, m, "program_bed", func() any { return "near" })
	within(rng, 8, m, "purl_selects", func() any { return "ahead" })
	within(rng, 8, m, "reset_each_pass", func() any { return true })
	within(rng, 8, m, "held_catch", func() any { return "passes" })
	within(rng, 8, m, "weave_selected", func() any { return pick(rng, "hidden", "shown") })
	within(rng, 8, m, "card_origin", func() any { return "L11" })
	within(rng, 8, m, "offset", func() any { return rng.IntN(9) })
	within(rng, 8, m, "overlap", func() any { return "holes" })
	within(rng, 8, m, "panel", func() any { return "flat" })
	within(rng, 6, m, "panel_does", func() any {
		return []string{pick(rng, "mirror", "upside-down"), pick(rng, "double-width", "turn", "invert")}
	})
	within(rng, 8, m, "joined", func() any { return rng.IntN(2) == 0 })
	yarns := []any{}
	for i, name := range []string{"oat", "spruce", "heather", "mist"} {
		y := map[string]any{"id": string(rune('A' + i)), "name": name}
		within(rng, 4, y, "ball", func() any { return map[string]any{"grams": 5, "metres": 20} })
		within(rng, 4, y, "have", func() any { return rng.IntN(3) })
		yarns = append(yarns, y)
	}
	charts, sections := map[string]any{}, []any{}
	if rng.IntN(2) == 0 {
		sections = append(sections, map[string]any{"technique": "plain", "rows": 1 + rng.IntN(5), "name": "hem"})
	}
	for range 1 + rng.IntN(2) {
		sections = append(sections, randomSection(rng, w, label, charts))
	}
	if rng.IntN(2) == 0 {
		sections = append(sections, map[string]any{"technique": "plain", "rows": 1 + rng.IntN(4), "yarn": pick(rng,
			"A", "B")})
	}
	tree := map[string]any{"vindel": 1, "name": "random", "machine": m, "yarns": yarns, "charts": charts,
		"sections": sections,
		"needles":  map[string]any{"from": from.String(), "to": to.String()}, "start": pick(rng, "left", "right",
			"right"), "options": randomOptions(rng)}
	within(rng, 4, tree, "limits", func() any {
		return map[string]any{"float": 2 + rng.IntN(4), "weights": 3 + rng.IntN(6), "lifeline": 4 + rng.IntN(4),
			"slip": 2, "tuck": 2}
	})
	within(rng, 3, tree, "swatch", func() any {
		sw := map[string]any{"stitches": 28, "width_mm": 100, "rows": 40, "height_mm": 100, "grams": 3,
			"technique": pick(rng, "plain", "two-colour", "recipe")}
		within(rng, 2, sw, "rounds", func() any { return 10 })
		return sw
	})
	within(rng, 6, tree, "gauge", func() any { return map[string]any{"stitches": 28, "rows": 40} })
	within(rng, 3, tree, "begin", func() any {
		b := map[string]any{"way": pick(rng, "comb", "every-second", "by-hand", "latch", "waste", "two-bed", "thread")}
		if b["way"] == "waste" {
			b["yarn"], b["rows"], b["cord"] = "D", 6+rng.IntN(4), rng.IntN(2) == 0
		}
		return b
	})
	within(rng, 3, tree, "end", func() any {
		e := map[string]any{"way": pick(rng, "latch", "waste", "drop", "join", "hook", "chain")}
		if e["way"] == "waste" {
			e["yarn"] = "D"
		}
		return e
	})
	within(rng, 5, tree, "second", func() any {
		return map[string]any{"pitch": pick(rng, "half", "full"), "rack": 3 + rng.IntN(5)}
	})
	within(rng, 3, tree, "shape", func() any { return randomShape(rng, from, w) })
	return tree
}

func randomOptions(rng *rand.Rand) map[string]any {
	o := map[string]any{}
	for _, words := range [][]string{{"lean", "shortest", "exact"}, {"selecting", "knit", "free"}, {"odd", "right",
		"left"},
		{"separation", "twice", "interleaved", "single"}, {"backing", "every", "birdseye", "stripes", "none"},
		{"colours", "file", "fewest"}, {"transfer", "open", "fine"}, {"look", "off", "on"},
		{"counter", "run", "section", "repeat"}, {"end_needles", "off", "auto", "hand"}} {
		within(rng, 3, o, words[0], func() any { return pick(rng, words[1:]...) })
	}
	return o
}

func randomShape(rng *rand.Rand, from machine.Needle, w int) any {
	var list []any
	for range 1 + rng.IntN(3) {
		row := 2 + rng.IntN(8)
		s := map[string]any{"side": pick(rng, "left", "right", "both")}
		if rng.IntN(2) == 0 {
			s["row"], s["stitches"] = row, pick(rng, -3, -2, -1, 1, 2, 4)
		} else {
			s["rows"], s["stitches"] = []int{row, row + 3}, pick(rng, -2, -1, 1, 2)
		}
		if s["stitches"].(int) < 0 {
			within(rng, 2, s, "by", func() any { return "hold" })
			if s["by"] == nil {
				within(rng, 3, s, "fashion", func() any { return 1 + rng.IntN(2) })
			}
		}
		list = append(list, s)
	}
	if rng.IntN(3) == 0 {
		mid := from + machine.Needle(w/2)
		list = append(list, map[string]any{"split": 4 + rng.IntN(4), "left": (mid - 1).String(),
			"right": (mid + machine.Needle(rng.IntN(2))).String()})
	}
	return list
}

// randomSection draws a section, and its chart.
func randomSection(rng *rand.Rand, w int, label func() string, charts map[string]any) map[string]any {
	tech := pick(rng, "plain", "two-colour", "two-colour", "slip", "tuck", "lace", "lace", "weave", "intarsia",
		"texture",
		"separated", "plated", "recipe")
	s := map[string]any{"technique": tech, "size": pick(rng, "5", "6.2", "7")}
	if tech == "plain" || tech == "recipe" {
		if tech == "recipe" {
			s["recipe"] = pick(rng, recipes...)
			return s
		}
		s["rows"] = 1 + rng.IntN(10)
		within(rng, 4, s, "second", func() any { return pick(rng, "every", "birdseye", "stripes") })
		within(rng, 6, s, "carriage", func() any { return "purl" })
		within(rng, 6, s, "rib", func() any { return pick(rng, "1x1", "2x1") })
		return s
	}
	cw, ch := pick(rng, 2, 3, 4, 5, 6, 8, 12), 1+rng.IntN(6)
	name := string(rune('p' + len(charts)))
	c := map[string]any{"side": pick(rng, "knit", "purl"), "rows": randomRows(rng, tech, cw, ch)}
	mark := map[string]string{"slip": "slip", "tuck": "tuck", "weave": "weave", "texture": "purl"}[tech]
	yarn := func(id string) any { return map[string]any{"yarn": id} }
	switch {
	case mark != "":
		c["legend"] = map[string]any{".": map[string]any{}, "#": map[string]any{"stitch": mark}}
	case tech != "lace":
		c["legend"] = map[string]any{".": yarn("A"), "#": yarn("B"), "+": yarn("C"), "*": yarn("D")}
	default:
		within(rng, 4, c, "shows", func() any { return "all" })
	}
	if tech == "lace" && rng.IntN(4) == 0 { // as lines of the carriage
		list := []any{}
		for range 2 * (1 + rng.IntN(3)) {
			memo := map[string]any{}
			within(rng, 2, memo, "knit", func() any { return 1 + rng.IntN(3) })
			list = append(list, map[string]any{"row": randomRows(rng, "slip", cw, 1)[0], "memo": memo})
		}
		delete(c, "rows")
		c["lines"] = list
	}
	charts[name] = c
	area := func() map[string]any {
		a := map[string]any{"chart": name}
		if rng.IntN(6) == 0 && c["rows"] != nil {
			x, y := 1+rng.IntN(cw), 1+rng.IntN(ch)
			a["columns"], a["rows"] = []int{x, x + rng.IntN(cw-x+1)}, []int{y, y + rng.IntN(ch-y+1)}
		}
		within(rng, 3, a, "first", func() any { return label() })
		if rng.IntN(4) == 0 {
			x, y := label(), label()
			a["from"], a["to"] = x, y
		}
		if tech != "lace" {
			within(rng, 4, a, "transform", func() any {
				return []string{pick(rng, "mirror", "upside-down", "bounce", "double-width", "double-length", "turn",
					"turn-right")}
			})
			within(rng, 8, a, "drop", func() any { return 1 + rng.IntN(2) })
		}
		within(rng, 6, a, "above", func() any { return "blank" })
		return a
	}
	s["areas"] = []any{area()}
	if rng.IntN(5) == 0 {
		s["areas"] = []any{area(), area()}
	}
	within(rng, 2, s, "rows", func() any { return 1 + rng.IntN(14) })
	within(rng, 8, s, "joined", func() any { return rng.IntN(2) == 0 })
	within(rng, 8, s, "second", func() any { return pick(rng, "every", "birdseye") })
	within(rng, 8, s, "second_size", func() any { return "4" })
	within(rng, 6, s, "free", func() any { return true })
	within(rng, 6, s, "from_line", func() any { return 1 + rng.IntN(ch) })
	within(rng, 6, s, "notes", func() any {
		return []any{map[string]any{"before": rng.IntN(3),
			"text": "look at the edge"}}
	})
	if tech == "weave" {
		s["weft"] = "D"
	}
	if mark != "" || tech == "lace" {
		s["yarn"] = "A"
	}
	if tech == "slip" && rng.IntN(2) == 0 {
		delete(s, "yarn")
		s["yarns"] = []string{"A*2", "B*2"}
	}
	return s
}

func randomRows(rng *rand.Rand, tech string, w, h int) []string {
	rows := make([]string, h)
	for y := range rows {
		keys := map[string]string{"separated": ".#+", "intarsia": ".#+"}[tech]
		if keys == "" {
			keys = pick(rng, ".#", ".#", ".#", "#+")
		}
		switch tech {
		case "slip", "tuck", "weave", "texture":
			keys = pick(rng, ".#", "..#", "...#", ".")
		}
		var b strings.Builder
		for b.Len() < w {
			switch left := w - b.Len(); {
			case tech == "lace" && left >= 3 && rng.IntN(6) == 0:
				b.WriteString("o^o")
			case tech == "lace" && left >= 2 && rng.IntN(3) == 0:
				b.WriteString(pick(rng, "/o", "o\\", "o/", "\\o"))
			case tech == "lace":
				b.WriteByte("........-"[rng.IntN(9)])
			case tech == "intarsia":
				b.WriteString(strings.Repeat(string(keys[rng.IntN(3)]), min(left, 2+rng.IntN(3))))
			default:
				b.WriteByte(keys[rng.IntN(len(keys))])
			}
		}
		rows[y] = b.String()
	}
	return rows
}
