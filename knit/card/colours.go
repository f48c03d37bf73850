package card

import (
	"fmt"

	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// lineColours is how a section (from 1) whose lines are of one colour each comes to its lines: how
// many colours its rows have at most, and how often each is worked.
func lineColours(pl *pass.Plan, section int) (colours, times int) {
	yarns, row := map[piece.YarnNo]int{}, 0
	for i := range pl.Passes {
		p := &pl.Passes[i]
		if p.Section != section || !p.Patterned {
			continue
		}
		if p.Row() != row {
			row = p.Row()
			clear(yarns)
		}
		yarns[p.Yarn(1)]++
		colours, times = max(colours, len(yarns)), max(times, yarns[p.Yarn(1)])
	}
	return colours, times
}

// fits says in rows of the drawing how much a memory of so many lines holds.
func fits(pl *pass.Plan, section, most int) string {
	colours, times := lineColours(pl, section)
	said := words.Count(colours, "colour", "colours")
	if times == 2 {
		return fmt.Sprintf("With %s it holds at most %d rows, each worked twice.", said, most/(2*colours))
	}
	return fmt.Sprintf("With %s it holds at most %d rows.", said, most/max(colours, 1))
}
