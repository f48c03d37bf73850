package paper_test

import (
	"crypto/sha256"
	"flag"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	"vindel/demo/pieces"
	"vindel/knit/card"
	"vindel/knit/chart"
	"vindel/knit/check"
	"vindel/knit/technique"
	"vindel/paper"
)

var update = flag.Bool("update", false, "write the golden files anew")

// TestDrawnAsBefore: every picture of Larkmoor and of the shipped recipes is drawn as it was: charts, cards, programs,
// both faces of the fabric, cuts. Where a change is meant, `go test ./paper -update`.
func TestDrawnAsBefore(t *testing.T) {
	var got []string
	all := pieces.All()
	for name, data := range all {
		p, err := technique.Read(data)
		if err != nil {
			t.Fatal(err)
		}
		r := check.Run(p)
		say := func(what string, data []byte) {
			sum := sha256.Sum256(data)
			got = append(got, fmt.Sprintf("%s %s %x", name, what, sum[:6]))
		}
		for key, c := range p.Charts {
			say("chart "+key, paper.ChartSVG(p, c, key))
			say("part of "+key, paper.ChartPartSVG(p, c, key, [2]int{1, min(4, c.H)}, [][2]int{{1, 1}}))
		}
		for _, face := range []chart.Face{chart.KnitSide, chart.PurlSide} {
			say(face.String(), paper.FabricSVG(r.Fabric, face, paper.Window{X: 1, Y: 1, W: 24, H: 24}))
			data, err := paper.FabricPNG(t.Context(), r.Fabric, face, paper.Window{W: 60, H: 60}, 6)
			if err != nil {
				t.Fatal(err)
			}
			say(face.String()+" picture", data)
		}
		for no := 1; no <= len(p.Sections); no++ {
			if r.Plan.Section(no) == nil {
				continue
			}
			say(fmt.Sprint("cut ", no), paper.CutSVG(r.Fabric, no, 1))
			if data, err := paper.CoursesPNG(r.Fabric, no); err == nil {
				say(fmt.Sprint("courses ", no), data)
			}
			if data, err := paper.PlacedPNG(p, r.Plan.Section(no)); err == nil {
				say(fmt.Sprint("placed ", no), data)
			}
		}
		for _, no := range card.Sections(r.Plan) {
			if p.Machine.HasCard() {
				made, _ := card.Make(r.Plan, no)
				say(fmt.Sprint("card ", no), paper.CardSVG(made, &p.Machine, "card"))
			} else if data, err := paper.ProgramPNG(card.MakeProgram(r.Plan, no)); err == nil {
				say(fmt.Sprint("program ", no), data)
			}
		}
	}
	slices.Sort(got)
	const file = "testdata/drawn.txt"
	text := strings.Join(got, "\n") + "\n"
	if *update {
		if err := os.WriteFile(file, []byte(text), 0o644); err != nil {
			t.Fatal(err)
		}
		return
	}
	was, err := os.ReadFile(file)
	if err != nil {
		t.Fatal(err)
	}
	old := strings.Split(string(was), "\n")
	for _, l := range got {
		if !slices.Contains(old, l) {
			t.Errorf("drawn otherwise: %s", l)
		}
	}
	if len(old) != len(got)+1 {
		t.Errorf("%d pictures, not %d", len(got), len(old)-1)
	}
}
