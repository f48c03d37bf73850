package piece

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"
)

// Error is a fault in a piece file at a path such as "sections[1].areas[0].first".
type Error struct {
	Path string
	Err  error
}

func (e *Error) Error() string {
	if e.Path == "" {
		return e.Err.Error()
	}
	return e.Path + ": " + e.Err.Error()
}

func (e *Error) Unwrap() error { return e.Err }

// ErrorList is every fault found, in the order of the file. Its text is the first
// and how many more.
type ErrorList []*Error

func (l ErrorList) Error() string {
	switch len(l) {
	case 0:
		return "no errors"
	case 1:
		return l[0].Error()
	}
	return fmt.Sprintf("%v (and %d more)", l[0], len(l)-1)
}

// node is a value of the file with its place; faults gather in errs.
type node struct {
	path  string
	value any
	errs  *ErrorList
}

func (n node) fail(format string, a ...any) {
	*n.errs = append(*n.errs, &Error{n.path, fmt.Errorf(format, a...)})
}

// quoted is a value as it stands in the file, shortened for a message.
func (n node) quoted() string {
	b, _ := json.Marshal(n.value)
	if len(b) > 40 {
		return string(b[:37]) + "…"
	}
	return string(b)
}

func (n node) missing() bool { return n.value == nil }

func (n node) at(key string) node {
	place := key
	if n.path != "" {
		place = n.path + "." + key
	}
	m, _ := n.value.(map[string]any)
	return node{place, m[key], n.errs}
}

func (n node) index(i int) node {
	return node{fmt.Sprintf("%s[%d]", n.path, i), n.value.([]any)[i], n.errs}
}

// object checks that the node is an object with none but the given keys.
func (n node) object(keys ...string) bool {
	m, ok := n.value.(map[string]any)
	if !ok {
		n.fail("%s: an object { … } is needed", n.quoted())
		return false
	}
	for _, k := range sortedKeys(m) {
		if !slices.Contains(keys, k) {
			*n.errs = append(*n.errs, &Error{n.path,
				fmt.Errorf("unknown key %q; a newer Vindel may have written it, here there are %s", k,
					strings.Join(keys, ", "))})
		}
	}
	return true
}

// members gives the keys of an object whose names are the user's own, sorted.
func (n node) members() []string {
	m, ok := n.value.(map[string]any)
	if !ok {
		n.fail("%s: an object { … } is needed", n.quoted())
	}
	return sortedKeys(m)
}

func sortedKeys(m map[string]any) []string {
	keys := make([]string, 0, len(m))
	for k := range m {
		keys = append(keys, k)
	}
	slices.Sort(keys)
	return keys
}

// list gives the length of an array; a missing one has none.
func (n node) list() int {
	if n.missing() {
		return 0
	}
	l, ok := n.value.([]any)
	if !ok {
		n.fail("%s: a list [ … ] is needed", n.quoted())
	}
	return len(l)
}

func (n node) text() string {
	if n.missing() {
		return ""
	}
	s, ok := n.value.(string)
	if !ok {
		n.fail("%s: text in quotes is needed", n.quoted())
	}
	return s
}

// word is text that must be one of a few.
func (n node) word(words ...string) string {
	s := n.text()
	if _, isText := n.value.(string); isText && !slices.Contains(words, s) {
		n.fail("%q: %s", s, strings.Join(words, ", "))
		return ""
	}
	return s
}

// words is a list of words, each at most once.
func (n node) words(of ...string) (list []string) {
	for i := range n.list() {
		if w := n.index(i).word(of...); slices.Contains(list, w) {
			n.index(i).fail("%q stands there twice", w)
		} else {
			list = append(list, w)
		}
	}
	return list
}

// whole is a whole number from least to most.
func (n node) whole(least, most int) int {
	if n.missing() {
		return 0
	}
	num, ok := n.value.(json.Number)
	v, err := strconv.Atoi(num.String())
	if !ok || err != nil {
		n.fail("%s: a whole number is needed", n.quoted())
		return 0
	}
	if v < least || v > most {
		n.fail("%d: %d to %d", v, least, most)
		return 0
	}
	return v
}

// size is a stitch size: a number, or what the machine's dial says.
func (n node) size() string {
	switch n.value.(type) {
	case nil:
		return ""
	case string:
		return n.short()
	}
	n.number()
	return n.quoted()
}

// short is a text of at most MaxText characters.
func (n node) short() string {
	s := n.text()
	if l := utf8.RuneCountInString(s); l > MaxText {
		n.fail("%d characters: at most %d", l, MaxText)
	}
	return s
}

func (n node) number() float64 {
	num, ok := n.value.(json.Number)
	v, err := num.Float64()
	if !ok || err != nil || !(v > 0) || math.IsInf(v, 0) {
		n.fail("%s: a number above 0 is needed", n.quoted())
		return 1
	}
	return v
}

// amount is a member that is a number above 0 and at most so large; 0 where it is left out.
func (n node) amount(key string, most float64) float64 {
	at := n.at(key)
	if at.missing() {
		return 0
	}
	v := at.number()
	if v > most {
		at.fail("%s: at most %.0f", at.quoted(), most)
	}
	return v
}

func (n node) yes() bool {
	b, ok := n.value.(bool)
	if !ok {
		n.fail("%s: true or false", n.quoted())
	}
	return b
}

// Decode reads JSON into maps, lists, strings, json.Numbers and booleans; its
// errors name line and column.
func Decode(data []byte) (any, error) {
	dec := json.NewDecoder(bytes.NewReader(data))
	dec.UseNumber()
	var v any
	err := dec.Decode(&v)
	offset := dec.InputOffset()
	if err == nil {
		if _, more := dec.Token(); more != io.EOF {
			err = errors.New("something follows the end of the piece")
		}
	}
	if err == nil {
		return v, nil
	}
	var syntax *json.SyntaxError
	if errors.As(err, &syntax) {
		offset = syntax.Offset - 1 // it counts the byte that is wrong
	} else if errors.Is(err, io.ErrUnexpectedEOF) || errors.Is(err, io.EOF) {
		offset, err = int64(len(data)), errors.New("the file ends too early")
	}
	before := data[:min(int(offset), len(data))]
	line := 1 + bytes.Count(before, []byte("\n"))
	column := len(before) - bytes.LastIndexByte(before, '\n')
	return nil, fmt.Errorf("line %d, column %d: not JSON: %v", line, column, err)
}
