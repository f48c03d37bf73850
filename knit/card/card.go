package card

import (
	"fmt"
	"strings"

	"vindel/knit/chart"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/step"
)

// overlap is how many rows at the top lie over the rows at the bottom of a joined card.
const overlap = 2

// Card is a punch card: Holes is Rows+Overlap rows × Columns, row 1 at the bottom,
// 1 for a hole. Numbers and Marks stand beside the row with the same index; 0 and
// "" are none.
type Card struct {
	Section int // from 1
	Overlap int // rows at the top that lie over those at the bottom, where it is joined
	Blank   int // unpunched rows at the top, where it is not: they carry the numbers of the last lines
	School  machine.School
	Reading string // of a lace card: which kind of lace carriage it is cut for
	Lines   int    // of the pattern; Rows is a multiple of it
	Rows    int    // without the overlap
	Holes   chart.Grid
	Numbers []int
	Marks   []string
}

// Sections lists the sections (from 1) that need a card or a program.
func Sections(pl *pass.Plan) (sections []int) {
	for i, lines := range pl.Programs {
		if len(lines) > 0 {
			sections = append(sections, i+1)
		}
	}
	return sections
}

// column is the card column (from 0) that selects a needle.
func column(m *machine.Profile, n machine.Needle) int {
	return (int(n-m.CardOrigin)%m.Columns + m.Columns) % m.Columns
}

// Make makes the card of a section (from 1), and reports what a card cannot do. Where
// the pattern does not tile, a stop says so and the card has the holes of the
// leftmost needles.
func Make(pl *pass.Plan, section int) (*Card, []finding.Finding) {
	c, clashes := punch(pl, section)
	var clash machine.Set
	for _, on := range clashes {
		clash = clash.Or(on)
	}
	found := widths(pl, section, clash)
	if s := pl.Section(section); !s.Section.Technique.OwnRows { // a recipe's lines were held to the card, pass by pass
		found = append(found, patternsAll(pl, section, c)...)
	}
	c.mark(pl)
	return c, found
}

// punch is the card of a section with its holes and numbers; clash, by line from 0, is as Holes has it.
func punch(pl *pass.Plan, section int) (c *Card, clash []machine.Set) {
	m, s, list := &pl.Piece.Machine, pl.Section(section), pl.Programs[section-1]
	pattern := make([][]uint8, len(list))
	clash = make([]machine.Set, len(list))
	for l, line := range list {
		pattern[l], clash[l] = Holes(m, line, s.Covered.Minus(s.Cut), pl.LineWork(section, l))
	}
	c = &Card{Section: section, School: m.School, Lines: len(list), Rows: pl.CardRows(section)}
	if s.Section.Joined {
		c.Overlap = overlap
	} else {
		c.Blank = m.Offset
	}
	if s.Section.Lace() {
		c.Reading = School(m)
	}
	c.Holes = chart.NewMat[uint8](m.Columns, c.Rows+c.Overlap+c.Blank)
	c.Numbers, c.Marks = make([]int, c.Holes.H), make([]string, c.Holes.H)
	for y := range c.Holes.H {
		row := c.Holes.Row(y)
		switch {
		case y >= c.Rows && c.Blank > 0:
		case y >= c.Rows && m.Overlap == "holes":
			for x := range row {
				row[x] = 1
			}
		default:
			copy(row, pattern[y%c.Rows%c.Lines])
		}
	}
	for line := range c.Rows {
		for _, y := range c.sees(line, m.Offset) {
			c.Numbers[y] = line + 1
		}
	}
	return c, clash
}

// sees is the rows of the card (from 0) that are in sight when a line (from 0) is read: one, up rows higher, which a
// joined card has round the reader, and once more where its ends overlap. None: it is beyond the card.
func (c *Card) sees(line, up int) (rows []int) {
	y := line + up
	if c.Blank == 0 {
		y = (y%c.Rows + c.Rows) % c.Rows
	}
	for ; y >= 0 && y < c.Holes.H; y += c.Rows {
		if rows = append(rows, y); c.Blank > 0 {
			break
		}
	}
	return rows
}

// mark notes the yarn changes where the eye will be when they fall due: `offset`
// above the row's line, and one line earlier on preselecting machines, since the line
// read now is knitted next (rules 6, Punch card).
func (c *Card) mark(pl *pass.Plan) {
	m := &pl.Piece.Machine
	up := m.Offset - 1
	if m.School == machine.Preselect {
		up--
	}
	if pl.Section(c.Section).Section.Lace() {
		c.markLace(pl, up)
		return
	}
	type due struct {
		row  int
		text string
	}
	marks, used := map[int][]due{}, map[int]int{}
	rounds, shift := 1, pl.Section(c.Section).Section.Shift()
	sec := pl.Section(c.Section).Section
	own := sec.Technique.OwnRows // hands choose some of its passes; marks stand at the lines of the others
	was, read := 0, 0
	for i := range pl.Passes {
		p := &pl.Passes[i]
		if p.Section != c.Section || p.Row() == 0 {
			continue
		}
		at := p.Row() + shift // on the card, going round
		if own {
			if p.Own == 0 {
				was = 0
				continue
			}
			first := m.School != machine.Pairs || p.Own != was || p.Dir == machine.Left
			if was = p.Own; first {
				read++
			}
			if at = p.Own; sec.Joined { // it goes round, whatever line of the repeat that is
				at = (read-1)%c.Rows + 1
			}
			if first {
				used[at-1]++
			}
		}
		rounds = max(rounds, (at+c.Rows-1)/c.Rows)
		var texts []string
		for j := range p.Before {
			if st := p.Before[j].Step; step.Is[step.Thread](st) || step.Is[step.Unthread](st) {
				texts = append(texts, st.Short(pl.Piece))
			}
		}
		if len(texts) > 0 {
			line := (at - 1) % c.Rows
			marks[line] = append(marks[line], due{p.Row(), strings.Join(texts, ", ")})
		}
	}
	for line, list := range marks {
		if own {
			rounds = used[line]
		}
		same := len(list) == rounds
		for _, d := range list {
			same = same && d.text == list[0].text
		}
		var texts []string
		for _, d := range list {
			if same {
				texts = []string{d.text}
				break
			}
			texts = append(texts, fmt.Sprintf("row %d: %s", d.row, d.text))
		}
		if most := 3; own && len(texts) > most { // beside the machine it is said each time
			texts = append(texts[:most], fmt.Sprintf("and %d times more", len(list)-most))
		}
		if rows := c.sees(line, up+1); len(rows) > 0 {
			c.Marks[rows[0]] = strings.Join(texts, "; ")
		}
	}
}

// Text is the card as text, the top row first: `#` a hole, `.` none, column 1 at the
// left, then a tab and the number beside it, then a tab and its marks.
func (c *Card) Text() string {
	var b strings.Builder
	for y := c.Holes.H - 1; y >= 0; y-- {
		for _, hole := range c.Holes.Row(y) {
			b.WriteByte(".#"[hole])
		}
		b.WriteByte('\t')
		if c.Numbers[y] > 0 {
			fmt.Fprint(&b, c.Numbers[y])
		}
		b.WriteByte('\t')
		b.WriteString(c.Marks[y])
		b.WriteByte('\n')
	}
	return b.String()
}
