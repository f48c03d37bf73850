package piece

import (
	"fmt"
	"image/color"
)

// defaultColours are yarns of a moorland: oat, spruce, rowan, slate, gorse, peat …
var defaultColours = []color.RGBA{
	{0xe6, 0xd8, 0xbd, 255}, {0x23, 0x48, 0x3f, 255}, {0xb4, 0x53, 0x2f, 255}, {0x4f, 0x63, 0x70, 255},
	{0xc9, 0x9a, 0x2e, 255},
	{0x4a, 0x3a, 0x30, 255}, {0x8a, 0x9a, 0x6b, 255}, {0x9b, 0x86, 0x9c, 255}, {0xd8, 0xdc, 0xd6, 255},
	{0x7a, 0x2f, 0x3d, 255},
}

var defaultNames = []string{"oat", "spruce", "rowan", "slate", "gorse", "peat", "lichen", "heather", "frost",
	"madder"}

// DefaultColour is the i-th colour (from 0) that a new yarn gets, and its name.
func DefaultColour(i int) (color.RGBA, string) {
	n := len(defaultColours)
	name := defaultNames[i%n]
	if i >= n {
		name = fmt.Sprintf("%s %d", name, i/n+1)
	}
	return defaultColours[i%n], name
}

// YarnLetters are the letters a yarn may have, capitals first.
const YarnLetters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnpqrstuvwxyz"

// DefaultPalette is n colours for a chart whose characters have none of their own.
func DefaultPalette(n int) (colours []color.RGBA) {
	for i := range n {
		c, _ := DefaultColour(i)
		// Later rounds are darkened, so that no two are the same.
		for range i / len(defaultColours) {
			c = color.RGBA{c.R / 8 * 7, c.G / 8 * 7, c.B / 8 * 7, 255}
		}
		colours = append(colours, c)
	}
	return colours
}

func hexRGBA(s string) (c color.RGBA) {
	fmt.Sscanf(s, "#%02x%02x%02x", &c.R, &c.G, &c.B)
	c.A = 255
	return c
}

// Dark says that what is drawn on a colour should be light.
func Dark(c color.RGBA) bool { return 30*int(c.R)+59*int(c.G)+11*int(c.B) < 100*130 }

// Hex writes a colour as piece files do: #rrggbb.
func Hex(c color.RGBA) string { return fmt.Sprintf("#%02x%02x%02x", c.R, c.G, c.B) }
