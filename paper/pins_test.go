package paper_test

import (
	"bytes"
	"compress/zlib"
	"crypto/sha256"
	"flag"
	"fmt"
	"io"
	"maps"
	"math/rand/v2"
	"os"
	"regexp"
	"slices"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/demo/pieces"
	"vindel/knit/card"
	"vindel/knit/chart"
	"vindel/knit/check"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
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
	compare(t, "testdata/drawn.txt", got, true)
}

var stream = regexp.MustCompile(`(?s)stream\n(.*?)\nendstream`)

// onPages is what the pages of a PDF file draw and write, without its fonts, and when it was made.
func onPages(data []byte) (drawn []byte) {
	for _, m := range stream.FindAllSubmatch(data, -1) {
		r, err := zlib.NewReader(bytes.NewReader(m[1]))
		if err != nil {
			continue
		}
		if text, err := io.ReadAll(r); err == nil && bytes.Contains(text, []byte(" Tf")) {
			drawn = append(drawn, text...)
		}
	}
	return drawn
}

// TestPrintedAsBefore: every sheet of Larkmoor and of some random pieces is printed as it was; of every third piece, but
// in `make soak`.
func TestPrintedAsBefore(t *testing.T) {
	all := map[string]*piece.Piece{}
	for name, data := range pieces.All() {
		p, err := technique.Read(data)
		if err != nil {
			t.Fatal(err)
		}
		all[name] = p
	}
	for n := range 8 {
		_, all[fmt.Sprint("random ", n)] = chance.Piece(t, rand.New(rand.NewPCG(uint64(n), 81)))
	}
	var got []string
	every := *update || chance.Soaks()
	for i, name := range slices.Sorted(maps.Keys(all)) {
		if !every && i%3 != 0 {
			continue
		}
		p := all[name]
		r := check.Run(p)
		say := func(what string, data []byte, err error) {
			sum := sha256.Sum256(onPages(data))
			got = append(got, fmt.Sprintf("%s %s %x %v", name, what, sum[:6], err))
		}
		for key, c := range p.Charts {
			data, err := paper.ChartPDF(p, c, key)
			say("chart "+key, data, err)
			on := paper.Sheets[c.H%2]
			data, err = paper.GridPDF(p, paper.Grid{Chart: c}, on)
			say(fmt.Sprint("grid ", key, " ", on.Name), data, err)
		}
		if len(r.Plan.Passes) < 900 {
			data, err := paper.PlanPDF(r.Plan)
			say("plan", data, err)
		}
		for no := range p.Sections {
			if r.Plan.Section(no+1) == nil {
				continue
			}
			for _, s := range []struct {
				what  string
				there bool
				print func(*pass.Plan, int) ([]byte, error)
			}{
				{"cheat", true, paper.CheatPDF}, {"lines", p.Sections[no].Lace(), paper.LaceListPDF},
				{"laying", p.Sections[no].Technique.Name == "intarsia", paper.LayingPDF},
				{"program", p.Machine.Program == machine.Electronic, paper.ProgramPDF},
				{"strip", p.Machine.Program == machine.NoProgram, paper.StripPDF},
			} {
				if s.there {
					data, err := s.print(r.Plan, no+1)
					say(fmt.Sprint(s.what, no+1), data, err)
				}
			}
		}
		for _, no := range card.Sections(r.Plan) {
			if p.Machine.HasCard() {
				made, _ := card.Make(r.Plan, no)
				data, err := paper.CardSheetsPDF(made, &p.Machine, "card", paper.Sheets[0])
				say(fmt.Sprint("card ", no), data, err)
			}
		}
	}
	compare(t, "testdata/printed.txt", got, every)
}

// compare holds lines, in any order, to a golden file; to some of it, where not all is asked for.
func compare(t *testing.T, file string, got []string, all bool) {
	t.Helper()
	slices.Sort(got)
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
	if all && len(old) != len(got)+1 {
		t.Errorf("%d pictures, not %d", len(got), len(old)-1)
	}
}
