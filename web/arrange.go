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
	s.withPiece(c, func(d *opened) {
		section, area := number(c.PostForm("section"), 0), number(c.PostForm("area"), 1)
		do := c.PostForm("do")
		if section < 1 || section > len(d.piece.Sections) {
			s.fail(c, inputError{fmt.Errorf("section %d: there are %d", section, len(d.piece.Sections))})
			return
		}
		changes, label, err := d.arrangement(section, area, do, c.PostForm)
		if err != nil {
			s.fail(c, err)
			return
		}
		s.change(c, d.stored.ID, edit.Edit{Kind: edit.Places, Label: label, Changes: changes})
	})
}

// arrangement is the edit that a command asks for, and its name in the list of edits.
func (d *opened) arrangement(section, area int, do string, form func(string) string) (changes []edit.Change,
	label string, err error) {
	p, s := d.piece, d.result.Plan.Section(section)
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
		if low, _ := p.Ends(); do == "ground" {
			return edit.AddGround(section, drawn, low), "add a ground", nil
		}
		return s.AddMotif(p, drawn), "add a motif", nil
	}
	if area < 1 || area > len(s.Section.Areas) {
		return nil, "", inputError{fmt.Errorf("area %d: the section has %d", area, len(s.Section.Areas))}
	}
	a := &s.Section.Areas[area-1]
	switch do {
	case "move":
		return s.Move(p, area, by), "move " + a.Chart.Name, nil
	case "phase":
		return s.Phase(p, area, by), "move the repeat", nil
	case "stretch":
		from, to := a.Asked[0], a.Asked[1]
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
		return s.Stretch(p, area, from, to), "stretch " + a.Chart.Name, nil
	case "repeat":
		return s.Repeat(p, area, number(form("n"), 1)), "repeat " + a.Chart.Name, nil
	case "fit":
		return s.Fit(p, area), "fit whole repeats", nil
	case "fill":
		return s.Fill(p, area), "fill the needles", nil
	case "centre":
		return s.Centre(p, area), "centre " + a.Chart.Name, nil
	case "mirror":
		return edit.ToggleTransform(section, area, a, "mirror"), "mirror " + a.Chart.Name, nil
	case "away":
		return edit.RemoveArea(section, area), "take " + a.Chart.Name + " away", nil
	}
	return nil, "", inputError{fmt.Errorf("%q: no such command", do)}
}

// lie is a section as it lies on the bed, one pixel a stitch: SECTION.png, from 1.
func (s *Server) lie(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		no, kind := file(c)
		if no < 1 || no > len(d.piece.Sections) || kind != "png" {
			s.fail(c, store.ErrNone)
			return
		}
		if d.piece.Section(no).Technique.OwnRows {
			data, err := paper.CoursesPNG(d.result.Fabric, no)
			s.send(c, "png", data, err)
			return
		}
		data, err := paper.PlacedPNG(d.piece, d.result.Plan.Section(no))
		s.send(c, "png", data, err)
	})
}
