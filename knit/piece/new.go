package piece

import (
	"cmp"
	"encoding/json"
	"fmt"
	"image/color"
	"slices"

	"vindel/knit/chart"
	"vindel/knit/machine"
)

// Start is what a new piece is begun with.
type Start struct {
	Name, Profile, Technique string
	Chart                    *chart.Chart // nil: an empty chart of W × H stitches
	ChartName                string
	Colours                  []color.RGBA // one a key of the chart
	W, H                     int
	Repeats                  int // how often the chart is set side by side; at least once
}

// defaultColours are yarns of a moorland: oat, spruce, rowan, slate, gorse, peat …
var defaultColours = []color.RGBA{
	{0xe6, 0xd8, 0xbd, 255}, {0x23, 0x48, 0x3f, 255}, {0xb4, 0x53, 0x2f, 255}, {0x4f, 0x63, 0x70, 255}, {0xc9, 0x9a, 0x2e, 255},
	{0x4a, 0x3a, 0x30, 255}, {0x8a, 0x9a, 0x6b, 255}, {0x9b, 0x86, 0x9c, 255}, {0xd8, 0xdc, 0xd6, 255}, {0x7a, 0x2f, 0x3d, 255},
}

var defaultNames = []string{"oat", "spruce", "rowan", "slate", "gorse", "peat", "lichen", "heather", "frost", "bilberry"}

// DefaultColour is the i-th colour (from 0) that a new yarn gets, and its name.
func DefaultColour(i int) (color.RGBA, string) {
	n := len(defaultColours)
	name := defaultNames[i%n]
	if i >= n {
		name = fmt.Sprintf("%s %d", name, i/n+1)
	}
	return defaultColours[i%n], name
}

// yarnLetters are the letters a yarn may have, capitals first.
const yarnLetters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnpqrstuvwxyz"

// New makes the document of a new piece: the chart placed in the middle of the bed.
func New(s Start) (*Document, error) {
	m, err := machine.Shipped(s.Profile)
	if err != nil {
		return nil, err
	}
	c := s.Chart
	if c == nil {
		c = &chart.Chart{Keys: []rune{'.', '#'}, Grid: chart.NewMat[uint8](s.W, s.H)}
	}
	yarns, legend := []any{}, map[string]any{}
	for i, key := range c.Keys {
		if i >= len(yarnLetters) {
			return nil, fmt.Errorf("%d colours: a piece has at most %d yarns", len(c.Keys), len(yarnLetters))
		}
		col, name := DefaultColour(i)
		if i < len(s.Colours) {
			if s.Colours[i] != col {
				name = fmt.Sprintf("yarn %c", yarnLetters[i])
			}
			col = s.Colours[i]
		}
		id := yarnLetters[i : i+1]
		yarns = append(yarns, map[string]any{"id": id, "name": name, "colour": fmt.Sprintf("#%02x%02x%02x", col.R, col.G, col.B)})
		legend[string(key)] = map[string]any{"yarn": id}
	}
	if s.ChartName == "" {
		s.ChartName = "chart"
	}
	technique := cmp.Or(s.Technique, "two-colour")
	if IsLace(c) {
		technique = "lace"
	}
	section := map[string]any{"name": s.ChartName, "technique": technique, "areas": []any{map[string]any{"chart": s.ChartName}}}
	switch stitch := markOf[technique]; {
	case technique == "lace":
		yarns, legend = yarns[:1], map[string]any{}
	case stitch != "":
		legend = map[string]any{string(c.Keys[0]): map[string]any{}}
		for _, key := range append(c.Keys[1:], '#') {
			legend[string(key)] = map[string]any{"stitch": stitch}
		}
		if technique == "weave" && len(yarns) > 1 {
			section["weft"] = yarns[1].(map[string]any)["id"]
		} else {
			yarns = yarns[:1]
		}
	}
	drawing := map[string]any{"side": "knit", "legend": legend, "rows": c.Rows()}
	if c.All {
		drawing["shows"] = "all"
	}
	width := min(c.W*max(s.Repeats, 1), int(m.Bed))
	from, to := machine.Centre(width, machine.Right)
	tree := map[string]any{
		"vindel": 1, "name": s.Name, "machine": map[string]any{"profile": s.Profile}, "yarns": yarns,
		"charts":  map[string]any{s.ChartName: drawing},
		"needles": map[string]any{"from": from.String(), "to": to.String(), "out": ""},
		"start":   "right",
		"sections": []any{
			section,
		},
	}
	b, err := json.Marshal(tree)
	if err != nil {
		return nil, err
	}
	return ParseDocument(b)
}

// markOf is the stitch that a chart of each technique marks.
var markOf = map[string]string{"slip": "slip", "tuck": "tuck", "weave": "weave", "texture": "purl"}

// IsLace says that a drawing can only be lace: its characters are the marks of lace, both
// a yarn-over and a decrease among them.
func IsLace(c *chart.Chart) bool {
	over, decrease := false, false
	for _, r := range c.Keys {
		st, ok := chart.LaceMark(r)
		if !ok {
			return false
		}
		over, decrease = over || st == chart.YarnOver, decrease || st.Uses() > 1
	}
	return over && decrease
}

// Picture is the chart as a picture's keys and colours: in the order of the piece's
// yarns where every character stands for a yarn of its own, else in the chart's.
func (p *Piece) Picture(c *Chart) (*chart.Chart, []color.RGBA) {
	var colours []color.RGBA
	order := make([]uint8, len(c.Keys))
	var keys []rune
	for i, y := range p.Yarns {
		k := slices.IndexFunc(c.Means, func(m chart.Meaning) bool { return m.Yarn == y.ID })
		keys, colours = append(keys, rune(y.ID)), append(colours, hexRGBA(y.Colour))
		if k >= 0 {
			keys[i], order[k] = c.Keys[k], uint8(i)
		}
	}
	seen := map[byte]bool{}
	for _, m := range c.Means {
		if m.Yarn == 0 || m.Stitch != chart.Knit || seen[m.Yarn] {
			keys = nil
		}
		seen[m.Yarn] = true
	}
	for i, k := range keys {
		if slices.Contains(keys[:i], k) {
			keys = nil
			break
		}
	}
	if keys == nil {
		return c.Chart, DefaultPalette(len(c.Keys))
	}
	out := &chart.Chart{Name: c.Name, Side: c.Side, Keys: keys, Grid: chart.NewMat[uint8](c.W, c.H)}
	for i, k := range c.Cells {
		out.Cells[i] = order[k]
	}
	return out, colours
}

// DefaultPalette is n colours for a chart whose characters have none of their own.
func DefaultPalette(n int) (colours []color.RGBA) {
	for i := range n {
		c, _ := DefaultColour(i)
		// Later rounds are darkened, so that no two are the same.
		for range i / len(defaultColours) {
			c = color.RGBA{c.R / 8 * 7, c.G / 8 * 7, c.B / 8 * 7, 255}
		}
		colours = append(colours, c)
	}
	return colours
}

func hexRGBA(s string) (c color.RGBA) {
	fmt.Sscanf(s, "#%02x%02x%02x", &c.R, &c.G, &c.B)
	c.A = 255
	return c
}
