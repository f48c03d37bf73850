package web

import (
	"cmp"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"
)

// browse is what the shelf is asked for: all of these at once.
type browse struct {
	Words   string // each in the name, the machine, a yarn or a label
	Machine string // by its name
	State   string // one of states
	Label   string
	Sort    string // one of sorts
}

// choiceWord is a word of a form's list.
type choiceWord struct{ Value, Text string }

var (
	states = []choiceWord{{"", "all"}, {"on", "on a machine"}, {"new", "not begun"}, {"done", "finished"},
		{"stops", "stopped by something"}}
	sorts = []choiceWord{{"", "latest touched"}, {"name", "name"}, {"machine", "machine"}, {"far", "how far"}}
)

func browsed(c *gin.Context) browse {
	return browse{Words: strings.TrimSpace(c.Query("q")), Machine: c.Query("machine"), State: c.Query("state"),
		Label: c.Query("label"),
		Sort:  c.Query("sort")}
}

// from is the address of the shelf as it is asked for, from a piece on (counted from 0).
func (b browse) from(n int) string {
	return "/?" + url.Values{"q": {b.Words}, "machine": {b.Machine}, "state": {b.State}, "label": {b.Label},
		"sort": {b.Sort}, "from": {strconv.Itoa(n)}}.Encode()
}

// Asks says that some pieces are left out.
func (b browse) Asks() bool {
	return b.Words != "" || b.Machine != "" || b.State != "" || b.Label != ""
}

// stateOf says how a piece stands, as states names it.
func (p *pieceCard) stateOf() string {
	switch {
	case p.Stops > 0 || p.Bad != "":
		return "stops"
	case p.Done > 0 && (p.Done < p.Passes || p.Waits):
		return "on"
	case p.Done > 0:
		return "done"
	}
	return "new"
}

// fits says that a piece is asked for.
func (b browse) fits(p *pieceCard) bool {
	if b.Machine != "" && p.Machine != b.Machine || b.State != "" && p.stateOf() != b.State || b.Label != "" &&
		!slices.Contains(p.Labels, b.Label) {
		return false
	}
	all := []string{p.Name, p.Machine}
	for _, y := range p.Yarns {
		all = append(all, y.Name)
	}
	text := strings.ToLower(strings.Join(append(all, p.Labels...), "\n"))
	for w := range strings.FieldsSeq(strings.ToLower(b.Words)) {
		if !strings.Contains(text, w) {
			return false
		}
	}
	return true
}

// order puts pieces as they are asked for; as they were last touched those on a machine come first.
func (b browse) order(list []pieceCard) {
	slices.SortStableFunc(list, func(x, y pieceCard) int {
		switch b.Sort {
		case "name":
			return cmp.Compare(strings.ToLower(x.Name), strings.ToLower(y.Name))
		case "machine":
			return cmp.Or(cmp.Compare(x.Machine, y.Machine), cmp.Compare(strings.ToLower(x.Name),
				strings.ToLower(y.Name)))
		case "far":
			return cmp.Compare(y.Percent, x.Percent)
		}
		on := func(p *pieceCard) int {
			if p.stateOf() == "on" {
				return 0
			}
			return 1
		}
		return on(&x) - on(&y)
	})
}

// distinct are the values that pieces have, each once, in order.
func distinct(list []pieceCard, of func(p *pieceCard) []string) (all []string) {
	for i := range list {
		for _, v := range of(&list[i]) {
			if v != "" && !slices.Contains(all, v) {
				all = append(all, v)
			}
		}
	}
	slices.Sort(all)
	return all
}
