package technique_test

import (
	"fmt"
	"slices"
	"testing"

	"vindel/knit/check"
	"vindel/knit/finding"
	"vindel/knit/technique"
)

// TestShortRows: a run of waiting needles that grows is a short row: a note with its turns
// and wales, and neither a selvedge that ladders nor a stitch drawn too tall, whatever the
// policy for the ends says; a run that does not grow is a fault of the selvedge.
func TestShortRows(t *testing.T) {
	for _, c := range []struct {
		name string
		rows []string // the top row first
		want string   // codes, with their rows; then the note's figures
	}{
		{"growing on the left", []string{"######..", "######..", "####....", "####....", "##......", "##......",
			"........"},
			"turn-hole 2-7"},
		{"waiting for longer than a stitch may be slipped",
			append(slices.Repeat([]string{"####...."}, 7), "##......", "........"), "turn-hole 2-9"},
		{"waiting, and no more", []string{"##......", "##......", "........"}, "edge-not-knit 2-3"},
		{"growing on the right, then at rest again", []string{"........", "......##", ".......#", "........"},
			"turn-hole 2-3"},
		{"in the middle", []string{"...##...", "...#....", "........"}, ""},
	} {
		for _, policy := range []string{"off", "auto", "hand"} {
			pl := check.Run(stitchPiece(t, "card-direct", "slip", "slip", 8, c.rows, set("/charts/c/side", "purl"),
				set("/options", map[string]any{"end_needles": policy})))
			got := ""
			for _, f := range pl.Findings {
				if f.Code != finding.FacesAway {
					got += fmt.Sprintf("%s %d-%d ", f.Code, f.Rows[0], f.Rows[1])
				}
			}
			want := c.want
			if want != "" {
				want += " "
			}
			if policy != "off" && c.name == "waiting, and no more" {
				want = "" // the policy keeps the ends
			}
			if got != want || !technique.Prove(pl.Plan).Matches() {
				t.Errorf("%s, %s: %s, want %s", c.name, policy, got, want)
			}
		}
	}
}
