package beside

import (
	"fmt"
	"slices"
	"strings"

	"vindel/knit/pass"
	"vindel/knit/step"
	"vindel/knit/words"
)

// Event is something that comes: how many passes on, what the counter shows then, and what.
type Event struct {
	Passes, Reading int
	Text            string
}

// String is the event in words: "in 3 passes, at 14: thread oat".
func (e Event) String() string {
	return fmt.Sprintf("in %s, at %d: %s", words.Count(e.Passes, "pass", "passes"), e.Reading, e.Text)
}

// horizon is how many passes ahead is looked for what comes: some ten hours of knitting.
const horizon = 10000

// Events lists what comes after pass i (from 0) within the horizon: the next of every kind, at most so many, so
// that a weight does not hide a yarn; the end of a repeat and a section too, and of the piece however far.
func Events(pl *pass.Plan, i, most int) (list []Event) {
	told := map[step.Event]bool{} // kinds that came with an earlier pass
	repeat, of := Repeat(pl, i)
	for j := i + 1; j < min(len(pl.Passes), i+horizon) && len(list) < most; j++ {
		now := &pl.Passes[j]
		brings := slices.ContainsFunc(now.Before, func(st pass.Step) bool {
			kind := st.Event()
			return kind != step.Everyday && !told[kind]
		})
		if !brings && (now.Section == pl.Passes[i].Section || told["section"]) && (repeat == 0 || told["repeat"]) {
			continue // most passes
		}
		here := map[step.Event]bool{}
		var texts []string
		add := func(kind step.Event, text string) {
			if kind != step.Everyday && text != "" && !told[kind] {
				here[kind] = true
				texts = append(texts, text)
			}
		}
		if now.Section != pl.Passes[i].Section {
			add("section", pl.Title(now)+" begins")
		} else if n, _ := Repeat(pl, j); repeat > 0 && n > repeat {
			add("repeat", fmt.Sprintf("repeat %d of %d ends", repeat, of))
		}
		said := false
		steps := rowOf(pl, now, func(st *pass.Step) string {
			kind := st.Event()
			if kind == step.Everyday || told[kind] {
				return ""
			}
			here[kind], said = true, true
			return st.Short(pl.Piece)
		})
		if said && steps.Text != "" { // else it says only which part it is
			texts = append(texts, steps.Text)
		}
		if len(texts) > 0 {
			list = append(list, Event{j - i, Reading(pl, j), strings.Join(texts, ", ")})
		}
		for kind := range here {
			told[kind] = true
		}
	}
	if n := len(pl.Passes); len(list) < most {
		list = append(list, Event{n - i, pl.Passes[n-1].Counter, "the last pass is knitted"})
	}
	return list
}

// UpTo is how many passes can be knitted one after another from pass i (from 0) on before
// hands must do anything again.
func UpTo(pl *pass.Plan, i int) (n int) {
	for n = 1; i+n < len(pl.Passes); n++ {
		now := &pl.Passes[i+n]
		if len(now.Lays) > 0 || now.Section != pl.Passes[i].Section {
			return n
		}
		for j := range now.Before {
			if now.Before[j].Hands() {
				return n
			}
		}
	}
	return n
}
