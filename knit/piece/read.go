package piece

import (
	"encoding/json"
	"strconv"
	"unicode/utf8"

	"vindel/knit/machine"
)

// MaxRows bounds the rows of one section, MaxAllRows those of a whole piece, MaxSections its
// sections, and MaxText the length of a name or a note in characters.
const (
	MaxRows     = 20000
	MaxAllRows  = 100000
	MaxSections = 1000
	MaxText     = 200
)

// Read reads a piece file whose sections may be of the techniques given (package technique
// has the list, and a Read of its own). The error is an ErrorList with every fault, each
// naming its place, and then the piece is nil.
func Read(data []byte, techniques Techniques) (*Piece, error) {
	v, err := Decode(data)
	if err != nil {
		return nil, ErrorList{{Err: err}}
	}
	return FromTree(v, techniques)
}

// RowsAsked is how many rows the file asks for in all, of each section those that it gives or
// the tallest of its drawings.
func (p *Piece) RowsAsked() (rows int) {
	for i := range p.Sections {
		rows += p.Sections[i].rowsAsked()
	}
	return rows
}

func (s *Section) rowsAsked() int {
	rows := s.Rows
	for k := range s.Areas {
		if _, h := s.Areas[k].Size(); s.Rows == 0 {
			rows = max(rows, h)
		}
	}
	return rows
}

// FromTree reads a piece from decoded JSON, as Read does from text.
func FromTree(v any, techniques Techniques) (*Piece, error) {
	var errs ErrorList
	r := reader{p: &Piece{Charts: map[string]*Chart{}}, techniques: techniques}
	r.piece(node{"", v, &errs})
	if len(errs) > 0 {
		return nil, errs
	}
	return r.p, nil
}

// newer says that a version is one that came after this: a later file format, or a later minor number of it, which has
// fields that this Vindel does not know.
func newer(version string) bool {
	v, err := strconv.ParseFloat(version, 64)
	return err == nil && v > 1
}

// reader reads each part of the file in a file of its own.
type reader struct {
	p          *Piece
	techniques Techniques
}

func (r *reader) piece(n node) {
	p := r.p
	if !n.object("vindel", "name", "machine", "yarns", "charts", "needles", "second", "start", "begin", "end",
		"sections", "limits", "options",
		"gauge", "swatch", "shape", "outline", "kept", "sizes") {
		return
	}
	if v := n.at("vindel"); v.missing() {
		v.fail("missing; a piece file begins with \"vindel\": 1")
	} else if no, ok := v.value.(json.Number); ok && newer(no.String()) {
		v.fail("%s: written by a newer Vindel; this one reads 1", v.quoted())
		return
	} else {
		v.whole(1, 1)
	}
	p.Name = n.at("name").short()
	r.machine(n.at("machine"))
	r.yarns(n.at("yarns"))
	p.Options = r.options(n.at("options"), DefaultOptions(), nil)
	if charts := n.at("charts"); !charts.missing() {
		for _, name := range charts.members() {
			if at := charts.at(name); utf8.RuneCountInString(name) > MaxText {
				at.fail("its name has %d characters: at most %d", utf8.RuneCountInString(name), MaxText)
			} else {
				r.chart(name, at)
			}
		}
	}
	r.needles(n.at("needles"))
	r.second(n.at("second"))
	r.shape(n.at("shape"), n.at("outline"))
	r.kept(n.at("kept"))
	r.sizes(n.at("sizes"))
	p.Start = machine.Right
	if s := n.at("start").word("right", "left"); s == "left" {
		p.Start = machine.Left
	}
	r.begin(n.at("begin"))
	r.end(n.at("end"))
	if l := n.at("limits"); !l.missing() && l.object("float", "tuck", "tuck_wide", "slip", "weave", "weights",
		"lifeline", "strand", "carried") {
		limit := func(key string) int { return l.at(key).whole(1, 10000) }
		p.Limits = Limits{Float: limit("float"), Tuck: limit("tuck"), TuckWide: limit("tuck_wide"), Slip: limit("slip"),
			Weave: limit("weave"), Weights: limit("weights"), Strand: limit("strand"), Carried: limit("carried")}
		if n := l.at("lifeline"); !n.missing() {
			if p.Limits.Lifeline = n.whole(0, 10000); p.Limits.Lifeline == 0 {
				p.Limits.Lifeline = Never
			}
		}
	}
	if g := n.at("gauge"); !g.missing() && g.object("stitches", "rows") {
		measure := func(key string) float64 {
			v := g.at(key)
			if v.missing() {
				return 0
			}
			x := v.number()
			if x != 0 && (x < 1 || x > 200) {
				v.fail("%s: 1 to 200 over 10 cm", v.quoted())
			}
			return x
		}
		p.Gauge = Gauge{measure("stitches"), measure("rows")}
	}
	p.Swatch = r.swatch(n.at("swatch"))
	if g := p.Swatch.Gauge(); g.Stitches > 0 {
		p.Gauge.Stitches = g.Stitches
	}
	if g := p.Swatch.Gauge(); g.Rows > 0 {
		p.Gauge.Rows = g.Rows
	}
	sections := n.at("sections")
	if sections.list() == 0 {
		sections.fail("missing; a piece has at least one section")
	}
	if n := sections.list(); n > MaxSections {
		sections.fail("%d: a piece has at most %d sections", n, MaxSections)
		return
	}
	rows := 0
	for i := range sections.list() {
		s := r.section(sections.index(i))
		p.Sections = append(p.Sections, s)
		tall := s.rowsAsked()
		if rows += tall; rows > MaxAllRows && rows-tall <= MaxAllRows {
			sections.index(i).fail("%d rows up to here: a piece has at most %d in all", rows, MaxAllRows)
		}
	}
	r.identify(sections)
	r.shapeSense(n)
	p.cutAreas()
}
