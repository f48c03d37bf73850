package weigh

import (
	"context"
	"fmt"
	"strings"

	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/piece"
	"vindel/knit/technique"
	"vindel/knit/words"
)

// Choice is one thing that the plan decides, with the ways to do it, as planned first.
type Choice struct {
	Title string
	Ways  []Way

	saves bool // only what leaves fewer ends is worth telling
}

// Way is one way, and what the whole piece comes to with it.
type Way struct {
	Text    string
	Costs   Costs
	Changes []edit.Change // that lead to it; none: it is the plan's
}

// Costs are what a piece comes to: passes of a carriage, yarns threaded, cut and darned in, what hands touch (a needle
// 1, a lever 2), and warnings.
type Costs struct{ Passes, Threadings, Cuts, Ends, Touches, Warnings int }

// counted are the words of each, in the order in which they are told.
var counted = []struct {
	of        func(*Costs) int
	one, many string
}{
	{func(c *Costs) int { return c.Ends }, "end", "ends"},
	{func(c *Costs) int { return c.Cuts }, "cut", "cuts"},
	{func(c *Costs) int { return c.Passes }, "pass", "passes"},
	{func(c *Costs) int { return c.Threadings }, "threading", "threadings"},
	{func(c *Costs) int { return c.Touches }, "touch", "touches"},
	{func(c *Costs) int { return c.Warnings }, "warning", "warnings"},
}

// String is all that is not nothing.
func (c Costs) String() string {
	var list []string
	for _, t := range counted {
		if n := t.of(&c); n > 0 {
			list = append(list, words.Count(n, t.one, t.many))
		}
	}
	return strings.Join(list, ", ")
}

// Than is how costs differ from others: "2 ends fewer, 1 pass more"; "" where they do not.
func (c Costs) Than(other Costs) string {
	var list []string
	for _, t := range counted {
		switch n := t.of(&c) - t.of(&other); {
		case n > 0:
			list = append(list, words.Count(n, t.one, t.many)+" more")
		case n < 0:
			list = append(list, words.Count(-n, t.one, t.many)+" fewer")
		}
	}
	return strings.Join(list, ", ")
}

// askers find what is decided in a piece, and which ways there are; what each costs is worked out for them.
var askers = []func(p *piece.Piece, r *check.Result) []Choice{leads, farYarns, cutYarns, freePasses, handTucks,
	endNeedles, colourOrders, selecting, filling}

// mostWays bounds how often a piece is planned for all its choices.
const mostWays = 30

// Of is what is decided in a piece, each with the ways that can be knitted and cost something else. The error is the
// context's.
func Of(ctx context.Context, doc *edit.Document, r *check.Result) (list []Choice, err error) {
	if r.Stops() { // nothing to compare with
		return nil, nil
	}
	now, tried := costs(r), 0
	for _, ask := range askers {
		for _, c := range ask(r.Plan.Piece, r) {
			c.Ways[0].Costs = now
			ways := c.Ways[:1:1]
			for _, w := range c.Ways[1:] {
				if len(w.Changes) == 0 || tried == mostWays {
					continue
				}
				tried++
				ok, err := w.work(ctx, doc)
				if err != nil {
					return nil, err
				}
				if ok && w.Costs != now && !(c.saves && w.Costs.Ends >= now.Ends) {
					ways = append(ways, w)
				}
			}
			if c.Ways = ways; len(ways) > 1 {
				list = append(list, c)
			}
		}
	}
	return list, nil
}

// Changes is the edit of a way that Of has told, by its title and text; nil where the piece has no such choice any more.
func Changes(r *check.Result, title, text string) []edit.Change {
	for _, ask := range askers {
		for _, c := range ask(r.Plan.Piece, r) {
			for _, w := range c.Ways {
				if c.Title == title && w.Text == text {
					return w.Changes
				}
			}
		}
	}
	return nil
}

// work plans the piece with a way's changes; false: it cannot be knitted so.
func (w *Way) work(ctx context.Context, doc *edit.Document) (ok bool, err error) {
	other, err := edit.Parse(doc.JSON())
	if err != nil {
		return false, fmt.Errorf("a piece that was read before: %w", err)
	}
	if _, err := other.Apply(w.Changes); err != nil {
		return false, nil
	}
	p, err := technique.Piece(other)
	if err != nil {
		return false, nil
	}
	r, err := check.RunContext(ctx, p)
	if err != nil || r.Stops() || !r.Fabric.Matches() {
		return false, err
	}
	w.Costs = costs(r)
	return true, nil
}

func costs(r *check.Result) Costs {
	t := &r.Plan.Totals
	c := Costs{t.Passes, t.Threadings, t.Cuts, t.Ends, t.Touches, 0}
	for i := range r.Findings {
		if r.Findings[i].Severity == finding.Warn {
			c.Warnings++
		}
	}
	return c
}
