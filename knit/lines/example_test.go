package lines_test

import (
	"fmt"

	"vindel/knit/lines"
)

func Example() {
	list, err := lines.Parse("#...\n.#.. knit 2\n....")
	fmt.Println(len(list), err)
	fmt.Print(lines.Text(list))
	// Output:
	// 3 <nil>
	// #...
	// .#..  knit 2
	// ....
}
