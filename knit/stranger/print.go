package stranger

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
)

// printed is a card as it was printed, or a program as it was keyed from its sheet: line 1 first, column 1 at the left.
type printed struct {
	rows     [][]bool
	card     bool
	first    int // of a program: the needle of column 1
	again    bool
	drawings map[int][][]bool
	areas    []area
}

// area is a line of the table that a console asks for.
type area struct {
	drawing             int
	columns, rows       [2]int
	anchor, first, last int
	blank               bool
}

// reader is what goes with the carriages, and stands by itself from pass to pass.
type reader struct {
	in     *printed
	joined bool
	next   int // the line that it reads next, from 1
	taken  int // of one that takes a line for two passes
	pair   int // the line by which it has set the needles
	ends   map[string]bool
	turned map[string]bool // switches of the console, by name and area
}

var (
	putIn     = regexp.MustCompile(`^Put in the card of section (\d+)(, joined round the reader,)?(?: \(.*\))? at line (\d+)`)
	setTo     = regexp.MustCompile(`^Set the program of section (\d+) to line (\d+)$`)
	setBack   = regexp.MustCompile(`^Set the card back to line (\d+)$`)
	swept     = regexp.MustCompile(`^Sweep the reader across by hand, so that it takes line (\d+)$`)
	endSwitch = regexp.MustCompile(`^Turn the (?:(lace) carriage's )?end-needle switch (on|off) on both sides$`)
	ofConsole = regexp.MustCompile(`^Turn the console's (\S+) switch (on|off)(?: for area (\d+))?$`)
	column1   = regexp.MustCompile(`^column 1 is needle ([LR]\d+), and (every|no)`)
	inTable   = regexp.MustCompile(`^area \d+: above (blank|repeat), anchor ([LR]\d+), columns (\d+) to (\d+), drawing (\d+), ` +
		`from ([LR]\d+), rows (\d+) to (\d+), switches .*, to ([LR]\d+)$`)
	ofDrawing = regexp.MustCompile(`^drawing (\d+)$`)
	bitsLine  = regexp.MustCompile(`^([.#]+)\t`)
	readsLine = regexp.MustCompile(`reads line (\d+)`)
)

// take reads a print: a card's rows from the top, or the sheet of a program.
func take(text string, card bool) *printed {
	p := &printed{card: card, drawings: map[int][][]bool{}}
	drawing := 0
	for line := range strings.SplitSeq(text, "\n") {
		switch {
		case column1.MatchString(line):
			m := column1.FindStringSubmatch(line)
			p.first, p.again = needle(m[1]), m[2] == "every"
		case inTable.MatchString(line):
			m := inTable.FindStringSubmatch(line)
			num := func(i int) int { n, _ := strconv.Atoi(m[i]); return n }
			p.areas = append(p.areas, area{num(5), [2]int{num(3), num(4)}, [2]int{num(7), num(8)}, needle(m[2]),
				needle(m[6]), needle(m[9]), m[1] == "blank"})
		case ofDrawing.MatchString(line):
			drawing, _ = strconv.Atoi(ofDrawing.FindStringSubmatch(line)[1])
		case line == "":
			drawing = 0
		case bitsLine.MatchString(line):
			var row []bool
			for _, c := range bitsLine.FindStringSubmatch(line)[1] {
				row = append(row, c == '#')
			}
			if drawing > 0 {
				p.drawings[drawing] = slices.Insert(p.drawings[drawing], 0, row)
			} else {
				p.rows = slices.Insert(p.rows, 0, row)
			}
		}
	}
	if len(p.areas) > 0 && len(p.drawings) == 0 { // one drawing, and the lines are it
		p.drawings[1] = p.rows
	}
	return p
}

