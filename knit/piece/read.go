package piece

import (
	"errors"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"vindel/knit/chart"
	"vindel/knit/machine"
)

// MaxRows bounds the rows of one section.
const MaxRows = 20000

// Read reads a piece file. The error is an ErrorList with every fault, each naming
// its place, and then the piece is nil.
func Read(data []byte) (*Piece, error) {
	v, err := decode(data)
	if err != nil {
		return nil, ErrorList{{Err: err}}
	}
	return FromTree(v)
}

// FromTree reads a piece from decoded JSON, as Read does from text.
func FromTree(v any) (*Piece, error) {
	var errs ErrorList
	r := reader{p: &Piece{Charts: map[string]*Chart{}}}
	r.piece(node{"", v, &errs})
	if len(errs) > 0 {
		return nil, errs
	}
	return r.p, nil
}

type reader struct{ p *Piece }

var optionKeys = []string{"lean", "selecting", "odd", "separation", "backing", "counter", "first_yarn", "end_needles", "transfer"}

func (r *reader) piece(n node) {
	p := r.p
	if !n.object("vindel", "name", "machine", "yarns", "charts", "needles", "start", "sections", "limits", "options", "gauge") {
		return
	}
	if v := n.at("vindel"); v.missing() {
		v.fail("missing; a piece file begins with \"vindel\": 1")
	} else {
		v.whole(1, 1)
	}
	p.Name = n.at("name").text()
	r.machine(n.at("machine"))
	r.yarns(n.at("yarns"))
	p.Options = r.options(n.at("options"), Options{}, nil)
	if charts := n.at("charts"); !charts.missing() {
		for _, name := range charts.members() {
			r.chart(name, charts.at(name))
		}
	}
	r.needles(n.at("needles"))
	p.Start = machine.Right
	if s := n.at("start").word("right", "left"); s == "left" {
		p.Start = machine.Left
	}
	if l := n.at("limits"); !l.missing() && l.object("float", "tuck", "tuck_wide", "slip", "weave", "weights") {
		limit := func(key string) int { return l.at(key).whole(1, 10000) }
		p.Limits = Limits{limit("float"), limit("tuck"), limit("tuck_wide"), limit("slip"), limit("weave"), limit("weights")}
	}
	if g := n.at("gauge"); !g.missing() && g.object("stitches", "rows") {
		measure := func(key string) float64 {
			v := g.at(key)
			if v.missing() {
				return 0
			}
			x := v.number()
			if x != 0 && (x < 1 || x > 200) {
				v.fail("%s: 1 to 200 over 10 cm", v.show())
			}
			return x
		}
		p.Gauge = Gauge{measure("stitches"), measure("rows")}
	}
	sections := n.at("sections")
	if sections.list() == 0 {
		sections.fail("missing; a piece has at least one section")
	}
	for i := range sections.list() {
		p.Sections = append(p.Sections, r.section(sections.index(i)))
	}
}

