package web

import (
	"fmt"

	"github.com/gin-gonic/gin"

	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/paper"
	"vindel/store"
)

// arrange moves an area about on the needles, or adds one: dragged, typed or nudged.
func (s *Server) arrange(c *gin.Context) {
	s.withDesk(c, func(d *desk) {
		i, k := number(c.PostForm("section"), -1), number(c.PostForm("area"), 0)
		do := c.PostForm("do")
		if i < 0 || i >= len(d.piece.Sections) {
			s.fail(c, inputError{fmt.Errorf("section %d: there are %d", i+1, len(d.piece.Sections))})
			return
		}
		changes, label, err := d.arrangement(i, k, do, c.PostForm)
		if err != nil {
			s.fail(c, err)
			return
		}
		s.change(c, d.stored.ID, edit.Edit{Kind: edit.Places, Label: label, Changes: changes})
	})
}

// arrangement is the edit that a command asks for, and its name in the list of edits.
func (d *desk) arrangement(i, k int, do string, form func(string) string) (changes []edit.Change, label string, err error) {
	p, s := d.piece, d.result.Plan.Placed[i]
	by := number(form("by"), 0)
	switch do {
	case "spread":
		gap := number(form("gap"), -1)
		if changes, err = s.Spread(p, gap); err != nil {
			err = inputError{err}
		}
		return changes, "space the motifs", err
	case "motif", "ground":
		drawn := p.Charts[form("chart")]
		if drawn == nil {
			return nil, "", inputError{fmt.Errorf("no chart is called %q", form("chart"))}
		}
		if do == "ground" {
			return edit.AddGround(i, drawn), "lay a ground", nil
		}
		return s.AddMotif(p, drawn), "add a motif", nil
	}
	if k < 0 || k >= len(s.Section.Areas) {
		return nil, "", inputError{fmt.Errorf("area %d: the section has %d", k+1, len(s.Section.Areas))}
	}
	a := &s.Section.Areas[k]
	switch do {
	case "move":
		return s.Move(p, k, by), "move " + a.Chart.Name, nil
	case "phase":
		return s.Phase(p, k, by), "move the repeat", nil
	case "stretch":
		from, to := a.From, a.To
		for key, end := range map[string]*machine.Needle{"from": &from, "to": &to} {
			if text := form(key); text != "" {
				n, err := machine.ParseNeedle(text)
				if err == nil {
					err = p.Machine.Bed.Check(n)
				}
				if err != nil {
					return nil, "", inputError{err}
				}
				*end = n
			}
		}
		if by != 0 && form("end") == "from" {
			from += machine.Needle(by)
		} else if by != 0 {
			to += machine.Needle(by)
		}
		return s.Stretch(p, k, from, to), "stretch " + a.Chart.Name, nil
	case "repeat":
		return s.Repeat(p, k, number(form("n"), 1)), "repeat " + a.Chart.Name, nil
	case "fit":
		return s.Fit(p, k), "fit whole repeats", nil
	case "fill":
		return s.Fill(p, k), "fill the needles", nil
	case "centre":
		return s.Centre(p, k), "centre " + a.Chart.Name, nil
	case "mirror":
		return edit.ToggleTransform(i, k, a, "mirror"), "mirror " + a.Chart.Name, nil
	case "away":
		return edit.RemoveArea(i, k), "take " + a.Chart.Name + " away", nil
	}
	return nil, "", inputError{fmt.Errorf("%q: no such command", do)}
}

// lie is a section as it lies on the bed, one pixel a stitch: SECTION.png, from 0.
func (s *Server) lie(c *gin.Context) {
	s.withDesk(c, func(d *desk) {
		i, kind := file(c)
		if i < 0 || i >= len(d.piece.Sections) || kind != "png" {
			s.fail(c, store.ErrNone)
			return
		}
		data, err := paper.PlacedPNG(d.piece, d.result.Plan.Placed[i])
		s.send(c, "png", data, err)
	})
}