// laid is a drawing's part as the console lays it, after what is switched on.
func (p *printed) laid(i int, on func(name string, area int) bool) [][]bool {
	a := &p.areas[i]
	var g [][]bool
	for _, row := range p.drawings[a.drawing][a.rows[0]-1 : a.rows[1]] {
		g = append(g, row[a.columns[0]-1:a.columns[1]])
	}
	make2 := func(w, h int, from func(x, y int) bool) {
		out := make([][]bool, h)
		for y := range out {
			for x := range w {
				out[y] = append(out[y], from(x, y))
			}
		}
		g = out
	}
	for _, name := range []string{"turn", "turn-right", "mirror", "upside-down", "bounce", "double-width", "double-length",
		"invert"} {
		if !on(name, 0) && !on(name, i+1) {
			continue
		}
		was, w, h := g, len(g[0]), len(g)
		switch name {
		case "turn": // left
			make2(h, w, func(x, y int) bool { return was[h-1-x][y] })
		case "turn-right":
			make2(h, w, func(x, y int) bool { return was[x][w-1-y] })
		case "mirror":
			make2(w, h, func(x, y int) bool { return was[y][w-1-x] })
		case "upside-down":
			make2(w, h, func(x, y int) bool { return was[h-1-y][x] })
		case "bounce":
			make2(w, 2*h, func(x, y int) bool { return was[min(y, 2*h-1-y)][x] })
		case "double-width":
			make2(2*w, h, func(x, y int) bool { return was[y][x/2] })
		case "double-length":
			make2(w, 2*h, func(x, y int) bool { return was[y/2][x] })
		case "invert":
			make2(w, h, func(x, y int) bool { return !was[y][x] })
		}
	}
	return g
}

// brings says whether a line brings a needle forward.
func (k *Knitter) brings(n, line int) bool {
	p := k.reader.in
	on := func(name string, area int) bool { return k.reader.turned[fmt.Sprint(name, area)] }
	within := func(a, n int) int { return ((a % n) + n) % n }
	switch {
	case p.card:
		row := p.rows[line-1]
		return row[within(n-k.Origin, len(row))]
	case len(p.areas) == 0:
		row := slices.Clone(p.rows[line-1])
		if on("mirror", 0) {
			slices.Reverse(row)
		}
		x := n - p.first
		if p.again {
			x = within(x, len(row))
		}
		return x >= 0 && x < len(row) && row[x]
	}
	forward := false
	grids, tallest := make([][][]bool, len(p.areas)), 0
	for i := range p.areas {
		grids[i] = p.laid(i, on)
		tallest = max(tallest, len(grids[i]))
	}
	y := (line - 1) % tallest
	for i, g := range grids { // one over another
		a := &p.areas[i]
		row := y
		if !a.blank {
			row %= len(g)
		}
		if row < len(g) && n >= a.first && n <= a.last {
			forward = g[row][within(n-a.anchor, len(g[0]))]
		}
	}
	return forward
}

// lines is how many the reader goes through before it begins again, or has run out.
func (r *reader) lines(offset int) int {
	n := len(r.in.rows)
	switch {
	case !r.in.card:
		return n
	case r.joined: // two lie over the first two
		return n - 2
	}
	return n - offset
}

// reads moves the reader on: the line that it took.
func (k *Knitter) reads() (line int, err error) {
	r := &k.reader
	if r.in == nil {
		return 0, fmt.Errorf("nothing is in the reader")
	}
	if r.next > r.lines(k.Offset) {
		if r.in.card && !r.joined {
			return 0, fmt.Errorf("the card has run out")
		}
		r.next = 1
	}
	line = r.next
	r.next++
	return line, nil
}

