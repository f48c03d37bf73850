package web

import (
	"fmt"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/edit"
	"vindel/knit/piece"
	"vindel/knit/technique"
)

// section adds plain rows, a new chart or a yarn, moves a section, knits it otherwise, or
// takes it away.
func (s *Server) section(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		section, do := number(c.PostForm("section"), 1), c.PostForm("do")
		changes, err := d.sectionChange(section, do, c.PostForm("value"))
		if do == "note" && err == nil {
			changes, err = edit.Note(d.piece, section, number(c.PostForm("before"), 0), c.PostForm("value")), nil
		}
		if err != nil {
			s.fail(c, inputError{err})
			return
		}
		s.change(c, d.stored.ID, edit.Edit{Kind: edit.Sections, Label: do + " section", Changes: changes})
	})
}

// sectionChange is the edit that a command about a section (from 1) asks for.
func (d *opened) sectionChange(section int, do, value string) ([]edit.Change, error) {
	p := d.piece
	if section < 1 || section > len(p.Sections) {
		return nil, fmt.Errorf("section %d: there are %d", section, len(p.Sections))
	}
	const rows = 10
	switch do {
	case "note":
		return nil, nil
	case "below":
		return edit.InsertPlain(p, section, rows, p.YarnID(1)), nil
	case "above":
		return edit.InsertPlain(p, section+1, rows, p.YarnID(1)), nil
	case "recipe":
		return edit.InsertRecipe(p, section+1, "recipe", fmt.Sprintf("; One line, one step.\nyarn %s\npass 10",
			p.YarnID(1))), nil
	case "band":
		return edit.InsertBand(p, section+1, &technique.TwoColour.Technique), nil
	case "technique":
		t := technique.Find(value)
		if t == nil {
			return nil, fmt.Errorf("%q: no such technique", value)
		}
		return edit.KnitIn(p, section, &t.Technique), nil
	case "way": // how its colours are separated, and what knits behind them
		separation, backing, _ := strings.Cut(value, " ")
		for key, word := range map[string]string{"separation": separation, "backing": backing} {
			if !slices.ContainsFunc(piece.FindOption(key).Words, func(w piece.Word) bool { return w.Value == word }) {
				return nil, fmt.Errorf("%q: no such %s", word, key)
			}
		}
		return append(edit.SectionOption(section, "separation", separation), edit.SectionOption(section, "backing",
			backing)...), nil
	case "yarn":
		return edit.AddYarn(p)
	case "up", "down":
		doc, err := edit.Parse(d.stored.Doc)
		if err != nil {
			return nil, err
		}
		return edit.MoveSection(p, doc, section, do == "up"), nil
	case "remove":
		return edit.RemoveSection(p, section), nil
	}
	return nil, fmt.Errorf("%q: below, above, band, technique, way, yarn, up, down or remove", do)
}
