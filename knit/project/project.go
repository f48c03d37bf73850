package project

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"vindel/knit/measure"
	"vindel/knit/outline"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// Project is what is stored of a project.
type Project struct {
	Name  string   `json:"name"`
	Parts []Member `json:"parts"`
	Seams []Seam   `json:"seams"`
	Balls []Ball   `json:"balls"`
	Notes []string `json:"notes,omitempty"`
}

// Member is a piece that belongs to it; MirrorOf is another of which it is the mirror image, 0 for none.
type Member struct {
	Piece    int64 `json:"piece"`
	MirrorOf int64 `json:"mirror_of,omitempty"`
}

// Seam is two edges that meet, in the order in which they are put together.
type Seam struct {
	A   End    `json:"a"`
	B   End    `json:"b"`
	How string `json:"how"` // sewn, joined, picked-up
}

// End is an edge of a piece, by its key.
type End struct {
	Piece int64  `json:"piece"`
	Edge  string `json:"edge"`
}

// Ball is what a ball of a yarn weighs and measures, and how many are at hand; 0: not known.
type Ball struct {
	Yarn   string  `json:"yarn"` // its name
	Grams  float64 `json:"grams,omitempty"`
	Metres float64 `json:"metres,omitempty"`
	Have   int     `json:"have,omitempty"`
}

// Hows are the ways in which edges meet.
var Hows = []piece.Word{{Value: "sewn", Text: "sewn together"}, {Value: "joined", Text: "joined stitch by stitch"},
	{Value: "picked-up", Text: "picked up along the first"}}

// Edge is a whole edge of a planned piece, from corner to corner of it or of one of its parts.
type Edge struct {
	Key      string // left, right, cast-on, top, middle; of a part "first left" and so on
	MM       float64
	Stitches int // 0: it runs along rows
	Rows     int
}

// Edges are the whole edges of a planned piece.
func Edges(pl *pass.Plan) (list []Edge) {
	at := map[string]int{}
	for _, e := range outline.Of(pl).Edges {
		key := e.Name
		if e.Part != piece.Whole {
			key = e.Part.String() + " " + key
		}
		i, known := at[key]
		if !known {
			i = len(list)
			at[key], list = i, append(list, Edge{Key: key})
		}
		list[i].MM += e.MM
		switch {
		case e.Side == 0 || e.Act != "":
			list[i].Stitches += e.Stitches
		default:
			list[i].Rows += e.Rows[1] - e.Rows[0] + 1
		}
	}
	return list
}

// Words says what an edge is made of: "152 mm, 48 rows and 6 stitches".
func (e Edge) Words() string {
	var parts []string
	if e.Rows > 0 {
		parts = append(parts, words.Count(e.Rows, "row", "rows"))
	}
	if e.Stitches > 0 {
		parts = append(parts, words.Stitches(e.Stitches))
	}
	return fmt.Sprintf("%.0f mm, %s", e.MM, strings.Join(parts, " and "))
}

// Met is a seam as it is to be made: both edges, and what to mind.
type Met struct {
	Seam
	EdgeA, EdgeB *Edge // nil: the piece has no such edge any more
	Says         []string
	Fits         bool
}

// fitsWithin is by how much two edges that are sewn together may differ: a twentieth is eased in.
const fitsWithin = 0.05

// Meet works out a seam; edges gives an edge of a piece, and width the width of its stitch in millimetres.
func Meet(s Seam, edges func(End) (e *Edge, stitchMM float64)) (m Met) {
	m.Seam = s
	a, _ := edges(s.A)
	b, width := edges(s.B)
	m.EdgeA, m.EdgeB = a, b
	if a == nil || b == nil {
		m.Says = append(m.Says, "One of the edges is not there any more; choose again")
		return m
	}
	by := a.MM - b.MM
	switch s.How {
	case "picked-up":
		n := int(math.Round(a.MM / width))
		m.Fits = true
		m.Says = append(m.Says, fmt.Sprintf("Pick up %s evenly along %.0f mm", words.Stitches(n), a.MM))
		if a.Rows > 0 && n > 0 && n < a.Rows {
			m.Says = append(m.Says, fmt.Sprintf("about %d in every %d rows",
				int(math.Round(10*float64(n)/float64(a.Rows))), 10))
		}
		if b.Stitches > 0 && b.Stitches != n {
			m.Says = append(m.Says, fmt.Sprintf("the other begins with %d: %s", b.Stitches, more(n-b.Stitches,
				"stitch", "stitches")))
		}
	case "joined":
		m.Fits = a.Stitches == b.Stitches && a.Rows == 0 && b.Rows == 0
		if a.Rows+b.Rows > 0 {
			m.Says = append(m.Says, "Only stitches are joined one by one, and one of these runs along rows: sew it")
		} else if !m.Fits {
			m.Says = append(m.Says, fmt.Sprintf("%d stitches meet %d: two go together %s", a.Stitches, b.Stitches,
				words.Count(max(a.Stitches-b.Stitches, b.Stitches-a.Stitches), "time", "times")))
		}
	default:
		m.Fits = math.Abs(by) <= fitsWithin*max(a.MM, b.MM)
		switch {
		case math.Abs(by) < 1:
		case m.Fits:
			m.Says = append(m.Says, fmt.Sprintf("The first is %s; ease it in", longer(by)))
		default:
			m.Says = append(m.Says, fmt.Sprintf("The first is %s: they do not fit", longer(by)))
		}
	}
	return m
}

func longer(by float64) string {
	if by < 0 {
		return fmt.Sprintf("%.0f mm shorter", -by)
	}
	return fmt.Sprintf("%.0f mm longer", by)
}

func more(n int, one, many string) string {
	if n < 0 {
		return words.Count(-n, one, many) + " fewer are picked up"
	}
	return words.Count(n, one, many) + " more are picked up"
}

// Need is what a project takes of a yarn.
type Need struct {
	Yarn, Colour string
	Stitches     int
	Grams        float64 // 0: no swatch says it
	Unknown      bool    // of some piece no swatch says it
	Balls, Short int     // Balls 0: the ball is not known
}

// Yarns adds up what planned pieces take of each yarn, by its name and by the measure of each; balls are those known.
func Yarns(plans []*pass.Plan, balls []Ball) (list []Need) {
	for _, pl := range plans {
		for _, use := range measure.Of(pl).Yarns {
			y := pl.Piece.Yarns[use.No-1]
			at := slices.IndexFunc(list, func(n Need) bool { return n.Yarn == y.Name })
			if at < 0 {
				at = len(list)
				list = append(list, Need{Yarn: y.Name, Colour: y.Colour})
			}
			n := &list[at]
			n.Stitches += use.Stitches
			n.Grams += use.Grams
			n.Unknown = n.Unknown || !use.Weighed
		}
	}
	for i := range list {
		n := &list[i]
		at := slices.IndexFunc(balls, func(b Ball) bool { return b.Yarn == n.Yarn })
		if at >= 0 && balls[at].Grams > 0 && n.Grams > 0 && !n.Unknown {
			n.Balls = int(math.Ceil(n.Grams * (1 + piece.DefaultMargin) / balls[at].Grams))
			n.Short = max(0, n.Balls-balls[at].Have)
		}
	}
	return list
}
