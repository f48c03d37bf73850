package piece

import (
	"regexp"
	"slices"
	"strings"
)

var hexColour = regexp.MustCompile(`^#[0-9a-fA-F]{6}$`)

func (r *reader) yarns(n node) {
	for i := range n.list() {
		y := n.index(i)
		if !y.object("id", "name", "colour", "ball", "have", "strand") {
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
		name := y.at("name").short()
		if name == "" {
			name = "yarn " + id
		}
		if colour == "" {
			colour = "#b8b0a0"
		}
		r.p.Yarns = append(r.p.Yarns, Yarn{ID: id[0], Name: name, Colour: strings.ToLower(colour),
			Ball: ball(y.at("ball")), Have: have(y.at("have")),
			Carry: y.at("strand").word("cut", "carry") == "carry"})
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

// id is a yarn's letter, 0 for none.
func (r *reader) id(y YarnNo) byte {
	if y == 0 {
		return 0
	}
	return r.p.Yarns[y-1].ID
}

// ball reads what a ball weighs and measures.
func ball(n node) (b Ball) {
	if n.missing() || !n.object("grams", "metres") {
		return b
	}
	return Ball{n.amount("grams", 10000), n.amount("metres", 100000)}
}

// have reads how many balls are in hand, -1 where that is not said.
func have(n node) int {
	if n.missing() {
		return -1
	}
	return n.whole(0, 10000)
}