// punched handles what is said of the reader; false: the text is of something else.
func (k *Knitter) punched(text string) (bool, error) {
	r := &k.reader
	in := func(section, line string) error {
		no, _ := strconv.Atoi(section)
		sheet, ok := k.Prints[no]
		if !ok {
			return fmt.Errorf("nothing was printed for section %d", no)
		}
		r.in = take(sheet, strings.Contains(text, "card"))
		r.next, _ = strconv.Atoi(line)
		return nil
	}
	switch {
	case len(k.Prints) == 0:
		return false, nil
	case putIn.MatchString(text):
		m := putIn.FindStringSubmatch(text)
		r.joined = m[2] != ""
		return true, in(m[1], m[3])
	case setTo.MatchString(text):
		m := setTo.FindStringSubmatch(text)
		return true, in(m[1], m[2])
	case setBack.MatchString(text):
		r.next, _ = strconv.Atoi(setBack.FindStringSubmatch(text)[1])
	case strings.HasPrefix(text, "Remove the patterning part"):
		r.pair, r.taken = 0, 0
	case swept.MatchString(text):
		line, err := k.reads()
		if r.taken = line; fmt.Sprint(line) != swept.FindStringSubmatch(text)[1] && err == nil {
			err = fmt.Errorf("it takes line %d", line)
		}
		return true, err
	case endSwitch.MatchString(text):
		m := endSwitch.FindStringSubmatch(text)
		if r.ends == nil {
			r.ends = map[string]bool{}
		}
		whose := m[1]
		if whose == "" {
			whose = "knit"
		}
		r.ends[whose] = m[2] == "on"
	case ofConsole.MatchString(text):
		m := ofConsole.FindStringSubmatch(text)
		if r.turned == nil {
			r.turned = map[string]bool{}
		}
		if m[3] == "" {
			m[3] = "0"
		}
		r.turned[m[1]+m[3]] = m[2] == "on"
	default:
		return false, nil
	}
	return true, nil
}

// forward brings forward what a line says of the needles at work.
func (k *Knitter) forward(line int) {
	var work []int
	for n, at := range k.places[Main] {
		if at == rest || at == forward {
			work = append(work, n)
		}
	}
	slices.Sort(work)
	for i, n := range work {
		out, end := k.brings(n, line), i == 0 || i == len(work)-1
		if end && k.reader.ends[k.on] {
			out = k.on != "lace"
		}
		if out {
			k.places[Main][n] = forward
		}
	}
}

// readNow is what the reader does as the carriage goes.
func (k *Knitter) readNow(said string, right bool) error {
	m := readsLine.FindStringSubmatch(said)
	r := &k.reader
	switch {
	case k.Pairs && k.on != "lace":
		if !right {
			r.pair, r.taken = r.taken, 0
		}
		if r.pair > 0 {
			k.forward(r.pair)
		}
		if right {
			if r.pair, r.taken = 0, 0; m != nil {
				line, err := k.reads()
				r.taken = line
				return err
			}
		}
		return nil
	case k.on == "knit" && (k.Ahead || !k.selecting), k.on != "knit" && m == nil,
		k.on == "lace" && k.LaceAhead, k.on == "purl" && k.PurlAhead && (k.Ahead || k.lace):
		return nil
	}
	line, err := k.reads()
	if err == nil {
		k.forward(line)
	}
	return err
}

// readAhead is what it does for the pass to come.
func (k *Knitter) readAhead(said string) error {
	m := readsLine.FindStringSubmatch(said)
	if k.Pairs && k.on != "lace" {
		return nil
	}
	ahead := k.Ahead && k.on == "knit" && k.selecting || m != nil && (k.on == "lace" && k.LaceAhead || k.on == "purl" &&
		k.PurlAhead && (k.Ahead || k.lace))
	if !ahead {
		return nil
	}
	for n, at := range k.places[Main] {
		if at == forward {
			k.places[Main][n] = rest
		}
	}
	line, err := k.reads()
	if err == nil {
		k.forward(line)
	}
	return err
}

// seen holds the needles that stand forward to what the page says that she sees.
func (k *Knitter) seen(said string) error {
	told, _, _ := strings.Cut(strings.TrimSpace(said), ";")
	var want, got []int
	switch m := shifts.FindStringSubmatch(" " + told); {
	case m != nil:
		want = set(m[1])
	default:
		list, _ := strings.CutPrefix(told, "forward ")
		if strings.HasPrefix(told, "forward ") {
			want = set(list)
		}
	}
	for n, at := range k.places[Main] {
		if at == forward {
			got = append(got, n)
		}
	}
	slices.Sort(got)
	slices.Sort(want)
	if !slices.Equal(got, want) {
		return fmt.Errorf("%v stand forward, and the page says %v", got, want)
	}
	return nil
}
