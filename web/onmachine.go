package web

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"sort"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/beside"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/piece"
	"vindel/knit/technique"
	"vindel/knit/words"
)

// onMachine is what a piece comes to on another machine.
type onMachine struct {
	machineChoice
	Mine                            bool
	Passes, Lines, Threadings, Cuts int
	Hands, Minutes                  int
	Stops                           []string // what can no longer be done
	Warns                           int
}

type compareMachinesView struct {
	Page Page
	ID   int64
	List []onMachine

	TooLarge int // rows of a piece that is too long to be planned on every machine; 0: it is not
}

// compareMachines plans the piece on every machine, so that one can be chosen knowing
// what can no longer be done and what it costs.
func (s *Server) compareMachines(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		choices, err := s.machineChoices(c)
		if err != nil {
			s.fail(c, err)
			return
		}
		v := compareMachinesView{Page: s.piecePage(c, d, "place"), ID: d.stored.ID}
		if v.TooLarge = d.piece.RowsAsked(); v.TooLarge >= large {
			s.render(c, "machines-for", v)
			return
		}
		v.TooLarge = 0
		mine := chosen(choices, d.stored.Doc)
		list, err := s.works.do(c.Request.Context(), s.patience, fmt.Sprint("machines ", d.stored.ID, " ",
			d.stored.Rev),
			func(ctx context.Context) (any, error) {
				var list []onMachine
				for _, m := range choices {
					on, err := s.on(ctx, d, m)
					if err != nil {
						return nil, err
					}
					on.Mine = m.ID == mine
					list = append(list, on)
				}
				return list, nil
			})
		if err != nil {
			s.fail(c, err)
			return
		}
		v.List = slices.Clone(list.([]onMachine)) // another request may have the same
		sort.SliceStable(v.List, func(i, j int) bool {
			a, b := &v.List[i], &v.List[j]
			if (len(a.Stops) == 0) != (len(b.Stops) == 0) {
				return len(a.Stops) == 0
			}
			return len(a.Stops) == 0 && a.Minutes < b.Minutes
		})
		s.render(c, "machines-for", v)
	})
}

// on plans a piece on another machine.
func (s *Server) on(ctx context.Context, d *opened, m machineChoice) (onMachine, error) {
	out := onMachine{machineChoice: m}
	doc, err := edit.Parse(d.stored.Doc)
	if err == nil {
		_, err = doc.Apply(edit.ToMachine(d.piece, m.Doc))
	}
	var p *piece.Piece
	if err == nil {
		p, err = technique.Piece(doc)
	}
	if err != nil {
		out.Stops = []string{err.Error()}
		return out, nil
	}
	r, err := s.check(ctx, p)
	if err != nil {
		return out, err
	}
	t := &r.Plan.Totals
	out.Passes, out.Lines, out.Threadings, out.Cuts, out.Hands = t.Passes, t.Lines, t.Threadings, t.Cuts,
		beside.HandUses(r.Plan)
	_, out.Minutes = beside.Minutes(r.Plan)
	for _, f := range r.Findings {
		switch f.Severity {
		case finding.Stop:
			out.Stops = append(out.Stops, f.Text)
		case finding.Warn:
			out.Warns++
		}
	}
	return out, nil
}

// setMachine puts the piece on another machine, and notes what that has changed.
func (s *Server) setMachine(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		choices, err := s.machineChoices(c)
		if err != nil {
			s.fail(c, err)
			return
		}
		i := slices.IndexFunc(choices, func(m machineChoice) bool { return m.ID == c.PostForm("machine") })
		if i < 0 {
			s.fail(c, inputError{fmt.Errorf("%q: no such machine", c.PostForm("machine"))})
			return
		}
		to := choices[i]
		if err := s.write(c, d.stored.ID,
			edit.Edit{Kind: edit.Machines, Label: "knit on " + to.Name, On: revision(c),
				Changes: edit.ToMachine(d.piece, to.Doc)}); err != nil {
			s.fail(c, err)
			return
		}
		now, err := s.open(c.Request.Context(), d.stored.ID)
		if err != nil && !errors.Is(err, errWorking) {
			s.fail(c, err)
			return
		}
		if err == nil {
			s.mu.Lock()
			s.notices[d.stored.ID] = append(changed(d, now), s.notices[d.stored.ID]...)
			s.mu.Unlock()
		}
		if c.GetHeader("HX-Request") == "" {
			c.Redirect(303, fmt.Sprintf("/pieces/%d/place", d.stored.ID))
			return
		}
		s.answer(c, d.stored.ID)
	})
}

// changed says what a change of machine has come to, in a knitter's words.
func changed(was, now *opened) (list []string) {
	list = append(list, fmt.Sprintf("Planned anew: %s instead of %s.", now.piece.Machine.Name,
		was.piece.Machine.Name))
	a, b := &was.result.Plan.Totals, &now.result.Plan.Totals
	var sums []string
	for _, t := range []struct {
		name     string
		was, now int
	}{{"passes", a.Passes, b.Passes}, {"threadings", a.Threadings, b.Threadings}, {"cuts", a.Cuts, b.Cuts},
		{"program lines", a.Lines, b.Lines}} {
		if t.was != t.now {
			sums = append(sums, fmt.Sprintf("%d %s instead of %d", t.now, t.name, t.was))
		}
	}
	if len(sums) > 0 {
		list = append(list, words.Capital(strings.Join(sums, ", "))+".")
	} else {
		list = append(list, "Passes, threadings and lines are the same.")
	}
	before := map[string]bool{}
	for _, f := range was.result.Findings {
		before[fmt.Sprint(f.Code, f.Section)] = true
	}
	for _, f := range now.result.Findings {
		if f.Severity == finding.Stop && !before[fmt.Sprint(f.Code, f.Section)] {
			list = append(list, "Can no longer be done: "+f.Text)
		}
	}
	return list
}

// notice is what is to be said once about a piece, and then no more.
func (s *Server) notice(id int64) []string {
	s.mu.Lock()
	defer s.mu.Unlock()
	n := s.notices[id]
	delete(s.notices, id)
	return n
}
