package measure_test

import (
	"encoding/json"
	"fmt"

	"vindel/knit/measure"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
)

func Example() {
	p := piecetest.Tour()
	b, _ := json.Marshal(measure.Of(plan.Make(p)).JSON(p))
	fmt.Println(string(b))
	// Output:
	// {"width_mm":28.57,"height_mm":12.5,"stitches":8,"rows":5,"yarns":[{"id":"A","stitches":28,"short":0},{"id":"B","stitches":12,"short":0}],"passes":5,"minutes":1,"basis":"gauge"}
}
