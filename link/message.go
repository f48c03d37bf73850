package link

import (
	"fmt"
	"hash/crc32"
	"sort"
	"strconv"
	"strings"

	"vindel/knit/machine"
)

// Version is the version of the protocol that is spoken here.
const Version = 1

// MaxLine is the longest line in bytes; longer ones are refused and end the connection.
const MaxLine = 1 << 20

// Message is one line: a word, then fields `key=value`, none of which holds a blank; what follows `text=`
// or `json=` goes to the end of the line. Empty values are written as `-`.
type Message struct {
	Word   string
	Fields map[string]string
}

// Say is a message of a word and its fields: key, value, key, value …
func Say(word string, fields ...any) Message {
	m := Message{word, map[string]string{}}
	for i := 0; i+1 < len(fields); i += 2 {
		m.Fields[fmt.Sprint(fields[i])] = fmt.Sprint(fields[i+1])
	}
	return m
}

// tails are the keys whose value goes to the end of the line.
var tails = []string{"text", "json"}

// String is the line, without its end.
func (m Message) String() string {
	keys := make([]string, 0, len(m.Fields))
	tail := ""
	for k := range m.Fields {
		if k == tails[0] || k == tails[1] {
			tail = k
			continue
		}
		keys = append(keys, k)
	}
	sort.Strings(keys)
	var b strings.Builder
	b.WriteString(m.Word)
	for _, k := range keys {
		v := strings.Join(strings.Fields(m.Fields[k]), "_")
		if v == "" {
			v = "-"
		}
		b.WriteString(" " + k + "=" + v)
	}
	if tail != "" {
		b.WriteString(" " + tail + "=" + strings.NewReplacer("\n", " ", "\r", " ").Replace(m.Fields[tail]))
	}
	return b.String()
}

// Read reads a line. What is no message is an error that names its place.
func Read(line string) (m Message, err error) {
	line = strings.TrimRight(line, "\r\n")
	word, rest, _ := strings.Cut(line, " ")
	if word == "" || strings.IndexFunc(word, func(r rune) bool { return r < 'a' || r > 'z' }) >= 0 {
		return m, fmt.Errorf("column 1: a line begins with a word in small letters, not %.20q", word)
	}
	m = Message{word, map[string]string{}}
	at := len(word) + 2
	for rest != "" {
		key, value, ok := strings.Cut(rest, "=")
		if !ok || key == "" || strings.ContainsAny(key, " \t") {
			return m, fmt.Errorf("column %d: a field is key=value, not %.20q", at, rest)
		}
		if key == tails[0] || key == tails[1] {
			m.Fields[key] = value
			return m, nil
		}
		value, next, _ := strings.Cut(value, " ")
		if value == "-" {
			m.Fields[key] = ""
		} else {
			m.Fields[key] = value
		}
		at += len(rest) - len(next)
		rest = next
	}
	return m, nil
}

// Has says that a field is there.
func (m Message) Has(key string) bool { _, ok := m.Fields[key]; return ok }

// Number is a field as a whole number; or where it is none.
func (m Message) Number(key string, or int) int {
	if n, err := strconv.Atoi(m.Fields[key]); err == nil {
		return n
	}
	return or
}

// Side is a field as a side; 0 where it is none.
func (m Message) Side(key string) machine.Side {
	switch m.Fields[key] {
	case "left":
		return machine.Left
	case "right":
		return machine.Right
	}
	return 0
}

// Carriage is a field as a carriage; false where it is none.
func (m Message) Carriage(key string) (machine.Carriage, bool) {
	for _, c := range []machine.Carriage{machine.KnitCarriage, machine.LaceCarriage, machine.PurlCarriage,
		machine.SecondCarriage} {
		if c.String() == m.Fields[key] {
			return c, true
		}
	}
	return 0, false
}

// Needles is a field as needles of a bed; false where it is no such set.
func (m Message) Needles(key string, bed machine.Bed) (machine.Set, bool) {
	set, err := machine.ParseSet(m.Fields[key], bed)
	return set, err == nil
}

// Sum is the check of a program: CRC-32 (IEEE) of what each line selects, each ended by a line feed, in eight
// hexadecimal figures.
func Sum(selects []string) string {
	h := crc32.NewIEEE()
	for _, s := range selects {
		fmt.Fprintf(h, "%s\n", s)
	}
	return fmt.Sprintf("%08x", h.Sum32())
}
