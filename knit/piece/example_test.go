package piece_test

import (
	"fmt"

	"vindel/knit/piecetest"
	"vindel/knit/technique"
)

func Example() {
	p := piecetest.Tour()
	low, high := p.Ends()
	fmt.Printf("%s, on %v to %v; %s and %s\n", p.Name, low, high, p.YarnName(1), p.YarnName(2))
	_, err := technique.Read([]byte(`{"vindel": 1, "name": "x", "machine": {"profile": "card-preselect"}, "rows": 3}`))
	fmt.Println(err)
	// Output:
	// drift pennant, on L4 to R4; oat and slate
	// unknown key "rows"; a newer Vindel may have written it, here there are vindel, name, machine, yarns, charts, needles, second, start, begin, end, sections, limits, options, gauge, swatch, shape, outline, kept, sizes (and 2 more)
}
