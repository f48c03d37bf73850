package piece

import (
	"cmp"
	"fmt"
)

// Differences lists the cells (column and row from 1) that both charts have and that mean
// something else: another yarn, or another stitch.
func Differences(p *Piece, a *Chart, q *Piece, b *Chart) (list [][2]int) {
	if a == nil || b == nil {
		return nil
	}
	means := func(p *Piece, c *Chart) map[rune]string {
		out := map[rune]string{}
		for r, m := range p.Marks(c) {
			out[r] = fmt.Sprint(cmp.Or(string(m.Yarn), "-"), m.Stitch)
		}
		return out
	}
	one, two := means(p, a), means(q, b)
	for y := range min(a.H, b.H) {
		for x := range min(a.W, b.W) {
			if one[a.Keys[a.At(x, y)]] != two[b.Keys[b.At(x, y)]] {
				list = append(list, [2]int{x + 1, y + 1})
			}
		}
	}
	return list
}
