package recipe_test

import (
	"fmt"

	"vindel/knit/recipe"
)

func Example() {
	rec, _ := recipe.Parse("name posts   =   every 2\nrepeat 3\nhold posts\npass 2\nend\n")
	fmt.Print(rec) // as it is written
	_, errs := recipe.Parse("yarn\npass 0\n")
	for _, e := range errs {
		fmt.Println(e)
	}
	// Output:
	// name posts = every 2
	// repeat 3
	//   hold posts
	//   pass 2
	// end
	// line 1, column 5: something is missing: a yarn, by its letter
}
