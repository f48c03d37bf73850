package sketch

import (
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"vindel/knit/chart"
	"vindel/knit/words"
)

// Worded is a lace chart read from rows written for hand knitting, and what was not
// taken quite literally.
type Worded struct {
	Rows  []string // the top row first
	All   bool     // wrong-side rows were written too
	Notes []string

	// Repeat is the columns, from 1 at the left, that stand between asterisks, where all rows agree; zero: all repeat.
	Repeat [2]int
}

var worded = regexp.MustCompile(`(?im)^\s*(rows?|rnds?|rounds?)\b|\b(k\d+|p\d+|k2tog|ssk|yo)\b`)

// IsWorded says that a text is rows written for hand knitting, and not a drawing in characters.
func IsWorded(text string) bool { return worded.MatchString(text) }

// ParseWorded reads lace rows written for hand knitting, the first row knitted first:
//
//	Row 1 (RS): k1, k2tog, yo, k3, yo, ssk, k1
//	Row 2 (WS): purl
//
// Right-side rows are read from right to left, wrong-side rows from left to right with
// knit and purl exchanged, so that the chart shows the knit side; of rounds every one is read
// as a right-side row. Rows without a label are right-side rows. "Row 2 and all WS rows" is
// every row between the others. Numbers say the order: "Rows 2, 4 and 6" are three, alike; a row that is written twice,
// or left out between others, is an error, and so are numbers on some rows only. Groups repeat, "(k2tog, yo) 3 times" or "[yo, ssk] x2"; what
// stands between asterisks is drawn once. Errors name the row and every word that is not known.
func ParseWorded(text string) (*Worded, error) {
	w := &Worded{}
	var rows [][]rune // bottom first, as the knit side shows them; nil: "purl" or "knit" across
	var fillers []rune
	var every [][]rune // the row that comes between all others, nil for one that is filled
	var between rune
	var unknown []string
	var order rowOrder
	var stars repeated
	for i, line := range strings.Split(text, "\n") {
		line = strings.TrimSpace(line)
		if line == "" || strings.HasPrefix(line, ";") {
			continue
		}
		label, words := labelled(line)
		round := roundForm.MatchString(label)
		wrong := !round && wrongForm.MatchString(label)
		even := false
		if !rightForm.MatchString(label) || round {
			n, err := strconv.Atoi(firstNumber.FindString(label))
			even = err == nil && n%2 == 0 || strings.Contains(label, "even")
			wrong = wrong || even && !round // rows that are numbered alternate
		}
		p := wordReader{line: i + 1, wrong: wrong, notes: &w.Notes, unknown: &unknown}
		p.words = tokens(words)
		row, err := p.group("")
		if err != nil {
			return nil, err
		}
		stars.row(p.star, len(row), wrong)
		if len(row) == 1 && p.bare { // "p", or "k to end": the whole row
			p.across, row = row[0], nil
		}
		if (wrong || even) && allForm.MatchString(label) {
			if !wrong {
				slices.Reverse(row)
			}
			every, between = [][]rune{row}, p.across
			continue
		}
		times, err := order.take(label, i+1, round)
		if err != nil {
			return nil, err
		}
		w.All = w.All || wrong || even
		if p.across != 0 {
			for range times {
				rows, fillers = append(rows, nil), append(fillers, p.across)
			}
			continue
		}
		if len(row) == 0 {
			return nil, fmt.Errorf("line %d: no stitches", i+1)
		}
		if !wrong {
			slices.Reverse(row)
		}
		for range times {
			rows, fillers = append(rows, row), append(fillers, 0)
		}
	}
	at, err := order.sorted(w.All)
	if err != nil {
		return nil, err
	}
	if at != nil {
		was, filled := rows, fillers
		rows, fillers = make([][]rune, len(at)), make([]rune, len(at))
		for k, from := range at {
			rows[k], fillers[k] = was[from], filled[from]
		}
	}
	if len(unknown) > 0 {
		return nil, errors.New(unknownWords(unknown))
	}
	if every != nil && between != '.' { // plain ones are between right-side rows anyway
		w.All = true
		var all [][]rune
		var filled []rune
		for i := range rows {
			all, filled = append(all, rows[i], every[0]), append(filled, fillers[i], between)
			if between != 0 {
				all[len(all)-1] = nil
			}
		}
		rows, fillers = all, filled
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
	if w.Repeat = stars.columns(width); w.Repeat != [2]int{} {
		edges := words.Stitches(width - (w.Repeat[1] - w.Repeat[0] + 1))
		w.Notes = append(w.Notes, fmt.Sprintf("columns %d to %d repeat, %s at the edges", w.Repeat[0], w.Repeat[1], edges))
	}
	slices.Sort(w.Notes)
	w.Notes = slices.Compact(w.Notes)
	return w, nil
}

// repeated is where the parts between asterisks stand: in columns from the left and from the right, by rows.
type repeated struct {
	at  [][2]int // stitches before them, and after
	bad bool     // they do not agree, or a row has several
}

// row takes a row in, so many stitches long as it is read, with what stands between asterisks in it.
func (r *repeated) row(star [][2]int, long int, wrong bool) {
	if len(star) == 0 {
		return
	}
	at := [2]int{star[0][0], long - star[0][1]}
	if !wrong { // it is read from the right
		at[0], at[1] = at[1], at[0]
	}
	r.bad = r.bad || len(star) > 1 || len(r.at) > 0 && r.at[0] != at
	r.at = append(r.at, at)
}

// columns are those that repeat in a drawing of a width; zero where all do, or rows do not agree.
func (r *repeated) columns(width int) [2]int {
	if r.bad || len(r.at) == 0 || r.at[0] == [2]int{} {
		return [2]int{}
	}
	return [2]int{r.at[0][0] + 1, width - r.at[0][1]}
}

// rowOrder is the numbers of rows as they are written, and the lines on which they are.
type rowOrder struct {
	numbers, lines []int
	bare           int // a line with a row that has no number
}

// take notes the rows of a label: how many they are.
func (o *rowOrder) take(label string, line int, round bool) (times int, err error) {
	var list []int
	label = besideNumber.ReplaceAllString(label, "")
	if !numberless.MatchString(label) {
		for _, m := range numberForm.FindAllStringSubmatch(label, -1) {
			from, _ := strconv.Atoi(m[1])
			to := from
			if m[2] != "" {
				to, _ = strconv.Atoi(m[2])
			}
			if from < 1 || to < from || to > chart.MaxHeight {
				return 0, fmt.Errorf("line %d: rows %s to %s", line, m[1], m[2])
			}
			for n := from; n <= to; n++ {
				list = append(list, n)
			}
		}
	}
	if len(list) == 0 {
		o.bare = line
		o.numbers, o.lines = append(o.numbers, 0), append(o.lines, line)
		return 1, nil
	}
	for _, n := range list {
		if n%2 != list[0]%2 && !round && !eitherForm.MatchString(label) {
			return 0, fmt.Errorf("line %d: rows %d and %d are of the two sides; write them on lines of their own", line,
				list[0], n)
		}
		o.numbers, o.lines = append(o.numbers, n), append(o.lines, line)
	}
	return len(list), nil
}

// sorted is the rows by their numbers: for each place which was written there; nil where none has a number. both: rows of
// either side are written.
func (o *rowOrder) sorted(both bool) (at []int, err error) {
	for i := range o.numbers {
		if o.numbers[i] > 0 {
			at = append(at, i)
		}
	}
	if len(at) == 0 {
		return nil, nil
	}
	if o.bare > 0 {
		return nil, fmt.Errorf("line %d: a row without a number, where others have one", o.bare)
	}
	slices.SortStableFunc(at, func(a, b int) int { return o.numbers[a] - o.numbers[b] })
	step := 2
	for _, i := range at {
		if both || o.numbers[i]%2 != o.numbers[at[0]]%2 {
			step = 1
		}
	}
	for k := 1; k < len(at); k++ {
		switch was, now := o.numbers[at[k-1]], o.numbers[at[k]]; {
		case was == now:
			return nil, fmt.Errorf("line %d: row %d is written already, on line %d", o.lines[at[k]], now, o.lines[at[k-1]])
		case now != was+step:
			return nil, fmt.Errorf("line %d: row %d comes after row %d; row %d is not written", o.lines[at[k]], now, was,
				was+step)
		}
	}
	return at, nil
}

var (
	numberForm = regexp.MustCompile(`(\d+)(?:st|nd|rd|th)?(?:\s*(?:-|–|to)\s*(\d+))?`)
	// what stands beside a row's number, with numbers that are none of rows: "(24 sts)", "of 8"
	besideNumber = regexp.MustCompile(`\([^)]*\)|\[[^\]]*\]|\d+ *(?:sts|stitch(?:es)?)\b|\d+ +st\b|\bof \d+`)
	numberless   = regexp.MustCompile(`^(?:all|every|rs|ws|right|wrong)\b[^\d]*$`)
	eitherForm   = regexp.MustCompile(`rs.*ws|ws.*rs`)
	labelForm    = regexp.MustCompile(
		`^(?i)((?:row|rnd|round|rs|ws|right|wrong|all|every|r\s*\d)[^:]*|\d+(?:st|nd|rd|th)?\s*(?:rows?|rnds?|rounds?)?[^:,]*)\s*:\s*(.*)$`)
	wrongForm   = regexp.MustCompile(`\b(?:ws|wrong)\b`)
	rightForm   = regexp.MustCompile(`\b(?:rs|right)\b`)
	roundForm   = regexp.MustCompile(`rnd|round`)
	allForm     = regexp.MustCompile(`all|every|alternate`)
	firstNumber = regexp.MustCompile(`\d+`)
)

// unknownWords says which words are not known, each with its place.
func unknownWords(list []string) string {
	const most = 8
	text := list[0]
	if len(list) > 1 {
		text += "; nor are " + strings.Join(list[1:min(len(list), most)], ", ")
	}
	if len(list) > most {
		text += fmt.Sprintf(", and %d more", len(list)-most)
	}
	return text
}

// labelled splits "Row 1 (RS): k1" into its label, in small letters, and its words.
func labelled(line string) (label, words string) {
	if m := labelForm.FindStringSubmatch(line); m != nil {
		return strings.ToLower(m[1]), m[2]
	}
	return "", line
}

var tokenForm = regexp.MustCompile(`[(\[\])*]|[^\s,;.()\[\]*]+`)

// together joins what is written in several words: "k 2 tog", "sl 1, k2tog, psso", "k2tog tbl".
var together = []struct {
	form *regexp.Regexp
	as   string
}{
	{regexp.MustCompile(`\b(k|p) ?(\d+) (tog|togtbl)\b`), "$1$2$3"}, {regexp.MustCompile(`\b(k|p|yo|sl) (\d+)\b`),
		"$1$2"},
	{regexp.MustCompile(`\bk2tog tbl\b|\bk2togtbl\b`), "k2tog-tbl"},
	{regexp.MustCompile(`\bp2tog tbl\b|\bp2togtbl\b`), "p2tog-tbl"},
	{regexp.MustCompile(`\bsl1,? k1,? psso\b`), "skp"}, {regexp.MustCompile(`\bsl1,? k2tog,? psso\b`), "sk2p"},
	{regexp.MustCompile(`\bsl2(?: ?tog)?,? k1,? (?:p2sso|psso)\b`), "cdd"},
	{regexp.MustCompile(`\b(to|for|the)? ?last (\d+) (sts?|stitch(?:es)?)\b`), "to end"},
	{regexp.MustCompile(`\bto (\d+) (sts?) before end\b`), "to end"},
}

func tokens(words string) []string {
	words = strings.Join(strings.Fields(strings.ToLower(words)), " ")
	words = strings.ReplaceAll(words, " ,", ",")
	for _, t := range together {
		words = t.form.ReplaceAllString(words, t.as)
	}
	return tokenForm.FindAllString(words, -1)
}

// wordReader reads the words of one row.
type wordReader struct {
	line   int
	wrong  bool
	words  []string
	at     int
	across rune // "knit" or "purl" over the whole row
	bare   bool // a stitch is a plain "k" or "p" without a number
	notes  *[]string
	star   [][2]int // stitches of the row before what stands between asterisks, and to its end

	unknown *[]string // words, with their places
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
					if closing == "" {
						p.star = append(p.star, [2]int{len(row), len(row) + len(part)})
					}
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
	right := map[string]rune{"k2tog": '/', "ssk": '\\', "k2tog-tbl": '\\', "skp": '\\', "skpo": '\\',
		"sl1-k1-psso": '\\', "cdd": '^',
		"s2kp": '^', "s2kpo": '^', "s2kp2": '^', "sl2-k1-p2sso": '^', "sl2-k1-psso": '^'}
	back := map[string]rune{"p2tog": '/', "ssp": '\\', "p2tog-tbl": '\\'}
	here, there := right, back
	if p.wrong {
		here, there = back, right
	}
	switch {
	case word == "k" || word == "p":
		p.bare = true
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
	if len(*p.unknown) == 0 {
		*p.unknown = append(*p.unknown,
			fmt.Sprintf("line %d: %q: not a word I know; there are k, p, yo, k2tog, ssk, skp, cdd, s2kp, sk2p, and "+
				"on wrong-side rows p2tog, ssp", p.line, word))
	} else {
		*p.unknown = append(*p.unknown, fmt.Sprintf("%q in line %d", word, p.line))
	}
	return []rune{'.'}, nil
}
