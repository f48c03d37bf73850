package sketch

import (
	"fmt"
	"strings"
	"unicode"

	"vindel/knit/chart"
)

// Lettering is a line of text in knitted letterforms, drawn for Vindel: '#' the letters,
// '.' the ground, top row first, one stitch between letters. It is seven rows tall, or
// eleven where tall is set: a stitch is wider than it is high, so letters need rows. An
// unknown character is an error that names it; small letters are drawn as capitals.
func Lettering(text string, tall bool) ([]string, error) {
	rows := make([]strings.Builder, len(lowRows))
	for i, r := range []rune(text) {
		g, ok := letterforms[unicode.ToUpper(r)]
		if !ok {
			return nil, fmt.Errorf("character %d: %q has no letterform; there are A to Z, 0 to 9 and %s", i+1,
				string(r), punctuation)
		}
		for y, part := range strings.Split(g, "|") {
			if i > 0 {
				rows[y].WriteByte('.')
			}
			rows[y].WriteString(part)
		}
	}
	if rows[0].Len() == 0 || rows[0].Len() > chart.MaxWidth {
		return nil, fmt.Errorf("%d stitches of lettering; write 1 to %d", rows[0].Len(), chart.MaxWidth)
	}
	order := lowRows
	if tall {
		order = tallRows
	}
	out := make([]string, 0, len(order))
	for _, y := range order {
		out = append(out, rows[y].String())
	}
	return out, nil
}

// The rows of a letterform in each height: tall letters stretch at their stems.
var (
	lowRows  = []int{0, 1, 2, 3, 4, 5, 6}
	tallRows = []int{0, 1, 1, 2, 2, 3, 4, 4, 5, 5, 6}
)

const punctuation = ". , - ! ? & ' + /"

// letterforms are seven rows each, the top first.
var letterforms = map[rune]string{
	'A':  ".###.|#...#|#...#|#####|#...#|#...#|#...#",
	'B':  "####.|#...#|#...#|####.|#...#|#...#|####.",
	'C':  ".####|#....|#....|#....|#....|#....|.####",
	'D':  "####.|#...#|#...#|#...#|#...#|#...#|####.",
	'E':  "####|#...|#...|###.|#...|#...|####",
	'F':  "####|#...|#...|###.|#...|#...|#...",
	'G':  ".####|#....|#....|#..##|#...#|#...#|.####",
	'H':  "#...#|#...#|#...#|#####|#...#|#...#|#...#",
	'I':  "###|.#.|.#.|.#.|.#.|.#.|###",
	'J':  "..##|...#|...#|...#|...#|#..#|.##.",
	'K':  "#...#|#..#.|#.#..|##...|#.#..|#..#.|#...#",
	'L':  "#...|#...|#...|#...|#...|#...|####",
	'M':  "#...#|##.##|#.#.#|#.#.#|#...#|#...#|#...#",
	'N':  "#...#|##..#|##..#|#.#.#|#..##|#..##|#...#",
	'O':  ".###.|#...#|#...#|#...#|#...#|#...#|.###.",
	'P':  "####.|#...#|#...#|####.|#....|#....|#....",
	'Q':  ".###.|#...#|#...#|#...#|#.#.#|#..#.|.##.#",
	'R':  "####.|#...#|#...#|####.|#.#..|#..#.|#...#",
	'S':  ".####|#....|#....|.###.|....#|....#|####.",
	'T':  "#####|..#..|..#..|..#..|..#..|..#..|..#..",
	'U':  "#...#|#...#|#...#|#...#|#...#|#...#|.###.",
	'V':  "#...#|#...#|#...#|.#.#.|.#.#.|..#..|..#..",
	'W':  "#...#|#...#|#...#|#.#.#|#.#.#|##.##|#...#",
	'X':  "#...#|#...#|.#.#.|..#..|.#.#.|#...#|#...#",
	'Y':  "#...#|#...#|.#.#.|..#..|..#..|..#..|..#..",
	'Z':  "#####|....#|...#.|..#..|.#...|#....|#####",
	'0':  ".##.|#..#|#..#|#..#|#..#|#..#|.##.",
	'1':  ".#.|##.|.#.|.#.|.#.|.#.|###",
	'2':  ".##.|#..#|...#|..#.|.#..|#...|####",
	'3':  "###.|...#|...#|.##.|...#|...#|###.",
	'4':  "#..#|#..#|#..#|####|...#|...#|...#",
	'5':  "####|#...|#...|###.|...#|...#|###.",
	'6':  ".##.|#...|#...|###.|#..#|#..#|.##.",
	'7':  "####|...#|..#.|..#.|.#..|.#..|.#..",
	'8':  ".##.|#..#|#..#|.##.|#..#|#..#|.##.",
	'9':  ".##.|#..#|#..#|.###|...#|...#|.##.",
	' ':  "..|..|..|..|..|..|..",
	'.':  ".|.|.|.|.|.|#",
	',':  "..|..|..|..|..|.#|#.",
	'-':  "...|...|...|###|...|...|...",
	'!':  "#|#|#|#|#|.|#",
	'?':  ".##.|#..#|...#|..#.|.#..|....|.#..",
	'&':  ".##..|#..#.|#.#..|.#...|#.#.#|#..#.|.##.#",
	'\'': "#|#|.|.|.|.|.",
	'+':  ".....|..#..|..#..|#####|..#..|..#..|.....",
	'/':  "...#|...#|..#.|..#.|.#..|.#..|#...",
}