func (r *reader) machine(n node) {
	if n.missing() {
		n.fail("missing; name a profile, such as { \"profile\": \"card-preselect\" }")
		return
	}
	if !n.object("profile", "name", "needles", "pitch_mm", "beds", "school", "comb", "feeders", "columns", "offset", "loop", "overlap", "card_origin",
		"rows_max", "stitches_max", "areas_max", "lace", "purl_carriage", "advances", "weave", "intarsia", "tuck_selected", "weave_selected",
		"reset_each_pass", "mirror_switch", "words") {
		return
	}
	m, err := machine.Shipped(n.at("profile").text())
	if err != nil {
		n.at("profile").fail("%v", err)
		return
	}
	each := func(key string, set func(node)) {
		if v := n.at(key); !v.missing() {
			set(v)
		}
	}
	whole := func(key string, to *int, least, most int) {
		each(key, func(v node) { *to = v.whole(least, most) })
	}
	each("name", func(v node) {
		if name := v.text(); name != "" {
			m.Name = name
		}
	})
	each("needles", func(v node) {
		if m.Bed = machine.Bed(v.whole(2, machine.MaxBed)); m.Bed%2 != 0 {
			v.fail("%d: a bed has an even number of needles", m.Bed)
		}
	})
	each("pitch_mm", func(v node) { m.PitchMM = v.number() })
	whole("beds", &m.Beds, 1, 2)
	each("school", func(v node) {
		var err error
		if m.School, err = machine.ParseSchool(v.text()); err != nil {
			v.fail("%v", err)
		}
	})
	whole("comb", &m.Comb, 0, 64)
	whole("feeders", &m.Feeders, 1, 2)
	whole("columns", &m.Columns, 1, machine.MaxBed)
	whole("offset", &m.Offset, 0, 100)
	whole("loop", &m.Loop, 1, 1000)
	each("overlap", func(v node) { m.Overlap = v.word("copy", "holes") })
	each("card_origin", func(v node) { m.CardOrigin = r.needle(v, m.Bed) })
	whole("rows_max", &m.RowsMax, 0, 1e6)
	whole("stitches_max", &m.Stitches, 0, 1e9)
	whole("areas_max", &m.AreasMax, 0, 1000)
	each("lace", func(v node) { m.Lace = v.word("separate", "combined", "hand", "") })
	each("purl_carriage", func(v node) { m.PurlCarriage = v.yes() })
	each("advances", func(v node) {
		m.Advances = nil
		for i := range v.list() {
			m.Advances = append(m.Advances, v.index(i).word("knit", "lace", "purl"))
		}
	})
	each("weave", func(v node) { m.Weave = v.yes() })
	each("intarsia", func(v node) { m.Intarsia = v.yes() })
	each("tuck_selected", func(v node) { m.TuckSelected = v.word("knit", "tuck") })
	each("weave_selected", func(v node) { m.WeaveSel = v.word("hidden", "shown") })
	each("reset_each_pass", func(v node) { m.ResetEach = v.yes() })
	each("mirror_switch", func(v node) { m.MirrorSwitch = v.yes() })
	each("words", func(v node) {
		m.Words = map[string]string{}
		for _, k := range v.members() {
			m.Words[k] = v.at(k).text()
		}
	})
	r.p.Machine = m
}

var hexColour = regexp.MustCompile(`^#[0-9a-fA-F]{6}$`)

func (r *reader) yarns(n node) {
	for i := range n.list() {
		y := n.index(i)
		if !y.object("id", "name", "colour") {
			continue
		}
		id, colour := y.at("id").text(), y.at("colour").text()
		switch {
		case len(id) != 1 || !(id[0] >= 'a' && id[0] <= 'z' || id[0] >= 'A' && id[0] <= 'Z') || id == "o":
			y.at("id").fail("%q: one letter, not o", id)
			continue
		case r.yarn(id) != 0:
			y.at("id").fail("%q: an earlier yarn has this letter", id)
			continue
		}
		if colour != "" && !hexColour.MatchString(colour) {
			y.at("colour").fail("%q: six digits, such as #23483f", colour)
		}
		name := y.at("name").text()
		if name == "" {
			name = "yarn " + id
		}
		if colour == "" {
			colour = "#b8b0a0"
		}
		r.p.Yarns = append(r.p.Yarns, Yarn{id[0], name, strings.ToLower(colour)})
	}
	if len(r.p.Yarns) == 0 && len(*n.errs) == 0 {
		n.fail("missing; a piece has at least one yarn")
	}
}

func (r *reader) yarn(id string) YarnNo {
	if len(id) != 1 {
		return 0
	}
	return YarnNo(1 + slices.IndexFunc(r.p.Yarns, func(y Yarn) bool { return y.ID == id[0] }))
}

// yarnAt reads a yarn's letter; 0 where it is left out or wrong.
func (r *reader) yarnAt(n node) YarnNo {
	id := n.text()
	y := r.yarn(id)
	if y == 0 && !n.missing() {
		n.fail("%q: no yarn has this letter", id)
	}
	return y
}

