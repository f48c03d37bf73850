package technique

import (
	"fmt"

	"vindel/knit/chart"
	"vindel/knit/piece"
)

var Lace = Technique{Technique: piece.Technique{
	Name: "lace", Label: "lace", Drawn: piece.InLace, OneYarn: true,
	Transforms: []string{"mirror"}, Changed: "mirrored and repeated", Options: []string{"lean", "transfer"}, Sense: laceSense,
}}

// laceSense checks what lace needs of its charts: that they show rows alike, and that
// none names a yarn, since one yarn makes a row.
func laceSense(p *piece.Piece, s *piece.Section, fault func(place, format string, a ...any)) {
	for i, a := range s.Areas {
		at := fmt.Sprintf("areas[%d].chart", i)
		if a.Chart.All != s.Areas[0].Chart.All {
			fault(at, "%q: it shows other rows than %q; the charts of one lace section show all rows, or right-side rows only", a.Chart.Name, s.Areas[0].Chart.Name)
		}
		for k, m := range a.Chart.Means {
			key := string(a.Chart.Keys[k])
			if m.Yarn != 0 && string(m.Yarn) != p.YarnID(s.Yarn) {
				fault(at, "%q: %q names yarn %c; the yarn of a lace row is the section's", a.Chart.Name, key, m.Yarn)
			}
			if m.Stitch == chart.Tuck || m.Stitch == chart.Slip || m.Stitch == chart.Weave {
				fault(at, "%q: %q means %v; lace knits, purls and transfers", a.Chart.Name, key, m.Stitch)
			}
		}
	}
}
