package sketch

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"vindel/knit/chart"
)

// Worded is a lace chart read from rows written for hand knitting, and what was not
// taken quite literally.
type Worded struct {
	Rows  []string // the top row first
	All   bool     // wrong-side rows were written too
	Notes []string
}

// ParseWorded reads lace rows written for hand knitting, the first row knitted first:
//
//	Row 1 (RS): k1, k2tog, yo, k3, yo, ssk, k1
//	Row 2 (WS): purl
//
// Right-side rows are read from right to left, wrong-side rows from left to right with
// knit and purl exchanged, so that the chart shows the knit side. Rows without a label
// are right-side rows. Groups repeat, "(k2tog, yo) 3 times" or "[yo, ssk] x2"; what stands
// between asterisks is drawn once. Errors name the row and the word.
func ParseWorded(text string) (*Worded, error) {
	w := &Worded{}
	var rows [][]rune // bottom first, as the knit side shows them; nil: "purl" or "knit" across
	var fillers []rune
	for i, line := range strings.Split(text, "\n") {
		line = strings.TrimSpace(line)
		if line == "" || strings.HasPrefix(line, ";") {
			continue
		}
		label, words := labelled(line)
		wrong := strings.Contains(label, "ws") || strings.Contains(label, "wrong")
		if label != "" && !wrong && !strings.Contains(label, "rs") && !strings.Contains(label, "right") {
			if n, err := strconv.Atoi(regexp.MustCompile(`\d+`).FindString(label)); err == nil && n%2 == 0 {
				wrong = true // rows that are numbered alternate
			}
		}
		w.All = w.All || wrong
		p := wordReader{line: i + 1, wrong: wrong, notes: &w.Notes}
		p.words = tokens(words)
		row, err := p.group("")
		if err != nil {
			return nil, err
		}
		if p.across != 0 {
			rows, fillers = append(rows, nil), append(fillers, p.across)
			continue
		}
		if len(row) == 0 {
			return nil, fmt.Errorf("line %d: no stitches", i+1)
		}
		if !wrong {
			slices.Reverse(row)
		}
		rows, fillers = append(rows, row), append(fillers, 0)
	}
	width := 0
	for i, row := range rows {
		switch {
		case row == nil:
		case width == 0:
			width = len(row)
		case len(row) != width:
			return nil, fmt.Errorf("row %d makes %d stitches, the rows before it %d", i+1, len(row), width)
		}
	}
	if width == 0 {
		return nil, fmt.Errorf("line 1: write a row, such as k1, k2tog, yo, k3")
	}
	for i, row := range rows {
		if row == nil {
			row = slices.Repeat([]rune{fillers[i]}, width)
		}
		w.Rows = append(w.Rows, string(row))
	}
	slices.Reverse(w.Rows)
	slices.Sort(w.Notes)
	w.Notes = slices.Compact(w.Notes)
	return w, nil
}

var labelForm = regexp.MustCompile(`^(?i)((?:row|rnd|round|rs|ws|right|wrong)[^:]*|\d+\s*(?:\((?:rs|ws)\))?)\s*:\s*(.*)$`)

// labelled splits "Row 1 (RS): k1" into its label, in small letters, and its words.
func labelled(line string) (label, words string) {
	if m := labelForm.FindStringSubmatch(line); m != nil {
		return strings.ToLower(m[1]), m[2]
	}
	return "", line
}

var tokenForm = regexp.MustCompile(`[(\[\])*]|[^\s,;.()\[\]*]+`)

func tokens(words string) []string { return tokenForm.FindAllString(strings.ToLower(words), -1) }

// wordReader reads the words of one row.
type wordReader struct {
	line   int
	wrong  bool
	words  []string
	at     int
	across rune // "knit" or "purl" over the whole row
	notes  *[]string
}