func (r *reader) chart(name string, n node) {
	if !n.object("side", "legend", "rows", "shows") {
		return
	}
	rows := n.at("rows")
	lines := make([]string, rows.list())
	for i := range lines {
		lines[i] = rows.index(i).text()
	}
	c, err := chart.FromRows(lines)
	if err != nil {
		var row *chart.RowError
		if errors.As(err, &row) && row.Index < len(lines) {
			rows, err = rows.index(row.Index), row.Err
		}
		rows.fail("%v", err)
		return
	}
	c.Name = name
	if n.at("side").word("knit", "purl") == "purl" {
		c.Side = chart.PurlSide
	}
	c.All = n.at("shows").word("right-side", "all") == "all"
	out := &Chart{Chart: c, Means: make([]chart.Meaning, len(c.Keys))}
	legend := map[rune]chart.Meaning{}
	if l := n.at("legend"); !l.missing() {
		for _, key := range l.members() {
			e := l.at(key)
			if utf8.RuneCountInString(key) != 1 {
				e.fail("%q: a legend explains one character at a time", key)
				continue
			}
			if !e.object("yarn", "stitch") {
				continue
			}
			m := chart.Meaning{Yarn: r.id(r.yarnAt(e.at("yarn")))}
			if s := e.at("stitch"); !s.missing() {
				if m.Stitch, err = chart.ParseStitch(s.text()); err != nil {
					s.fail("%v", err)
				}
			}
			first, _ := utf8.DecodeRuneInString(key)
			legend[first] = m
		}
	}
	out.Legend = legend
	for k, key := range c.Keys {
		m, ok := legend[key]
		if !ok && key < 128 && r.yarn(string(key)) != 0 { // a yarn's own letter explains itself
			m, ok = chart.Meaning{Yarn: byte(key)}, true
		}
		if !ok {
			out.Unknown = append(out.Unknown, key)
		}
		out.Means[k] = m
	}
	r.p.Charts[name] = out
}

// id is a yarn's letter, 0 for none.
func (r *reader) id(y YarnNo) byte {
	if y == 0 {
		return 0
	}
	return r.p.Yarns[y-1].ID
}

func (r *reader) needle(n node, bed machine.Bed) machine.Needle {
	s := n.text()
	if n.missing() || bed == 0 {
		return 0
	}
	x, err := machine.ParseNeedle(s)
	if err == nil {
		err = bed.Check(x)
	}
	if err != nil {
		n.fail("%v", err)
	}
	return x
}

func (r *reader) needles(n node) {
	bed := r.p.Machine.Bed
	if n.missing() {
		n.fail("missing; say which needles work, such as { \"from\": \"L36\", \"to\": \"R36\" }")
		return
	}
	if !n.object("from", "to", "out", "width") || bed == 0 {
		return
	}
	if w := n.at("width"); !w.missing() {
		odd := machine.Right
		if r.p.Options.Odd == "left" {
			odd = machine.Left
		}
		r.p.From, r.p.To = machine.Centre(w.whole(1, int(bed)), odd)
	} else {
		for _, end := range []string{"from", "to"} {
			if n.at(end).missing() {
				n.at(end).fail("missing; a needle such as L36")
			}
		}
		r.p.From, r.p.To = r.needle(n.at("from"), bed), r.needle(n.at("to"), bed)
	}
	if r.p.To < r.p.From {
		n.at("to").fail("%q: lies left of %v; needles run from left to right", r.p.To.String(), r.p.From)
	}
	out, err := machine.ParseSet(n.at("out").text(), bed)
	if err != nil {
		n.at("out").fail("%v", err)
	}
	r.p.Out = out
	if r.p.To >= r.p.From && r.p.Work().Empty() {
		n.at("out").fail("%q: no needle is left in work", out.String())
	}
}

func (r *reader) options(n node, base Options, also func(string) node) Options {
	o := base
	if !n.missing() {
		n.object(optionKeys...)
	}
	get := func(key string) node {
		if also != nil {
			if v := also(key); !v.missing() {
				return v
			}
		}
		return n.at(key)
	}
	for _, c := range []struct {
		key   string
		to    *string
		words []string
	}{
		{"lean", &o.Lean, []string{"shortest", "exact"}},
		{"selecting", &o.Selecting, []string{"knit", "free"}},
		{"odd", &o.Odd, []string{"right", "left"}},
		{"separation", &o.Separation, []string{"twice", "interleaved", "single"}},
		{"backing", &o.Backing, []string{"every", "birdseye", "stripes"}},
		{"counter", &o.Counter, []string{"run", "section", "repeat"}},
		{"end_needles", &o.EndNeedles, []string{"off", "auto", "hand"}},
		{"transfer", &o.Transfer, []string{"open", "fine"}},
	} {
		if v := get(c.key); !v.missing() {
			*c.to = v.word(c.words...)
		}
	}
	if v := get("first_yarn"); !v.missing() {
		o.FirstYarn = r.yarnAt(v)
	}
	return o
}

