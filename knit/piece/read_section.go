package piece

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"vindel/knit/machine"
)

var stripe = regexp.MustCompile(`^([A-Za-z])(?:\*([0-9]{1,4}))?$`)

func (r *reader) section(n node) (s Section) {
	keys := append([]string{"id", "name", "technique", "rows", "yarn", "yarns", "weft", "size", "areas", "carriage",
		"free", "strand", "notes", "joined",
		"from_line", "passes", "second", "second_size", "second_out", "out", "rib", "recipe", "with", "variants",
		"swatch", "options"}, OptionKeys()...)
	if !n.object(keys...) {
		return s
	}
	s.Name = n.at("name").short()
	if n.at("technique").missing() {
		n.at("technique").fail("missing; one of %s", strings.Join(r.techniques.Names(), ", "))
	}
	if s.Technique = r.techniques.Find(n.at("technique").word(r.techniques.Names()...)); s.Technique == nil {
		s.Technique = &Technique{} // the fault is told; what does not hang on it is read all the same
	}
	s.Rows = n.at("rows").whole(1, MaxRows)
	if s.Yarn = r.yarnAt(n.at("yarn")); s.Yarn == 0 {
		s.Yarn = 1
	}
	yarns := n.at("yarns")
	for i := range yarns.list() {
		e := yarns.index(i)
		m := stripe.FindStringSubmatch(e.text())
		if m == nil || r.yarn(m[1]) == 0 {
			e.fail("%s: a yarn's letter and how many rows, such as \"A*2\"", e.quoted())
			continue
		}
		times := 1
		if m[2] != "" {
			times, _ = strconv.Atoi(m[2])
		}
		if times < 1 {
			e.fail("%s: at least one row", e.quoted())
		}
		for range times {
			s.Stripes = append(s.Stripes, r.yarn(m[1]))
		}
	}
	s.Weft = r.yarnAt(n.at("weft"))
	s.OwnYarn = !n.at("yarn").missing()
	s.Size, s.BehindSize = n.at("size").size(), n.at("second_size").size()
	s.Behind = n.at("second").word("", "every", "birdseye", "stripes")
	areas := n.at("areas")
	for i := range areas.list() {
		if a, ok := r.area(areas.index(i), s.Technique); ok {
			s.Areas = append(s.Areas, a)
		}
	}
	if free := n.at("free"); !free.missing() {
		s.Free = free.yes()
	}
	s.Carry = n.at("strand").word("cut", "carry") == "carry"
	notes := n.at("notes")
	for i := range notes.list() {
		if note := notes.index(i); note.object("before", "text") {
			at := note.at("before").whole(0, MaxRows)
			if s.Rows > 0 && at > s.Rows {
				note.at("before").fail("%d: the section has %d rows", at, s.Rows)
			}
			if note.at("before").missing() {
				note.at("before").fail("missing; the row that the note stands before, or 0 for the section")
			}
			text := strings.TrimSpace(note.at("text").short())
			if text == "" {
				note.at("text").fail("missing; a note says something")
			}
			if s.Notes == nil {
				s.Notes = map[int][]string{}
			}
			s.Notes[at] = append(s.Notes[at], text)
		}
	}
	s.ByPurl = n.at("carriage").word("knit", "purl") == "purl"
	s.Joined = r.p.Machine.Joined
	if j := n.at("joined"); !j.missing() {
		s.Joined = j.yes()
	}
	s.FromLine = 1
	if at := n.at("from_line"); !at.missing() {
		s.FromLine = at.whole(1, MaxRows)
	}
	s.Passes = n.at("passes").whole(1, 2*MaxRows)
	r.recipe(n, &s)
	s.Swatch = r.swatch(n.at("swatch"))
	s.Options = r.options(n.at("options"), r.p.Options, n.at)
	r.sectionSense(n, &s)
	return s
}

