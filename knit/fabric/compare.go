package fabric

import (
	"bytes"
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// compare counts the stitches that are not what the charts asked for. Rows that
// belong to no chart row are not compared, nor are the needles a policy holds.
func (f *Fabric) compare() {
	p := f.Plan.Piece
	work := p.Work()
	all := work.Len() == f.W
	for i := range f.Courses {
		c := &f.Courses[i]
		if c.Row == 0 {
			continue
		}
		want, got := f.Plan.Placed[c.Section-1].YarnRow(c.Row), f.Row(i+1)
		f.Exempt += c.Exempt.Len()
		if all && bytes.Equal(want, got) {
			continue
		}
		for n := range work.Minus(c.Exempt).All() {
			x := int(n - f.From)
			if want[x] != got[x] {
				f.differ(c, n, "shows %s, the chart asks for %s", name(p, got[x]), name(p, want[x]))
			}
		}
	}
	if at := f.Plan.Stopped; at.Row > 0 && f.First == "" {
		f.First = fmt.Sprintf("section %d, row %d: not planned", at.Section+1, at.Row)
	}
}

func (f *Fabric) differ(c *Course, n machine.Needle, format string, a ...any) {
	if f.Differences++; f.Differences == 1 {
		f.First = fmt.Sprintf("section %d, row %d, %v: ", c.Section, c.Row, n) + fmt.Sprintf(format, a...)
	}
}

func name(p *piece.Piece, y piece.YarnNo) string {
	if y == 0 {
		return "nothing"
	}
	return p.YarnName(y)
}
