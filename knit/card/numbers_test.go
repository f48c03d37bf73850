package card_test

import (
	"math/rand/v2"
	"slices"
	"testing"

	"vindel/chance"
	"vindel/knit/card"
	"vindel/knit/plan"
	"vindel/knit/step"
)

// TestNumbersSeen: every number that is to stand in the window, of the card that is in by then, is printed on that card.
func TestNumbersSeen(t *testing.T) {
	read := 0
	for n := range chance.Cases(1500) {
		_, p := chance.Piece(t, rand.New(rand.NewPCG(uint64(n), 87)))
		pl := plan.Make(p)
		if !p.Machine.HasCard() {
			continue
		}
		printed := map[int][]int{}
		for _, s := range card.Sections(pl) {
			c, _ := card.Make(pl, s)
			printed[s] = c.Numbers
		}
		in := 0
		for i := range pl.Passes {
			for _, st := range pl.Passes[i].Before {
				if put, ok := st.Step.(step.SetCard); ok && put.Section > 0 {
					in = put.Section
				}
			}
			if w := pl.Passes[i].Window; w > 0 {
				if read++; !slices.Contains(printed[in], w) {
					t.Fatalf("piece %d, pass %d: %d is not on the card of section %d, %v", n, i+1, w, in, printed[in])
				}
			}
		}
	}
	if read < chance.Share(5000, 1500) {
		t.Errorf("only %d readings", read)
	}
}