// sectionSense checks what a technique needs of its section.
func (r *reader) sectionSense(n node, s *Section) {
	t := s.Technique
	for _, key := range t.Refuses {
		if at := n.at(key); !at.missing() {
			at.fail("a %s has none; what it knits stands in its text", t.Name)
		}
	}
	for _, key := range []string{"recipe", "with", "variants"} {
		if at := n.at(key); !at.missing() && !t.OwnRows {
			at.fail("only a section of technique recipe has one")
		}
	}
	if len(s.Stripes) > 0 && !t.OneYarn {
		n.at("yarns").fail("%s rows are not of one yarn each; use yarn", t.Name)
	}
	if at := n.at("carriage"); s.ByPurl && !t.Ribs {
		at.fail("only plain rows say which carriage knits them")
	}
	if t.Weft && s.Weft == 0 && n.at("weft").missing() {
		n.at("weft").fail("missing; name the yarn that is woven")
	}
	if at := n.at("second"); s.Behind != "" {
		switch {
		case !r.p.Machine.HasSecond():
			at.fail("%s has no second bed", r.p.Machine.Name)
		case !t.Behind:
			at.fail("%q: a second bed knits behind plain, two-colour, slip and tuck rows", s.Behind)
		case s.ByPurl:
			at.fail("%q: the purl carriage works alone", s.Behind)
		}
	}
	if at := n.at("rib"); !at.missing() {
		m := ribOf.FindStringSubmatch(at.text())
		switch {
		case m == nil:
			at.fail("%s: needles of the one bed and of the other by turns, such as \"1x1\" or \"2x1\"", at.quoted())
		case !t.Ribs:
			at.fail("only plain rows make a rib")
		case s.Behind != "":
			at.fail("a rib has its own needles on both beds; leave second out")
		case !r.p.Machine.HasSecond():
			at.fail("%s has no second bed", r.p.Machine.Name)
		default:
			s.Rib[0], _ = strconv.Atoi(m[1])
			s.Rib[1], _ = strconv.Atoi(m[2])
		}
	}
	for key, set := range map[string]*machine.Set{"out": &s.Out, "second_out": &s.SecondOut} {
		if at := n.at(key); !at.missing() {
			var err error
			if *set, err = machine.ParseSet(at.text(), r.p.Machine.Bed); err != nil {
				at.fail("%v", err)
			}
			if !r.p.Machine.HasSecond() {
				at.fail("%s has no second bed to take its stitches", r.p.Machine.Name)
			}
		}
	}
	if main, _ := r.p.Beds(s); main.Empty() && !r.p.Work().Empty() {
		n.at("out").fail("%q: no needle of the main bed is left in work", s.Out.String())
	}
	if at := n.at("second_size"); !at.missing() && (!r.p.Machine.HasSecond() || !t.Behind && t.TwoBeds == nil &&
		s.Rib[0] == 0) {
		at.fail("no second bed works in this section")
	}
	if t.Sense != nil {
		t.Sense(r.p, s, func(path, format string, a ...any) {
			*n.errs = append(*n.errs, &Error{n.path + "." + path, fmt.Errorf(format, a...)})
		})
	}
	r.lineSense(n, s)
	r.lineAreas(n, s)
	if s.Rows == 0 && n.at("rows").missing() && n.at("areas").list() == 0 && !t.OwnRows {
		n.at("rows").fail("missing; without a chart a section says how many rows it has")
	}
}

// lineSense checks what only a card or program has: another line to begin at, a card that is
// closed or not, and an odd pass at the end.
func (r *reader) lineSense(n node, s *Section) {
	m := &r.p.Machine
	lined := len(s.Areas) > 0 && s.Technique.IsPatterned(m) && m.School != machine.ByHand
	if at := n.at("from_line"); !at.missing() && (m.Program == machine.NoProgram || !lined) {
		at.fail("only a section whose needles a card or program selects begins at a line, and not one of lace")
	}
	tallest := 0
	for i := range s.Areas {
		_, h := s.Areas[i].Size()
		tallest = max(tallest, h)
	}
	if s.FromLine > tallest && lined {
		n.at("from_line").fail("%d: its charts have %d rows", s.FromLine, tallest)
	}
	if at := n.at("joined"); !at.missing() && !m.HasCard() {
		at.fail("%s has no card", m.Name)
	}
	at := n.at("passes")
	if at.missing() {
		return
	}
	if s.Rows == 0 && s.Passes%2 == 1 {
		s.Rows = (s.Passes + 1) / 2
	}
	switch {
	case m.School != machine.Pairs:
		at.fail("only a reader that gives every line two passes can end after one")
	case !lined:
		at.fail("no card selects the needles of this section")
	case s.Passes != 2*s.Rows-1:
		at.fail("%d: %d rows end after pass %d of the section, or after %d where `passes` is left out", s.Passes,
			s.Rows,
			2*s.Rows-1, 2*s.Rows)
	}
}

var ribOf = regexp.MustCompile(`^([1-9])x([1-9])$`)

var sectionID = regexp.MustCompile(`^[a-z0-9-]{1,40}$`)

// identify gives every section an id of its own: the one it has in the file, or its place
// among the sections, from 1.
func (r *reader) identify(sections node) {
	taken := map[string]bool{}
	for i := range r.p.Sections {
		n := sections.index(i).at("id")
		id := n.text()
		switch {
		case n.missing():
			continue
		case !sectionID.MatchString(id):
			n.fail("%q: 1 to 40 small letters, figures and hyphens", id)
		case taken[id]:
			n.fail("%q: an earlier section has this id", id)
		}
		taken[id], r.p.Sections[i].ID, r.p.Sections[i].OwnID = true, id, true
	}
	for i := range r.p.Sections {
		if s := &r.p.Sections[i]; s.ID == "" {
			for s.ID = "s" + strconv.Itoa(i+1); taken[s.ID]; s.ID += "-" {
			}
			taken[s.ID] = true
		}
	}
}
