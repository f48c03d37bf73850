package words_test

import (
	"fmt"

	"vindel/knit/words"
)

func Example() {
	fmt.Println(words.Count(1, "pass", "passes"), "·", words.Count(5, "pass", "passes"), "·", words.Stitches(8))
	// Output:
	// 1 pass · 5 passes · 8 stitches
}
