// Package repeats is the shelf of small repeats that ship with Vindel, to begin a piece from.
package repeats

import (
	_ "embed"
	"fmt"
	"strings"
	"sync"

	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/technique"
)

//go:embed repeats.txt
var text string

// Repeat is a chart to begin from, with the technique that it is drawn for.
type Repeat struct {
	Key       string // short, and of its own
	Name      string
	About     string // what it is, in a few words
	Technique string // the name of a technique of package technique
	Chart     *chart.Chart
}

var read = sync.OnceValues(func() ([]Repeat, error) { return parse(text) })

// All is the shelf, in the order of its file. The slice is not to be changed.
func All() []Repeat {
	list, err := read()
	if err != nil {
		panic(err) // the file ships with the program
	}
	return list
}

// Find is the repeat of a key, nil where there is none.
func Find(key string) *Repeat {
	for i, r := range All() {
		if r.Key == key {
			return &All()[i]
		}
	}
	return nil
}

// parse reads the file of the shelf: blocks between empty lines, each a head line and the rows of
// a chart, the top row first. Lines that begin with ; say nothing.
func parse(text string) (list []Repeat, err error) {
	for block := range strings.SplitSeq(text, "\n\n") {
		lines := strings.Split(strings.TrimSpace(block), "\n")
		for len(lines) > 0 && strings.HasPrefix(lines[0], ";") {
			lines = lines[1:]
		}
		if len(lines) == 0 || lines[0] == "" {
			continue
		}
		head := strings.SplitN(lines[0], " ", 3)
		if len(head) < 3 {
			return nil, fmt.Errorf("repeat %q: key, technique and name are needed", lines[0])
		}
		r := Repeat{Key: head[0], Technique: head[1]}
		var told bool
		if r.Name, r.About, told = strings.Cut(head[2], ": "); !told {
			return nil, fmt.Errorf("repeat %s: a name and what it is are needed, with a colon between", r.Key)
		}
		if r.Chart, err = chart.FromRows(lines[1:]); err != nil {
			return nil, fmt.Errorf("repeat %s: %w", r.Key, err)
		}
		list = append(list, r)
	}
	return list, nil
}

// Document is a piece of a repeat: so many side by side in the middle of a machine's bed, drawn for
// the side that its technique is worn on.
func (r *Repeat) Document(name, profile string, times int) (*edit.Document, error) {
	t := &technique.For(r.Chart, r.Technique).Technique
	doc, err := edit.New(edit.Start{Name: name, Profile: profile, Technique: t, Chart: r.Chart, ChartName: r.Key,
		Repeats: times})
	if err == nil {
		_, err = doc.Apply(edit.DrawnFor(r.Key, t.Worn))
	}
	return doc, err
}
