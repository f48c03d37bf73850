package sketch_test

import (
	"fmt"
	"strings"

	"vindel/knit/sketch"
)

func Example() {
	rows, err := sketch.Lettering("7", false)
	if err != nil {
		fmt.Println(err)
	}
	fmt.Println(strings.Join(rows, "\n"))
	// Output:
	// ####
	// ...#
	// ..#.
	// ..#.
	// .#..
	// .#..
	// .#..
}
