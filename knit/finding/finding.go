// Package finding is what Vindel tells a knitter about a plan: one fault or
// remark, where it is, how much it matters, and what would mend it.
package finding

import (
	"cmp"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"vindel/knit/edit"
	"vindel/knit/machine"
)

// Severity says what a finding means for the plan.
type Severity uint8

// Note informs, Warn may cost fabric, Stop means that the piece cannot be knitted so.
const (
	Note Severity = iota
	Warn
	Stop
)

func (s Severity) String() string { return [...]string{"note", "warn", "stop"}[s] }

// MarshalText writes the severity's word.
func (s Severity) MarshalText() ([]byte, error) { return []byte(s.String()), nil }

// Round is where in the rounds of a recipe something is: the word of a repeat ("": none is
// written), its round from 1, and how many there are.
type Round struct {
	Word string `json:"word"`
	N    int    `json:"n"`
	Of   int    `json:"of"`
}

// Said is rounds in words, outermost first, each behind a comma: ", wedge 37 of 72, round 3 of 4".
func Said(rounds []Round) string {
	var b strings.Builder
	for _, r := range rounds {
		fmt.Fprintf(&b, ", %s %d of %d", cmp.Or(r.Word, "round"), r.N, r.Of)
	}
	return b.String()
}

// Finding is one fault or remark. Section counts from 1 (0: the whole piece), rows
// are the section's own, from 1 at the bottom (0, 0: none in particular).
type Finding struct {
	Code     Code        `json:"code"`
	Severity Severity    `json:"severity"`
	Section  int         `json:"section"`
	Rows     [2]int      `json:"rows"`
	Needles  machine.Set `json:"needles"`
	Text     string      `json:"text"`
	Fix      string      `json:"fix"`
	Source   int         `json:"source,omitempty"` // of a recipe: its line, from 1
	Round    []Round     `json:"round,omitempty"`  // and the rounds around it

	// Mend works out the edit of the piece that Fix describes; nil where hands or a
	// decision are needed. It is called only when somebody wants the edit.
	Mend func() []edit.Change `json:"-"`

	// Ways are the ways that Fix tells, where there are several: each is a decision of hers. Mend is the first.
	Ways []Offer `json:"-"`
}

// Offer is a way to mend a finding: what it changes, and the edit.
type Offer struct {
	Fix  string
	Mend func() []edit.Change
}

// Offers are all the ways to mend a finding by an edit.
func (f *Finding) Offers() []Offer {
	switch {
	case len(f.Ways) > 0:
		return f.Ways
	case f.Mend != nil:
		return []Offer{{f.Fix, f.Mend}}
	}
	return nil
}

// Remedy is the edit of the piece that Fix describes, empty where there is none.
func (f *Finding) Remedy() []edit.Change {
	if f.Mend == nil {
		return nil
	}
	return f.Mend()
}

// Always is a Mend that is known at once.
func Always(changes []edit.Change) func() []edit.Change {
	return func() []edit.Change { return changes }
}

// MarshalJSON adds the remedy to the fields.
func (f Finding) MarshalJSON() ([]byte, error) {
	type fields Finding
	return json.Marshal(struct {
		fields
		Remedy []edit.Change `json:"remedy,omitempty"`
	}{fields(f), f.Remedy()})
}

// Stops says whether any of the findings stops the plan.
func Stops(fs []Finding) bool {
	return slices.ContainsFunc(fs, func(f Finding) bool { return f.Severity == Stop })
}

// Sort orders findings: the gravest first, then as the piece is knitted.
func Sort(fs []Finding) {
	slices.SortStableFunc(fs, func(a, b Finding) int {
		return cmp.Or(cmp.Compare(b.Severity, a.Severity), cmp.Compare(a.Section, b.Section),
			cmp.Compare(a.Rows[0], b.Rows[0]), cmp.Compare(a.Code, b.Code))
	})
}

// MostAlike is how many findings of one code are told: nobody reads thousands that are alike,
// and a piece can have a hundred thousand.
const MostAlike = 500

// Few keeps the first MostAlike findings of each code, and lets the last of those kept say
// how many there are besides.
func Few(fs []Finding) []Finding {
	count, last := map[Code]int{}, map[Code]int{}
	kept := make([]Finding, 0, min(len(fs), MostAlike))
	for _, f := range fs {
		if count[f.Code]++; count[f.Code] <= MostAlike {
			last[f.Code] = len(kept)
			kept = append(kept, f)
		}
	}
	for code, n := range count {
		if n > MostAlike {
			kept[last[code]].Text += fmt.Sprintf(" There are %d more like this, which are not listed.", n-MostAlike)
		}
	}
	return kept
}

// OneLine is the finding on one line, tab-separated, as `vindel check` prints it.
func (f Finding) OneLine() string {
	return fmt.Sprintf("%v\t%s\t%d\t%d-%d\t%v\t%s", f.Severity, f.Code, f.Section, f.Rows[0], f.Rows[1], f.Needles,
		f.Text)
}
