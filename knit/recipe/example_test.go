package recipe_test

import (
	"fmt"
	"strings"

	"vindel/knit/recipe"
)

func Example() {
	rec, errs := recipe.Parse("name posts = every 2\nrepeat 3\n  hold posts\n  pass 2\nend\nyarn\n")
	for _, e := range errs {
		fmt.Println(e)
	}
	fmt.Println(strings.TrimSpace(rec.String()))
	// Output:
	// line 6, column 5: something is missing: a yarn, by its letter
	// name posts = every 2
	// repeat 3
	//   hold posts
	//   pass 2
	// end
	// note
}