var stripe = regexp.MustCompile(`^([A-Za-z])(?:\*([0-9]{1,4}))?$`)

func (r *reader) section(n node) (s Section) {
	keys := append([]string{"name", "technique", "rows", "yarn", "yarns", "weft", "size", "areas", "recipe", "options"}, optionKeys...)
	if !n.object(keys...) {
		return s
	}
	s.Name = n.at("name").text()
	if n.at("technique").missing() {
		n.at("technique").fail("missing; one of %s", strings.Join(Techniques, ", "))
	}
	s.Technique = n.at("technique").word(Techniques...)
	s.Rows = n.at("rows").whole(1, MaxRows)
	if s.Yarn = r.yarnAt(n.at("yarn")); s.Yarn == 0 {
		s.Yarn = 1
	}
	yarns := n.at("yarns")
	for i := range yarns.list() {
		e := yarns.index(i)
		m := stripe.FindStringSubmatch(e.text())
		if m == nil || r.yarn(m[1]) == 0 {
			e.fail("%s: a yarn's letter and how many rows, such as \"A*2\"", e.show())
			continue
		}
		times := 1
		if m[2] != "" {
			times, _ = strconv.Atoi(m[2])
		}
		if times < 1 {
			e.fail("%s: at least one row", e.show())
		}
		for range times {
			s.Stripes = append(s.Stripes, r.yarn(m[1]))
		}
	}
	s.Weft = r.yarnAt(n.at("weft"))
	switch v := n.at("size").value.(type) {
	case nil, string:
		s.Size, _ = v.(string)
	default:
		n.at("size").number()
		s.Size = n.at("size").show()
	}
	areas := n.at("areas")
	for i := range areas.list() {
		if a, ok := r.area(areas.index(i), s.Technique); ok {
			s.Areas = append(s.Areas, a)
		}
	}
	s.Recipe = n.at("recipe").text()
	s.Options = r.options(n.at("options"), r.p.Options, n.at)
	r.sectionSense(n, &s)
	return s
}

// sectionSense checks what a technique needs of its section.
func (r *reader) sectionSense(n node, s *Section) {
	oneYarn := slices.Contains([]string{"plain", "slip", "tuck", "lace", "weave", "texture"}, s.Technique)
	if len(s.Stripes) > 0 && !oneYarn {
		n.at("yarns").fail("%s rows are not of one yarn each; use yarn", s.Technique)
	}
	switch {
	case s.Technique == "plain" && len(s.Areas) > 0:
		n.at("areas").fail("plain rows have no chart")
	case s.Technique == "lace":
		r.laceSense(n, s)
	case s.Technique == "weave" && s.Weft == 0 && n.at("weft").missing():
		n.at("weft").fail("missing; name the yarn that is woven")
	case s.Technique == "recipe" && s.Recipe == "":
		n.at("recipe").fail("missing; write the recipe's text")
	}
	if s.Rows == 0 && n.at("rows").missing() && n.at("areas").list() == 0 && s.Technique != "recipe" {
		n.at("rows").fail("missing; without a chart a section says how many rows it has")
	}
}

// laceSense checks what lace needs of its charts: that they show rows alike, and that
// none names a yarn, since one yarn makes a row.
func (r *reader) laceSense(n node, s *Section) {
	for i, a := range s.Areas {
		at := n.at("areas").index(i).at("chart")
		if a.Chart.All != s.Areas[0].Chart.All {
			at.fail("%q: it shows other rows than %q; the charts of one lace section show all rows, or right-side rows only", a.Chart.Name, s.Areas[0].Chart.Name)
		}
		for k, m := range a.Chart.Means {
			if m.Yarn != 0 && m.Yarn != r.id(s.Yarn) {
				at.fail("%q: %q names yarn %c; the yarn of a lace row is the section's", a.Chart.Name, string(a.Chart.Keys[k]), m.Yarn)
			}
			if m.Stitch == chart.Tuck || m.Stitch == chart.Slip || m.Stitch == chart.Weave {
				at.fail("%q: %q means %v; lace knits, purls and transfers", a.Chart.Name, string(a.Chart.Keys[k]), m.Stitch)
			}
		}
	}
}

