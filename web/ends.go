package web

import (
	"fmt"
	"slices"
	"strconv"

	"github.com/gin-gonic/gin"

	"vindel/knit/edit"
	"vindel/knit/piece"
	"vindel/knit/plan"
	"vindel/knit/words"
)

// endsView is how a piece begins, or ends: the ways to choose from, and what is set of the one chosen.
type endsView struct {
	Which, Title string
	Way          string // "": left to hands
	Ways         []wayView
	Choices      []choice
	Typed        []field
}

// wayView is one way with a small picture.
type wayView struct {
	Way, Name, About, Takes, Lacks string
	Mine                           bool
}

// ends is both, as the Place page shows them.
func (d *opened) ends() []endsView {
	p := d.piece
	begin := endsView{Which: "begin", Title: "Start"}
	if p.Begin != nil {
		begin.Way = p.Begin.Way
		at := edit.Member("begin")
		if begin.Way == "waste" {
			begin.Choices = append(begin.Choices, yarnChoice(p, at.To("yarn"), "Waste yarn", p.Begin.Yarn),
				choice{at.To("cord"), "Cord after it", fmt.Sprint(p.Begin.Cord), choices("true", "yes, one row",
					"false", "no"), edit.AsYes})
			begin.Typed = append(begin.Typed, field{at.To("rows"), edit.AsNumber, "Rows of waste",
				strconv.Itoa(p.Begin.Rows), ""})
			if p.Begin.Cord {
				begin.Choices = append(begin.Choices, yarnChoice(p, at.To("cord_yarn"), "Cord", p.Begin.CordYarn))
			}
		}
		if begin.Way == "two-bed" {
			begin.Typed = append(begin.Typed, field{at.To("rounds"), edit.AsNumber, "Times round",
				strconv.Itoa(p.Begin.Rounds), ""})
		}
		begin.Typed = append(begin.Typed, field{at.To("size"), edit.AsText, "Size of the start", p.Begin.Size,
			"by itself"})
	}
	for _, w := range plan.BeginWays(p) {
		begin.Ways = append(begin.Ways, wayOf(w, begin.Way, true))
	}
	end := endsView{Which: "end", Title: "Finish"}
	if p.End != nil {
		end.Way = p.End.Way
		at := edit.Member("end")
		if end.Way == "waste" {
			end.Choices = append(end.Choices, yarnChoice(p, at.To("yarn"), "Waste yarn", p.End.Yarn))
			end.Typed = append(end.Typed, field{at.To("rows"), edit.AsNumber, "Rows of waste",
				strconv.Itoa(p.End.Rows), ""})
		}
		if end.Way == "waste" || end.Way == "latch" {
			end.Typed = append(end.Typed, field{at.To("size"), edit.AsText, "Size of its rows", p.End.Size,
				"by itself"})
		}
	}
	for _, w := range plan.EndWays(p) {
		end.Ways = append(end.Ways, wayOf(w, end.Way, false))
	}
	return []endsView{begin, end}
}

func yarnChoice(p *piece.Piece, at edit.Path, label string, y piece.YarnNo) choice {
	c := choice{at, label, p.YarnID(y), nil, ""}
	for i := range p.Yarns {
		c.Words = append(c.Words, piece.Word{Value: string(p.Yarns[i].ID), Text: p.Yarns[i].Name})
	}
	if y == 0 {
		c.Words = append([]piece.Word{{Text: "the waste yarn"}}, c.Words...)
	}
	return c
}

func wayOf(w plan.Way, mine string, begins bool) wayView {
	v := wayView{Way: w.Way, Name: w.Name, About: w.About, Mine: w.Way == mine, Takes: "no pass"}
	if w.Passes > 0 {
		v.Takes = words.Count(w.Passes, "pass", "passes")
	}
	if begins && w.Passes > 0 {
		v.Takes += fmt.Sprintf(", then the carriage is on the %v", w.Side)
	}
	if len(w.Needs) > 0 {
		v.Takes += "; needs " + words.List(w.Needs, "and")
	}
	if w.Lacks != "" {
		v.Lacks = "this machine lacks " + w.Lacks
	}
	return v
}

// setEnds chooses how the piece begins or ends.
func (s *Server) setEnds(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		which, way := c.PostForm("which"), c.PostForm("way")
		list := map[string][]string{"begin": piece.BeginWays, "end": piece.EndWays}[which]
		if list == nil || way != "" && !slices.Contains(list, way) {
			s.fail(c, inputError{fmt.Errorf("%q: no such way to %s", way, which)})
			return
		}
		s.change(c, d.stored.ID, edit.Edit{Kind: edit.Settings, Label: which + " " + way, Changes: edit.Ends(d.piece,
			which, way)})
	})
}
