package pass

import (
	"fmt"
	"strconv"
	"strings"
)

// ID is a pass's identity: which section, which repeat of its pattern, which row in that,
// which part of a divided piece, and which of the row's passes. It stays when rows and
// sections elsewhere are edited, so the journal keeps it. Repeat, Row and Nth count from 1;
// Row 0 is before the first row.
type ID struct {
	Section string // the section's own id
	Repeat  int
	Row     int
	Part    string // "", first or second
	Nth     int
}

// String is the identity as one word: "s2/1/14//1".
func (id ID) String() string {
	return fmt.Sprintf("%s/%d/%d/%s/%d", id.Section, id.Repeat, id.Row, id.Part, id.Nth)
}

// ParseID reads what String writes.
func ParseID(text string) (id ID, err error) {
	parts := strings.Split(text, "/")
	if len(parts) != 5 {
		return id, fmt.Errorf("%q: a pass is section/repeat/row/part/pass", text)
	}
	id.Section, id.Part = parts[0], parts[3]
	for _, n := range []struct {
		text string
		to   *int
	}{{parts[1], &id.Repeat}, {parts[2], &id.Row}, {parts[4], &id.Nth}} {
		if *n.to, err = strconv.Atoi(n.text); err != nil {
			return ID{}, fmt.Errorf("%q: %q is no number", text, n.text)
		}
	}
	return id, nil
}

// Before says that a pass of one section is knitted before another of the same section.
func (id ID) Before(other ID) bool {
	switch {
	case id.Part != other.Part:
		return id.Part < other.Part
	case id.Repeat != other.Repeat:
		return id.Repeat < other.Repeat
	case id.Row != other.Row:
		return id.Row < other.Row
	}
	return id.Nth < other.Nth
}
