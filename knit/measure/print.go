package measure

import (
	"cmp"
	"fmt"
	"math"
	"strings"

	"vindel/knit/piece"
	"vindel/knit/words"
)

type sheet struct {
	WidthMM  float64     `json:"width_mm"`
	HeightMM float64     `json:"height_mm"`
	Stitches int         `json:"stitches"`
	Rows     int         `json:"rows"`
	Yarns    []yarnSheet `json:"yarns"`
	Passes   int         `json:"passes"`
	Minutes  int         `json:"minutes"`
	Basis    string      `json:"basis"`
}

type yarnSheet struct {
	ID       string   `json:"id"`
	Stitches int      `json:"stitches"`
	Metres   *float64 `json:"metres,omitempty"`
	Grams    *float64 `json:"grams,omitempty"`
	Balls    *int     `json:"balls,omitempty"`
	Short    int      `json:"short"`
}

// JSON is the measure as the command line prints it, lengths and weights to a hundredth; what is not known is left
// out.
func (m *Measure) JSON(p *piece.Piece) any {
	v := sheet{round(m.WidthMM), round(m.HeightMM), m.Stitches, m.Rows, []yarnSheet{}, m.Passes, m.Minutes, m.Basis}
	for _, y := range m.Yarns {
		s := yarnSheet{ID: p.YarnID(y.No), Stitches: y.Stitches, Short: y.Short}
		if y.Weighed {
			g := round(y.Grams)
			s.Grams = &g
		}
		if y.Metres > 0 {
			l := round(y.Metres)
			s.Metres = &l
		}
		if y.Balls > 0 {
			s.Balls = &y.Balls
		}
		v.Yarns = append(v.Yarns, s)
	}
	return v
}

func round(x float64) float64 { return math.Round(x*100) / 100 }

// Text is the measure in a few lines.
func (m *Measure) Text(p *piece.Piece) string {
	var b strings.Builder
	by := map[string]string{"swatch": "by the swatch", "gauge": "by the gauge",
		"assumed": "assumed, without a swatch"}[m.Basis]
	fmt.Fprintf(&b, "%s\n%.0f × %.0f mm, %s; %s, %s\n", cmp.Or(p.Name, "Untitled piece"), m.WidthMM, m.HeightMM, by,
		words.Stitches(m.Stitches), words.Count(m.Rows, "row", "rows"))
	for _, y := range m.Yarns {
		fmt.Fprintf(&b, "%s %s: %s\n", p.YarnID(y.No), p.Yarns[y.No-1].Name, y.Says())
	}
	fmt.Fprintf(&b, "%s, about %s\n", words.Count(m.Passes, "pass", "passes"), words.Count(m.Minutes, "minute",
		"minutes"))
	return b.String()
}

// Says is what is taken of a yarn, in words.
func (y *Yarn) Says() string {
	said := words.Stitches(y.Stitches)
	if y.Weighed {
		said += fmt.Sprintf(", %.1f g", y.Grams)
	}
	if y.Metres > 0 {
		said += fmt.Sprintf(", %.0f m", y.Metres)
	}
	if y.Balls > 0 {
		said += ", " + words.Count(y.Balls, "ball", "balls")
	}
	if y.Short > 0 {
		said += fmt.Sprintf(", %d missing", y.Short)
	}
	return said
}
