package web

import (
	"fmt"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/chart"
	"vindel/knit/finding"
	"vindel/knit/piece"
)

// swapSections is the edit that moves section i one up or down in the order of knitting.
func (d *desk) swapSections(i int, up bool) []finding.Change {
	j := i - 1
	if up {
		j = i + 1
	}
	doc, err := piece.ParseDocument(d.stored.Doc)
	if err != nil || j < 0 || j >= len(d.piece.Sections) {
		return []finding.Change{}
	}
	section, _ := doc.Get(fmt.Sprintf("/sections/%d", i))
	return []finding.Change{{Op: "remove", Path: fmt.Sprintf("/sections/%d", i)}, {Op: "add", Path: fmt.Sprintf("/sections/%d", j), Value: section}}
}

// newBand is the edit that adds an empty chart and a two-colour section of it.
func (d *desk) newBand(at int) []finding.Change {
	name := ""
	for n := len(d.piece.Charts) + 1; name == "" || d.piece.Charts[name] != nil; n++ {
		name = fmt.Sprintf("chart %d", n)
	}
	legend := map[string]any{".": map[string]any{"yarn": string(d.piece.Yarns[0].ID)}}
	rows := slices.Repeat([]string{strings.Repeat(".", 12)}, 8)
	section := map[string]any{"name": name, "technique": "two-colour", "areas": []any{map[string]any{"chart": name}}}
	changes := []finding.Change{}
	if len(d.piece.Charts) == 0 {
		changes = append(changes, finding.Change{Op: "add", Path: "/charts", Value: map[string]any{}})
	}
	return append(changes, finding.Change{Op: "add", Path: "/charts/" + piece.Escape(name), Value: map[string]any{"side": "knit", "legend": legend, "rows": rows}},
		finding.Change{Op: "add", Path: fmt.Sprintf("/sections/%d", at), Value: section})
}

// newTechnique is the edit that knits section i in another technique. A chart that marks
// none of its stitches yet, or names no yarns where those are knitted, gets a legend for it.
func (d *desk) newTechnique(i int, technique string) []finding.Change {
	at := fmt.Sprintf("/sections/%d/", i)
	changes := []finding.Change{{Op: "add", Path: at + "technique", Value: technique}}
	sec := &d.piece.Sections[i]
	stitch := map[string]string{"slip": "slip", "tuck": "tuck", "weave": "weave", "texture": "purl"}[technique]
	last := string(d.piece.Yarns[len(d.piece.Yarns)-1].ID)
	if technique == "weave" && sec.Weft == 0 {
		changes = append(changes, finding.Change{Op: "add", Path: at + "weft", Value: last})
	}
	for _, a := range sec.Areas {
		if technique == "lace" {
			changes = append(changes, d.laceChart(a.Chart)...)
			continue
		}
		fits := true
		for _, m := range a.Chart.Means {
			if stitch == "" {
				fits = fits && m.Stitch == chart.Knit
			} else {
				fits = fits && m.Yarn == 0 && (m.Stitch == chart.Knit || m.Stitch.String() == stitch)
			}
		}
		if fits && (stitch == "" || len(a.Chart.Legend) > 1) {
			continue
		}
		legend := map[string]any{}
		for k, key := range a.Chart.Keys {
			mark := map[string]any{}
			if k > 0 && stitch != "" {
				mark["stitch"] = stitch
			} else if stitch == "" {
				mark["yarn"] = string(d.piece.Yarns[min(k, len(d.piece.Yarns)-1)].ID)
			}
			legend[string(key)] = mark
		}
		if len(legend) == 1 && stitch != "" {
			legend["#"] = map[string]any{"stitch": stitch}
		}
		changes = append(changes, finding.Change{Op: "add", Path: "/charts/" + piece.Escape(a.Chart.Name) + "/legend", Value: legend})
	}
	return changes
}

// laceChart is the edit that makes a chart one of lace: marks of lace stay, and whatever
// else it was drawn with becomes plain knit. Lace needs no legend.
func (d *desk) laceChart(c *piece.Chart) []finding.Change {
	rows := c.Rows()
	lace := true
	for i, row := range rows {
		rows[i] = strings.Map(func(r rune) rune {
			if _, ok := chart.LaceMark(r); ok {
				return r
			}
			lace = false
			return '.'
		}, row)
	}
	at := "/charts/" + piece.Escape(c.Name)
	changes := []finding.Change{{Op: "add", Path: at + "/legend", Value: map[string]any{}}}
	if !lace {
		changes = append(changes, finding.Change{Op: "replace", Path: at + "/rows", Value: rows})
	}
	return changes
}

// newYarn is the edit that adds a yarn with the next letter.
func (d *desk) newYarn() (finding.Change, error) {
	for i := range plainLetters {
		id := plainLetters[i : i+1]
		if !slices.ContainsFunc(d.piece.Yarns, func(y piece.Yarn) bool { return string(y.ID) == id }) {
			col, name := piece.DefaultColour(len(d.piece.Yarns))
			return finding.Change{Op: "add", Path: "/yarns/-", Value: map[string]any{"id": id, "name": name, "colour": fmt.Sprintf("#%02x%02x%02x", col.R, col.G, col.B)}}, nil
		}
	}
	return finding.Change{}, fmt.Errorf("a piece has at most %d yarns", len(plainLetters))
}

// section adds plain rows, a new chart or a yarn, or takes a section away.
func (s *Server) section(c *gin.Context) {
	s.withDesk(c, func(d *desk) {
		i, do := number(c.PostForm("index"), 0), c.PostForm("do")
		at := func(i int) string { return fmt.Sprintf("/sections/%d", i) }
		var changes []finding.Change
		plain := map[string]any{"name": "plain rows", "technique": "plain", "rows": 10, "yarn": string(d.piece.Yarns[0].ID)}
		switch do {
		case "below":
			changes = []finding.Change{{Op: "add", Path: at(i), Value: plain}}
		case "above":
			changes = []finding.Change{{Op: "add", Path: at(i + 1), Value: plain}}
		case "band":
			changes = d.newBand(i + 1)
		case "technique":
			changes = d.newTechnique(i, c.PostForm("value"))
		case "yarn":
			yarn, err := d.newYarn()
			if err != nil {
				s.fail(c, inputError{err})
				return
			}
			changes = []finding.Change{yarn}
		case "up", "down":
			changes = d.swapSections(i, do == "up")
		case "remove":
			changes = []finding.Change{{Op: "remove", Path: at(i)}}
		default:
			s.fail(c, inputError{fmt.Errorf("%q: below, above or remove", do)})
			return
		}
		if err := s.store.Edit(c.Request.Context(), d.stored.ID, do+" section", changes); err != nil {
			s.fail(c, editError(err))
			return
		}
		s.answer(c, d.stored.ID)
	})
}