func (r *reader) area(n node, technique string) (a Area, ok bool) {
	if !n.object("chart", "rows", "columns", "first", "from", "to", "transform", "above", "drop") {
		return a, false
	}
	name := n.at("chart").text()
	if a.Chart = r.p.Charts[name]; a.Chart == nil {
		if v, _ := n.at("chart").value.(string); v != "" || n.at("chart").missing() {
			n.at("chart").fail("%q: no such chart", name)
		}
		return a, false
	}
	before := len(*n.errs)
	c := a.Chart
	a.Lace = technique == "lace"
	for _, key := range c.Unknown {
		x, row := c.find(key)
		lacks := "is not in the legend"
		if a.Lace {
			if _, ok := chart.LaceMark(key); ok {
				continue
			}
			lacks = "is no mark of lace (. o / \\ ^ - x), nor in the legend"
		}
		*n.errs = append(*n.errs, &Error{"charts." + name + ".rows[" + strconv.Itoa(row) + "]",
			errors.New("column " + strconv.Itoa(x+1) + ": \"" + string(key) + "\" " + lacks)})
	}
	if technique == "two-colour" || technique == "intarsia" {
		for k, m := range c.Means {
			if m.Stitch != chart.Knit {
				n.at("chart").fail("%q: %q means %v; %s knits knit stitches only", name, string(c.Keys[k]), m.Stitch, technique)
			}
		}
	}
	span := func(key string, most int) [2]int {
		v := n.at(key)
		if v.missing() {
			return [2]int{1, most}
		}
		if l, isList := v.value.([]any); !isList || len(l) != 2 {
			v.fail("%s: two numbers, the first and the last", v.show())
			return [2]int{1, most}
		}
		s := [2]int{v.index(0).whole(1, most), v.index(1).whole(1, most)}
		if s[1] < s[0] && s[1] > 0 {
			v.fail("%s: the first is above the last", v.show())
		}
		return s
	}
	a.Rows, a.Columns = span("rows", c.H), span("columns", c.W)
	bed := r.p.Machine.Bed
	a.From, a.To = r.p.From, r.p.To
	if v := n.at("from"); !v.missing() {
		a.From = r.needle(v, bed)
	}
	if v := n.at("to"); !v.missing() {
		a.To = r.needle(v, bed)
	}
	a.First = a.From
	if v := n.at("first"); !v.missing() {
		a.First = r.needle(v, bed)
	}
	if a.To < a.From {
		n.at("to").fail("%q: lies left of %v; needles run from left to right", a.To.String(), a.From)
	}
	transforms := n.at("transform")
	for i := range transforms.list() {
		t := transforms.index(i).word(chart.Transforms...)
		if slices.Contains(a.Transform, t) && t != "" {
			transforms.index(i).fail("%q: named twice", t)
		}
		a.Transform = append(a.Transform, t)
		if t == "invert" && len(c.Keys) != 2 {
			transforms.index(i).fail("\"invert\": %q has %d characters; only a chart of two can be inverted", name, len(c.Keys))
		}
		if technique == "lace" && t != "mirror" && t != "" {
			transforms.index(i).fail("%q: lace can only be mirrored and repeated", t)
		}
	}
	a.Blank = n.at("above").word("repeat", "blank") == "blank"
	a.Drop = n.at("drop").whole(-MaxRows, MaxRows)
	return a, len(*n.errs) == before
}

// find is the first cell from the top with a key: column and row from 0, row 0 the top.
func (c *Chart) find(key rune) (x, row int) {
	k := uint8(c.Key(key))
	for row := range c.H {
		if x := slices.Index(c.Row(c.H-1-row), k); x >= 0 {
			return x, row
		}
	}
	return 0, 0
}
