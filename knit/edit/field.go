package edit

import (
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
)

// Typed is how a value that was typed is to be read.
type Typed string

// The ways to read what was typed: as it stands, as a whole number, as a measure (which may
// have a comma), as a word that is put in a list or taken out of it, and as below.
const (
	AsText    Typed = ""
	AsNumber  Typed = "number"
	AsMeasure Typed = "measure"
	AsToggle  Typed = "toggle"
	AsYes     Typed = "yes"  // true or false
	AsSpan    Typed = "span" // two numbers, the first and the last: 9–20
)

// Field sets one value of a piece file to what was typed; empty, the member is taken away.
// The place that it stands in is made where there is none yet, such as the piece's options.
func Field(d *Document, at Path, typed string, as Typed) (changes []Change, err error) {
	parent, last := at.Cut()
	if parent == Whole && last == "" {
		return nil, fmt.Errorf("%q: no such field", string(at))
	}
	old, had := d.Get(at)
	if _, ok := d.Get(parent); !ok {
		changes = Set(parent, map[string]any{})
	}
	set := Set
	if holder, _ := d.Get(parent); isList(holder) {
		set = Put
	}
	var value any = typed
	switch {
	case as == AsToggle:
		list, _ := old.([]any)
		if i := slices.Index(list, value); i >= 0 {
			value = slices.Delete(slices.Clone(list), i, i+1)
		} else {
			value = append(slices.Clone(list), value)
		}
	case typed == "" && had:
		return append(changes, Drop(at)...), nil
	case typed == "":
		return nil, nil
	case as == AsYes:
		value = typed == "true"
	case as == AsSpan:
		if value, err = span(typed); err != nil {
			return nil, err
		}
	case as == AsMeasure:
		if value, err = strconv.ParseFloat(strings.Replace(typed, ",", ".", 1), 64); err != nil {
			return nil, fmt.Errorf("%q: a number is needed", typed)
		}
	case as == AsNumber:
		if value, err = strconv.Atoi(typed); err != nil {
			return nil, fmt.Errorf("%q: a whole number is needed", typed)
		}
	}
	return append(changes, set(at, value)...), nil
}

// span reads two numbers: "9–20", "9 20"; one alone is both.
func span(typed string) ([]int, error) {
	words := strings.FieldsFunc(typed, func(r rune) bool { return r < '0' || r > '9' })
	if len(words) == 1 {
		words = append(words, words[0])
	}
	if len(words) != 2 {
		return nil, fmt.Errorf("%q: the first and the last, such as 9–20", typed)
	}
	from, err := strconv.Atoi(words[0])
	to, err2 := strconv.Atoi(words[1])
	if err = errors.Join(err, err2); err != nil {
		return nil, fmt.Errorf("%q: the first and the last, such as 9–20", typed)
	}
	return []int{from, to}, nil
}

func isList(v any) bool { _, ok := v.([]any); return ok }
