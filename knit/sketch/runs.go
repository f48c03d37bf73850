package sketch

import (
	"fmt"
	"strconv"
	"strings"

	"vindel/knit/chart"
)

// Runs writes a row as it is typed, from the left: "5# 3. 4#". A character that could be
// misread stands in quotes.
func Runs(row []rune) string {
	var words []string
	for r, n := range chart.Runs(row) {
		ch := string(r)
		if strings.ContainsRune("0123456789 ()'", r) {
			ch = "'" + ch + "'"
		}
		words = append(words, strconv.Itoa(n)+ch)
	}
	return strings.Join(words, " ")
}

// The words that say how a row goes on which is shorter than the drawing: empty, or with the
// same again.
const (
	restEmpty = "rest"
	restAgain = "again"
)

// ParseRuns reads a row typed as runs, for a drawing w stitches wide: counts and
// characters ("5# 3. 4#", "##..#"), and groups that repeat ("3(2# 1.)"). A row shorter than
// the drawing says how it goes on: "rest", the rest is empty (drawn in the character given),
// or "again", what is typed repeats. Errors name the column of the text, from 1.
func ParseRuns(text string, w int, empty rune) ([]rune, error) {
	row, word, err := readRuns(text)
	switch {
	case err != nil:
		return nil, err
	case len(row) == 0 && word != restEmpty:
		return nil, fmt.Errorf("column 1: type a row as runs, such as 5# 3. 4#")
	case len(row) > w:
		return nil, fmt.Errorf("%d stitches typed; the row has %d", len(row), w)
	case len(row) == w:
		return row, nil
	case word == "":
		return nil, fmt.Errorf("%d of %d stitches typed. Is the rest empty, or do these come again? Write %s or %s "+
			"after them",
			len(row), w, restEmpty, restAgain)
	}
	again := []rune{empty}
	if word == restAgain {
		again = row
	}
	out := append(make([]rune, 0, w), row...)
	for len(out) < w {
		out = append(out, again[:min(len(again), w-len(out))]...)
	}
	return out, nil
}

// CountRuns is how many stitches are typed so far, whatever is still wrong with the row.
func CountRuns(text string) int {
	for r := []rune(text); len(r) > 0; r = r[:len(r)-1] {
		if row, _, err := readRuns(string(r)); err == nil {
			return len(row)
		}
	}
	return 0
}

// readRuns reads what is typed, and the word after it, "" if there is none.
func readRuns(text string) (row []rune, word string, err error) {
	words := strings.Fields(text)
	if n := len(words); n > 0 && (words[n-1] == restEmpty || words[n-1] == restAgain) {
		word = words[n-1]
		text = strings.TrimSuffix(strings.TrimSpace(text), word)
	}
	p := runReader{text: []rune(text), most: chart.MaxWidth}
	row, err = p.group(0)
	return row, word, err
}

type runReader struct {
	text []rune
	at   int
	most int
}

// group reads up to the closing bracket, or the end.
func (p *runReader) group(depth int) (row []rune, err error) {
	for p.at < len(p.text) {
		r := p.text[p.at]
		if r == ' ' || r == ',' || r == '\t' {
			p.at++
			continue
		}
		if r == ')' {
			if depth == 0 {
				return nil, fmt.Errorf("column %d: this bracket closes nothing", p.at+1)
			}
			return row, nil
		}
		began, n := p.at, 1
		if r >= '0' && r <= '9' {
			n = 0
			for p.at < len(p.text) && p.text[p.at] >= '0' && p.text[p.at] <= '9' && n <= p.most {
				n = n*10 + int(p.text[p.at]-'0')
				p.at++
			}
		}
		if p.at >= len(p.text) || p.text[p.at] == ' ' {
			return nil, fmt.Errorf("column %d: %d of what? A count stands before its character, such as 5#", began+1,
				n)
		}
		var part []rune
		switch r := p.text[p.at]; r {
		case '(':
			p.at++
			open := p.at
			if part, err = p.group(depth + 1); err != nil {
				return nil, err
			}
			if p.at >= len(p.text) {
				return nil, fmt.Errorf("column %d: this bracket is not closed", open)
			}
		case '\'':
			if p.at+2 >= len(p.text) || p.text[p.at+2] != '\'' {
				return nil, fmt.Errorf("column %d: one character in quotes", p.at+1)
			}
			part = p.text[p.at+1 : p.at+2]
			p.at += 2
		default:
			part = p.text[p.at : p.at+1]
		}
		p.at++
		if n < 1 || len(row)+n*len(part) > p.most {
			return nil, fmt.Errorf("column %d: %d times %d stitches; a row has 1 to %d", began+1, n, len(part),
				p.most)
		}
		for range n {
			row = append(row, part...)
		}
	}
	return row, nil
}