// group reads words up to the closing bracket or the end.
func (p *wordReader) group(closing string) (row []rune, err error) {
	for p.at < len(p.words) {
		word := p.words[p.at]
		p.at++
		switch word {
		case closing:
			return row, nil
		case "(", "[", "*":
			end := map[string]string{"(": ")", "[": "]", "*": "*"}[word]
			part, err := p.group(end)
			if err != nil {
				return nil, err
			}
			n := p.times()
			if n == 0 {
				if n = 1; word == "*" {
					*p.notes = append(*p.notes, "what stands between asterisks is drawn once")
				}
			}
			if len(row)+n*len(part) > chart.MaxWidth {
				return nil, fmt.Errorf("line %d: more than %d stitches", p.line, chart.MaxWidth)
			}
			for range n {
				row = append(row, part...)
			}
			continue
		case ")", "]":
			return nil, fmt.Errorf("line %d: %q closes nothing", p.line, word)
		case "rep", "repeat", "from", "to", "end", "across", "around", "rem", "sts", "st", "last", "all", "and":
			continue // the words round a repeat
		case "purl", "knit":
			if word, n := p.words[p.at-1], p.number(); n == 0 && len(row) == 0 {
				p.across = p.plain(word == "purl")
				continue
			} else {
				row = append(row, slices.Repeat([]rune{p.plain(word == "purl")}, max(n, 1))...)
				continue
			}
		}
		marks, err := p.stitch(word)
		if err != nil {
			return nil, err
		}
		if len(row)+len(marks) > chart.MaxWidth {
			return nil, fmt.Errorf("line %d: more than %d stitches", p.line, chart.MaxWidth)
		}
		row = append(row, marks...)
	}
	if closing != "" && closing != "*" {
		return nil, fmt.Errorf("line %d: %q is missing", p.line, closing)
	}
	return row, nil
}

// times reads "3 times", "x3", "x 3" or "twice" after a group; 0 where nothing is said.
func (p *wordReader) times() int {
	if p.at >= len(p.words) {
		return 0
	}
	word := p.words[p.at]
	if n, ok := map[string]int{"once": 1, "twice": 2, "thrice": 3}[word]; ok {
		p.at++
		return n
	}
	if word == "x" {
		p.at++
		return p.number()
	}
	if strings.HasPrefix(word, "x") {
		if n, err := strconv.Atoi(word[1:]); err == nil {
			p.at++
			return n
		}
	}
	n := p.number()
	if n > 0 && p.at < len(p.words) && (p.words[p.at] == "times" || p.words[p.at] == "time") {
		p.at++
	}
	return n
}

func (p *wordReader) number() int {
	if p.at < len(p.words) {
		if n, err := strconv.Atoi(p.words[p.at]); err == nil && n > 0 && n <= chart.MaxWidth {
			p.at++
			return n
		}
	}
	return 0
}

// plain is a knit or purl stitch as the knit side shows it.
func (p *wordReader) plain(purl bool) rune {
	if purl != p.wrong {
		return '-'
	}
	return '.'
}

var counted = regexp.MustCompile(`^(k|p|yo)(\d+)$`)

// stitch reads one word. On the wrong side decreases are purled.
func (p *wordReader) stitch(word string) ([]rune, error) {
	if m := counted.FindStringSubmatch(word); m != nil {
		n, err := strconv.Atoi(m[2])
		if err != nil || n < 1 || n > chart.MaxWidth {
			return nil, fmt.Errorf("line %d: %q: 1 to %d stitches", p.line, word, chart.MaxWidth)
		}
		r := 'o'
		if m[1] != "yo" {
			r = p.plain(m[1] == "p")
		}
		return slices.Repeat([]rune{r}, n), nil
	}
	right := map[string]rune{"k2tog": '/', "ssk": '\\', "skp": '\\', "skpo": '\\', "sl1-k1-psso": '\\', "cdd": '^',
		"s2kp": '^', "s2kpo": '^', "s2kp2": '^', "sl2-k1-p2sso": '^', "sl2-k1-psso": '^'}
	back := map[string]rune{"p2tog": '/', "ssp": '\\', "p2tog-tbl": '\\'}
	here, there := right, back
	if p.wrong {
		here, there = back, right
	}
	switch {
	case word == "k" || word == "p":
		return []rune{p.plain(word == "p")}, nil
	case word == "yo" || word == "yfwd" || word == "yrn":
		return []rune{'o'}, nil
	case here[word] != 0:
		return []rune{here[word]}, nil
	case !p.wrong && (word == "sk2p" || word == "sl1-k2tog-psso" || word == "k3tog"):
		*p.notes = append(*p.notes, word+" is drawn as three together with the centre on top")
		return []rune{'^'}, nil
	case there[word] != 0:
		side := "right"
		if p.wrong {
			side = "wrong"
		}
		return nil, fmt.Errorf("line %d: %q on the %s side makes a purled decrease, which transfers cannot", p.line,
			word, side)
	}
	return nil, fmt.Errorf("line %d: %q: not a word I know; there are k, p, yo, k2tog, ssk, skp, cdd, s2kp, sk2p, and on wrong-side rows p2tog, ssp", p.line, word)
}
