package card

import (
	"fmt"
	"slices"

	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
)

// Findings checks every section's card or program against the machine.
func Findings(pl *pass.Plan) (out []finding.Finding) {
	for _, i := range Sections(pl) {
		if pl.Piece.Machine.HasCard() {
			_, found := Make(pl, i)
			out = append(out, found...)
		}
		out = append(out, memory(pl, i)...)
	}
	return out
}

// memory checks a section's program against what the machine can keep: lines, stitches, width
// and areas. A console that places areas itself is told each drawing once, where its rows are
// the program's lines; else every line is keyed (formats, Findings).
func memory(pl *pass.Plan, section int) (out []finding.Finding) {
	m, s := &pl.Piece.Machine, pl.Section(section)
	report := func(code finding.Code, format string, a ...any) {
		out = append(out, finding.Finding{Code: code, Severity: finding.Stop, Section: section,
			Rows: [2]int{1, s.Rows}, Needles: s.Covered, Text: fmt.Sprintf(format, a...)})
	}
	n, stitches, widest := pl.LinesOf(section), 0, 0
	if low, high := pl.Piece.Ends(); m.Program == machine.Electronic && (int(high-low)+1 > m.Columns ||
		(int(high-low)+1)*n > m.Stitches) {
		w := MakeProgram(pl, section) // else any would fit
		if stitches, widest = len(w.Bits.Cells), w.Bits.W; w.Panel != nil {
			stitches, widest = w.Panel.Stitches(), w.Panel.Widest()
		}
	}
	if m.RowsMax > 0 && n > m.RowsMax {
		text := fmt.Sprintf("The program has %d lines; the machine keeps %d.", n, m.RowsMax)
		if s.Section.Technique.ColourLines {
			text += " " + fits(pl, section, m.RowsMax)
		}
		report(finding.MemoryRows, "%s", text)
	}
	if m.Stitches > 0 && stitches > m.Stitches {
		report(finding.MemoryStitches, "The program has %d stitches (%d lines); the machine keeps %d.", stitches, n,
			m.Stitches)
	} else if m.Program == machine.Electronic && m.Columns > 0 && widest > m.Columns {
		report(finding.MemoryStitches, "The repeat is %d stitches wide; the machine keeps at most %d side by side.",
			widest, m.Columns)
	}
	if m.AreasMax > 0 && len(s.Section.Areas) > m.AreasMax {
		report(finding.MemoryAreas, "The section has %d areas; the machine keeps %d.", len(s.Section.Areas),
			m.AreasMax)
	}
	once := false // a drawing would be less if one of its repeats were kept
	for i := range out {
		once = once || out[i].Code == finding.MemoryStitches && own(pl, section)
	}
	for i := range out {
		if out[i].Code == finding.MemoryStitches && once {
			out[i].Fix = "Draw one of its repeats: the rest comes by itself"
			continue
		}
		out[i].Fix = "Knit it as two sections, one program after the other, or draw a smaller repeat"
	}
	return out
}

// own says that a drawing of the section (from 1) is its own repeat.
func own(pl *pass.Plan, section int) bool {
	p := MakeProgram(pl, section).Panel
	return p != nil && slices.ContainsFunc(p.Drawings, func(d Drawing) bool { return d.Once != [2]int{} })
}
