package edit

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"vindel/knit/chart"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Sections of a piece are named by their numbers, from 1 in the order of knitting.

// SectionRows says how many rows a section has.
func SectionRows(section, rows int) []Change { return Set(Section(section).To("rows"), rows) }

// SectionOption sets an option of a section, which wins over the piece's.
func SectionOption(section int, key, word string) []Change {
	return Set(Section(section).To(key), word)
}

// StartOn puts the carriage on a side before the first pass.
func StartOn(side machine.Side) []Change { return Set(Member("start"), side.String()) }

// Note adds a hand step of the knitter's own before a row of a section; row 0 is before it.
func Note(p *piece.Piece, section, row int, text string) []Change {
	note := map[string]any{"before": row, "text": text}
	at := Section(section).To("notes")
	if p.Section(section).Notes == nil {
		return Set(at, []any{note})
	}
	return Set(at.End(), note)
}

// FreePass sends the carriage across empty before a section's first row.
func FreePass(section int) []Change { return Set(Section(section).To("free"), true) }

// NoFreePass takes the free pass before a section out.
func NoFreePass(section int) []Change { return Drop(Section(section).To("free")) }

// FreeFirstYarn takes out the yarn that two-colour rows were told to begin with: of a
// section, or, in the first, of the piece.
func FreeFirstYarn(p *piece.Piece, section int) []Change {
	switch own, whole := p.Section(section).Options.FirstYarn, p.Options.FirstYarn; {
	case own == 0, whole != 0 && section > 1: // the piece's own is taken out once
		return nil
	case whole != 0:
		return Drop(Option("first_yarn"))
	}
	return nil
}

// InsertPlain puts rows of plain knitting before section at.
func InsertPlain(p *piece.Piece, at, rows int, yarn string) []Change {
	return insert(p, at, map[string]any{"name": "plain rows", "technique": "plain", "rows": rows, "yarn": yarn})
}

// insert puts a section before section at (one more than there are: after the last), with an id that no other has.
func insert(p *piece.Piece, at int, section map[string]any) []Change {
	taken := map[string]bool{}
	for i := range p.Sections {
		taken[p.Sections[i].ID] = true
	}
	n := len(p.Sections) + 1
	for taken[fmt.Sprint("s", n)] {
		n++
	}
	section["id"] = fmt.Sprint("s", n)
	return append(keepIDs(p), Set(Section(at), section)...)
}

// keepIDs writes down the ids of sections that are known by their place among the others,
// before that changes: the journal knows them by it.
func keepIDs(p *piece.Piece) (changes []Change) {
	for i := range p.Sections {
		if s := &p.Sections[i]; !s.OwnID {
			changes = append(changes, Set(Section(i+1).To("id"), s.ID)...)
		}
	}
	return changes
}

// InsertBand puts an empty chart, and a section of it in a technique, before section at.
func InsertBand(p *piece.Piece, at int, t *piece.Technique) (changes []Change) {
	name := ""
	for n := len(p.Charts) + 1; name == "" || p.Charts[name] != nil; n++ {
		name = fmt.Sprintf("chart %d", n)
	}
	if len(p.Charts) == 0 {
		changes = Set(Member("charts"), map[string]any{})
	}
	legend := map[string]any{".": map[string]any{"yarn": string(p.Yarns[0].ID)}}
	rows := slices.Repeat([]string{strings.Repeat(".", 12)}, 8)
	return slices.Concat(changes, Set(Chart(name),
		map[string]any{"side": chart.KnitSide.String(), "legend": legend, "rows": rows}),
		insert(p, at, map[string]any{"name": name, "technique": t.Name,
			"areas": []any{map[string]any{"chart": name}}}))
}

// MoveSection moves a section one later in the order of knitting, or one earlier; where
// there is nowhere to go, the edit is empty.
func MoveSection(p *piece.Piece, d *Document, section int, later bool) []Change {
	to := section - 1
	if later {
		to = section + 1
	}
	if to < 1 || to > len(p.Sections) {
		return nil
	}
	moved, _ := d.Get(Section(section))
	if m, ok := moved.(map[string]any); ok && !p.Section(section).OwnID {
		m = maps.Clone(m)
		m["id"] = p.Section(section).ID
		moved = m
	}
	return slices.Concat(keepIDs(p), Drop(Section(section)), Set(Section(to), moved))
}

// RemoveSection takes a section away.
func RemoveSection(p *piece.Piece, section int) []Change {
	return append(keepIDs(p), Drop(Section(section))...)
}

// KnitIn knits a section in another technique. A chart that marks none of its stitches
// yet, or names no yarns where those are knitted, gets a legend for it.
func KnitIn(p *piece.Piece, section int, t *piece.Technique) []Change {
	sec := p.Section(section)
	switch {
	case t.OwnRows && !sec.Technique.OwnRows:
		return AsRecipe(p, section, fmt.Sprintf("yarn %s\npass 10", p.YarnID(sec.Yarn)))
	case sec.Technique.OwnRows && !t.OwnRows:
		doc := map[string]any{"id": sec.ID, "technique": t.Name, "rows": 10}
		if sec.Name != "" {
			doc["name"] = sec.Name
		}
		if t.Weft {
			doc["weft"] = string(p.Yarns[len(p.Yarns)-1].ID)
		}
		return Put(Section(section), doc)
	}
	changes := Set(Section(section).To("technique"), t.Name)
	if t.Weft && sec.Weft == 0 {
		changes = append(changes, Set(Section(section).To("weft"), string(p.Yarns[len(p.Yarns)-1].ID))...)
	}
	for _, a := range sec.Areas {
		changes = append(changes, marksAre(p, a.Chart, t)...)
	}
	return changes
}

// AddYarn adds a yarn with the next letter, or says that there are no more letters.
func AddYarn(p *piece.Piece) ([]Change, error) {
	for _, id := range []byte(piece.YarnLetters) {
		if !slices.ContainsFunc(p.Yarns, func(y piece.Yarn) bool { return y.ID == id }) {
			colour, name := piece.DefaultColour(len(p.Yarns))
			return Set(Member("yarns").End(), yarn(id, name, piece.Hex(colour))), nil
		}
	}
	return nil, fmt.Errorf("a piece has at most %d yarns", len(piece.YarnLetters))
}

// OnMachine puts the piece on another machine: what a piece file holds of it.
func OnMachine(doc any) []Change { return Put(Member("machine"), doc) }

// Everything makes the piece what another document is.
func Everything(other *Document) []Change { return Put(Whole, other.tree) }

// HalfPitch sets the two beds to half pitch.
func HalfPitch() []Change {
	return []Change{{Add, Member("second").To("pitch"), machine.HalfPitch.String()}}
}

// WorkNeedles is the changes that let the needles from a to z work.
func WorkNeedles(a, z machine.Needle) []Change {
	return Put(Member("needles"), map[string]any{"from": a.String(), "to": z.String()})
}
