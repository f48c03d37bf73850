package edit

import (
	"fmt"
	"image/color"

	"vindel/knit/chart"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Start is what a new piece is begun with.
type Start struct {
	Name, Profile string
	Technique     *piece.Technique
	Chart         *chart.Chart // nil: an empty chart of W × H stitches
	ChartName     string
	Colours       []color.RGBA // one a key of the chart
	W, H          int
	Repeats       int // how often the chart is set side by side; at least once
}

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
	yarns, err := s.yarns(c)
	if err != nil {
		return nil, err
	}
	if s.ChartName == "" {
		s.ChartName = "chart"
	}
	seam := 0 // stitches that do not follow the chart, outside its repeats
	if m.Feeders == 1 && s.Technique.TwoPasses {
		seam = 2
	}
	// As many whole repeats as the bed has room for; a chart that is wider than the bed is cut at its ends.
	width := min(c.W*max(1, min(s.Repeats, (int(m.Bed)-seam)/c.W))+seam, int(m.Bed))
	from, to := machine.Centre(width, machine.Right)
	area := map[string]any{"chart": s.ChartName}
	if seam > 0 && width > seam {
		area["first"], area["from"], area["to"] = (from + 1).String(), (from + 1).String(), (to - 1).String()
	}
	section := map[string]any{"name": s.ChartName, "technique": s.Technique.Name, "areas": []any{area}}
	legend := map[string]any{}
	switch s.Technique.Drawn {
	case piece.InYarns:
		for i, key := range c.Keys {
			legend[string(key)] = map[string]any{"yarn": yarns[i]["id"]}
		}
	case piece.InStitches:
		legend = markLegend(c.Keys, s.Technique.Mark)
	}
	switch {
	case s.Technique.Drawn == piece.InYarns:
	case s.Technique.Weft && len(yarns) > 1:
		section["weft"] = yarns[1]["id"]
	default:
		yarns = yarns[:1]
	}
	if s.Technique.OwnRows { // it has no chart
		section = map[string]any{"name": s.Name, "technique": s.Technique.Name,
			"recipe": []any{"; One line, one step.", "yarn A", "pass 10"}}
		tree, err := plainValue(map[string]any{"vindel": 1, "name": s.Name,
			"machine": map[string]any{"profile": s.Profile}, "yarns": yarns[:1],
			"needles": map[string]any{"from": from.String(), "to": to.String(), "out": ""}, "start": "right",
			"sections": []any{section}})
		return &Document{tree}, err
	}
	drawing := map[string]any{"side": "knit", "legend": legend, "rows": c.Rows()}
	if c.All {
		drawing["shows"] = "all"
	}
	tree, err := plainValue(map[string]any{
		"vindel": 1, "name": s.Name, "machine": map[string]any{"profile": s.Profile}, "yarns": yarns,
		"charts":   map[string]any{s.ChartName: drawing},
		"needles":  map[string]any{"from": from.String(), "to": to.String(), "out": ""},
		"start":    "right",
		"sections": []any{section},
	})
	return &Document{tree}, err
}

// yarns is one yarn a key of the chart, in its colours or those of the moor.
func (s *Start) yarns(c *chart.Chart) (yarns []map[string]any, err error) {
	if n := len(c.Keys); n > len(piece.YarnLetters) {
		return nil, fmt.Errorf("%d colours: a piece has at most %d yarns", n, len(piece.YarnLetters))
	}
	for i := range c.Keys {
		colour, name := piece.DefaultColour(i)
		if i < len(s.Colours) {
			if s.Colours[i] != colour {
				name = fmt.Sprintf("yarn %c", piece.YarnLetters[i])
			}
			colour = s.Colours[i]
		}
		yarns = append(yarns, yarn(piece.YarnLetters[i], name, piece.Hex(colour)))
	}
	return yarns, nil
}

func yarn(id byte, name, colour string) map[string]any {
	return map[string]any{"id": string(id), "name": name, "colour": colour}
}

// markLegend is the legend of a chart that marks one stitch: its first character knits,
// the others, '#' among them, are the stitch.
func markLegend(keys []rune, stitch chart.Stitch) map[string]any {
	legend := map[string]any{string(keys[0]): map[string]any{}}
	for _, key := range append(keys[1:len(keys):len(keys)], '#') {
		if key != keys[0] {
			legend[string(key)] = map[string]any{"stitch": stitch.String()}
		}
	}
	return legend
}
