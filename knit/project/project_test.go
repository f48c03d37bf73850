package project_test

import (
	"strings"
	"testing"

	"vindel/knit/pass"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/project"
)

func planned(t *testing.T, from, to string, rows int, name string) *pass.Plan {
	return plan.Make(piecetest.New(t, "card-direct", from, to, []string{".#"}, piecetest.Set("/sections/0/rows",
		rows), piecetest.Set("/name", name),
		piecetest.Set("/yarns/0/name", "oat"), piecetest.Set("/swatch", map[string]any{"stitches": 20,
			"width_mm": 100, "rows": 40, "height_mm": 100, "grams": 8})))
}

// TestSeams: what is said where two edges meet, by how they do, at and beyond what can be eased in.
func TestSeams(t *testing.T) {
	back, front := planned(t, "L20", "R20", 80, "back"), planned(t, "L20", "R19", 84, "front")
	longer, band := planned(t, "L20", "R20", 86, "longer"), planned(t, "L10", "R10", 8, "band")
	plans := map[int64]*pass.Plan{1: back, 2: front, 3: longer, 4: band}
	edges := func(e project.End) (*project.Edge, float64) {
		for _, one := range project.Edges(plans[e.Piece]) {
			if one.Key == e.Edge {
				return &one, plans[e.Piece].Piece.StitchMM()
			}
		}
		return nil, 1
	}
	for _, c := range []struct {
		a, b string
		to   int64
		how  string
		fits bool
		says string
	}{
		{"left", "right", 1, "sewn", true, ""},
		{"left", "right", 2, "sewn", true, "The first is 10 mm shorter; ease it in"},
		{"left", "right", 3, "sewn", false, "The first is 15 mm shorter: they do not fit"},
		{"top", "cast-on", 1, "joined", true, ""},
		{"top", "top", 2, "joined", false, "40 stitches meet 39: two go together 1 time"},
		{"left", "top", 2, "joined", false,
			"Only stitches are joined one by one, and one of these runs along rows: sew it"},
		{"left", "cast-on", 4, "picked-up", true,
			"Pick up 40 stitches evenly along 200 mm; about 5 in every 10 rows; the other begins with 20: 20 " +
				"stitches more are picked up"},
		{"left", "no such edge", 4, "sewn", false, "One of the edges is not there any more; choose again"},
	} {
		m := project.Meet(project.Seam{A: project.End{Piece: 1, Edge: c.a}, B: project.End{Piece: c.to, Edge: c.b},
			How: c.how}, edges)
		if got := strings.Join(m.Says, "; "); got != c.says || m.Fits != c.fits {
			t.Errorf("%s of the back %s %s of %d: %q, fits %v; want %q, %v", c.a, c.how, c.b, c.to, got, m.Fits,
				c.says, c.fits)
		}
	}
}

// TestYarns: what two pieces take of a yarn is added up by its name, and balls come with a tenth over.
func TestYarns(t *testing.T) {
	plans := []*pass.Plan{planned(t, "L20", "R20", 80, "a"), planned(t, "L20", "R20", 80, "b")}
	need := project.Yarns(plans, []project.Ball{{Yarn: "oat", Grams: 10, Have: 2}})
	// 2 × 80 rows of 40 stitches, half of them oat, at 8 g for 20 × 40 stitches
	if n := need[0]; n.Yarn != "oat" || n.Stitches != 3200 || n.Grams < 31.9 || n.Grams > 32.1 || n.Balls != 4 ||
		n.Short != 2 {
		t.Errorf("%+v", n)
	}
	if n := need[1]; n.Balls != 0 || n.Stitches != 3200 {
		t.Errorf("a yarn whose ball is not known: %+v", n)
	}
}
