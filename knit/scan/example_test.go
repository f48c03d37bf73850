package scan_test

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/png"

	"vindel/knit/scan"
)

func Example() {
	var empty bytes.Buffer
	png.Encode(&empty, image.NewGray(image.Rect(0, 0, 200, 300)))
	_, err := scan.Read(context.Background(), empty.Bytes(), scan.Options{Columns: 24, Rows: 36})
	fmt.Println(err)
	// Output:
	// no grid of holes is found: photograph the card flat and from straight above, over a ground that is darker or lighter, and leave little beside it
}
