package repeats_test

import (
	"testing"

	"vindel/knit/check"
	"vindel/knit/finding"
	"vindel/knit/repeats"
	"vindel/knit/technique"
)

// edges are what the ends of the work want, whatever is drawn: the page offers a mend.
var edges = map[finding.Code]bool{finding.EdgeNotKnit: true, finding.LaceEdge: true, finding.WeaveLoose: true}

// TestRepeats: every repeat of the shelf, put four times side by side on a machine of each kind
// that can work it, comes out as drawn, and nothing is to be mended.
func TestRepeats(t *testing.T) {
	machines := map[string][]string{
		"two-colour": {"card-preselect", "card-direct", "program-preselect"}, "slip": {"hand-mid", "card-preselect",
			"program-preselect"},
		"tuck": {"hand-mid", "card-preselect", "card-direct", "program-preselect"}, "lace": {"hand-mid",
			"card-preselect"},
		"weave": {"card-preselect"}}
	if n := len(repeats.All()); n < 30 {
		t.Errorf("%d repeats", n)
	}
	seen := map[string]bool{}
	for _, r := range repeats.All() {
		if seen[r.Key] || repeats.Find(r.Key).Name != r.Name {
			t.Errorf("%s is there twice", r.Key)
		}
		seen[r.Key] = true
		if 24%r.Chart.W != 0 {
			t.Errorf("%s: %d columns do not go into a card", r.Key, r.Chart.W)
		}
		for _, m := range machines[r.Technique] {
			doc, err := r.Document(r.Name, m, 4)
			if err != nil {
				t.Fatalf("%s: %v", r.Key, err)
			}
			p, err := technique.Piece(doc)
			if err != nil {
				t.Fatalf("%s: %v", r.Key, err)
			}
			res := check.Run(p)
			if !res.Fabric.Matches() {
				t.Errorf("%s on %s: %s", r.Key, m, res.Fabric.First)
			}
			for _, f := range res.Findings {
				if f.Severity == finding.Stop || f.Severity == finding.Warn && !edges[f.Code] {
					t.Errorf("%s on %s: %s", r.Key, m, f.Text)
				}
			}
		}
	}
	if len(machines) == 0 || repeats.Find("none") != nil {
		t.Error("a key that is not there is found")
	}
}
