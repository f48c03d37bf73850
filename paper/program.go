package paper

import (
	"fmt"
	"strings"

	"vindel/knit/card"
	"vindel/knit/chart"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// widestCells is the widest program whose cells are drawn beside its lines: of a wider one they would be too small
// to count.
const widestCells = 64

// ProgramPDF is a section's program (section counts from 1) as it is keyed, on A4, line 1 first: what the panel is
// told, then each line with a box to tick, its cells ruled every ten, its runs and what is done at it.
func ProgramPDF(pl *pass.Plan, section int) ([]byte, error) {
	p := newPDF(210, 297)
	drawProgram(p, p.f.AddPage, card.MakeProgram(pl, section), &pl.Piece.Machine, CardTitle(pl.Piece, section))
	return p.bytes()
}

// programSheet is where on a sheet the next line of a program goes.
type programSheet struct {
	p     pen
	next  func()
	title string
	y     float64
	no    int
}

const programFoot, programWide = 284.0, 210.0 // mm

// begin begins a sheet.
func (s *programSheet) begin() {
	if s.no++; s.no > 1 {
		s.next()
	}
	s.p.text(14, 14, 5.4, -1, false, ink, s.title)
	s.p.text(programWide-12, 14, 3.4, 1, false, soft, fmt.Sprintf("sheet %d", s.no))
	s.y = 22
}

// room begins a sheet where so many millimetres are no longer left; true: it has.
func (s *programSheet) room(tall float64) bool {
	if s.y+tall <= programFoot {
		return false
	}
	s.begin()
	return true
}

// say writes words, wrapped.
func (s *programSheet) say(words string) {
	for _, part := range wrap(words, 100) {
		s.room(5.4)
		s.p.text(14, s.y, 3.8, -1, false, ink, part)
		s.y += 5.4
	}
}

// drawProgram draws sheet after sheet; next begins another.
func drawProgram(p pen, next func(), prog *card.Program, m *machine.Profile, title string) {
	s := &programSheet{p: p, next: next, title: title}
	s.begin()
	s.say(m.Name + ". Line 1 is keyed first.")
	if panel := prog.Panel; panel != nil {
		if prog.Whole != "" {
			s.say("One drawing tells the needles everything here, since " + prog.Whole + ".")
		}
		s.y += 2
		s.areas(panel, m)
		if on := panel.SwitchedOn(m); on != "" {
			s.say("Switched on for all of them: " + on + ".")
		}
		for _, note := range prog.Notes {
			s.say("• " + note)
		}
	} else {
		for _, note := range prog.KeyIn {
			s.say("• " + note)
		}
	}
	keyed := prog.Keyed()
	beside := len(keyed) == 1 && keyed[0].Bits.H == len(prog.Memos)
	for i := range keyed {
		memos := prog.Memos
		if !beside {
			memos = nil
		}
		s.drawing(&keyed[i], memos, prog.Panel != nil)
	}
	if beside {
		return
	}
	told := false
	for l, memo := range prog.Memos {
		if memo == "" {
			continue
		}
		if !told {
			s.y += 4
			s.say("What to do at which line")
			told = true
		}
		s.say(fmt.Sprintf("%d  %s", l+1, memo))
	}
}

// areas draws the table that a panel is told, an area a line.
func (s *programSheet) areas(panel *card.Panel, m *machine.Profile) {
	columns := append([]string{card.PanelWord(m, "area")}, card.PanelColumns(m)...)
	wide := make([]float64, len(columns))
	rows := [][]string{columns}
	for i := range panel.Areas {
		rows = append(rows, append([]string{fmt.Sprint(i + 1)}, panel.Areas[i].Row(m)...))
	}
	sum := 0.0
	for _, row := range rows {
		for x, text := range row {
			wide[x] = max(wide[x], 2.1*float64(len([]rune(text)))+4)
		}
	}
	for _, w := range wide {
		sum += w
	}
	tight := min(1, (programWide-26)/sum)
	for i, row := range rows {
		s.room(6.4)
		x, colour := 14.0, ink
		if i == 0 {
			colour = soft
		}
		for k, text := range row {
			s.p.text(x, s.y, 3.8*tight, -1, false, colour, text)
			x += wide[k] * tight
		}
		s.p.stroke(new(path).move(12, s.y+1.8).line(programWide-12, s.y+1.8), line, 0.12)
		s.y += 6.4
	}
	s.y += 1
}

// drawing draws what is keyed once, line by line, each with a box to tick.
func (s *programSheet) drawing(d *card.Drawing, memos []string, named bool) {
	const left = 34.0
	p, cell := s.p, 0.0
	if d.Bits.W <= widestCells {
		cell = min(4.2, (programWide-12-left)/float64(d.Bits.W))
	}
	numbers := func() {
		if cell > 0 {
			for x := 1; x <= d.Bits.W; x++ {
				if x == 1 || x%10 == 0 {
					p.text(left+(float64(x)-0.5)*cell, s.y, 2.8, 0, true, soft, fmt.Sprint(x))
				}
			}
			s.y += 2
		}
	}
	s.room(24)
	s.y += 3
	if named {
		s.say(words.Capital(d.About()))
		s.y++
	}
	numbers()
	for l := 1; l <= d.Bits.H; l++ {
		said := wrap(d.Typed(l), 84)
		if l <= len(memos) && memos[l-1] != "" {
			said = append(said, wrap("→ "+memos[l-1], 84)...)
		}
		tall := 5.2*float64(len(said)) + 2.5
		if cell > 0 {
			tall += max(cell, 3) + 1.2
		}
		if s.room(tall) {
			numbers()
		}
		y := s.y
		p.stroke(new(path).rect(13, y+1.2, 4.4, 4.4), ink, 0.25)
		p.text(30, y+5.2, 4.8, 1, true, ink, fmt.Sprint(l))
		at := y + 5
		if cell > 0 {
			high := max(cell, 3)
			top := y + 1
			for x, bit := range d.Bits.Row(l - 1) {
				box := new(path).rect(left+float64(x)*cell, top, cell, high)
				if bit == 1 {
					p.fill(box, ink)
				}
				p.stroke(box, line, 0.12)
			}
			for x := 0; x <= d.Bits.W; x += 10 {
				p.stroke(new(path).move(left+float64(x)*cell, top-0.4).line(left+float64(x)*cell, top+high+0.4), ink,
					0.35)
			}
			at += high + 1
		}
		for _, part := range said {
			p.text(left, at, 3.9, -1, false, ink, part)
			at += 5.2
		}
		s.y += tall
		p.stroke(new(path).move(12, s.y).line(programWide-12, s.y), line, 0.12)
	}
}

// ProgramPNG is a program one pixel a cell, the top line first, as it can be read in again as a chart.
func ProgramPNG(prog *card.Program) ([]byte, error) {
	return (&chart.Chart{Keys: []rune(".#"), Grid: prog.Bits}).PNG(piece.DefaultPalette(2))
}

// wrap breaks words into lines of at most n characters.
func wrap(text string, n int) (lines []string) {
	now := ""
	for _, word := range strings.Fields(text) {
		if len([]rune(now))+1+len([]rune(word)) > n && now != "" {
			lines, now = append(lines, now), ""
		}
		if now != "" {
			now += " "
		}
		now += word
	}
	return append(lines, now)
}
