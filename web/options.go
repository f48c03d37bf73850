package web

import (
	"strings"
	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/technique"

	"github.com/gin-gonic/gin"
)

// choice is a setting with the words a knitter reads.
type choice struct {
	Path  edit.Path
	Label string
	Value string
	Words []piece.Word
}

// areaOptions are the choices of one area and its chart.
func areaOptions(a *piece.Area, at edit.Path) []choice {
	above, shows := "repeat", "right-side"
	if a.Blank {
		above = "blank"
	}
	if a.Chart.All {
		shows = "all"
	}
	drawing := edit.Chart(a.Chart.Name)
	list := []choice{{at.To("above"), "Above its top", above, choices("repeat", "it repeats", "blank", "blank")},
		{drawing.To("side"), "Drawn as seen on", a.Chart.Face.String(),
			choices("knit", "the knit side", "purl", "the purl side")}}
	if a.Lace {
		list = append(list, choice{drawing.To("shows"), "Rows drawn", shows,
			choices("right-side", "right-side rows; a plain one after each", "all", "every knitted row")})
	}
	return list
}

// techniqueWords are the techniques that a chart can be knitted in.
func techniqueWords() (words []piece.Word) {
	for _, t := range technique.Planned() {
		if t.Drawn != piece.Nothing {
			words = append(words, piece.Word{Value: t.Name, Text: t.Label})
		}
	}
	return words
}

// choices are values and what they say, by turns.
func choices(list ...string) (out []piece.Word) {
	for i := 0; i < len(list); i += 2 {
		out = append(out, piece.Word{Value: list[i], Text: list[i+1]})
	}
	return out
}

// optionChoice is an option of the piece or of a section, as a page offers it.
func optionChoice(at edit.Path, key string, set *piece.Options) choice {
	o := piece.FindOption(key)
	return choice{at, o.Label, o.Of(set), o.Words}
}

// options are the choices of the whole piece that matter on its machine.
func options(p *piece.Piece) (list []choice) {
	list = append(list, choice{edit.Member("start"), "The carriage starts on the", p.Start.String(),
		choices("right", "right", "left", "left")})
	add := func(key string) { list = append(list, optionChoice(edit.Option(key), key, &p.Options)) }
	add("counter")
	if p.Machine.School == machine.Preselect {
		add("selecting")
	}
	if p.Machine.Feeders > 1 {
		add("end_needles")
		return list
	}
	first := choice{edit.Option("first_yarn"), "First yarn of two-colour rows", p.YarnID(p.Options.FirstYarn),
		[]piece.Word{{Text: "whichever needs fewest cuts"}}}
	for _, y := range p.Yarns {
		first.Words = append(first.Words, piece.Word{Value: string(y.ID), Text: y.Name})
	}
	return append(list, first)
}

// field sets one value of the piece: its path, its new text, and how to read that.
func (s *Server) field(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		at, typed := edit.Path(c.PostForm("path")), strings.TrimSpace(c.PostForm("value"))
		doc, err := edit.Parse(d.stored.Doc)
		if err != nil {
			s.fail(c, err)
			return
		}
		changes, err := edit.Field(doc, at, typed, edit.Typed(c.PostForm("kind")))
		if err != nil {
			s.fail(c, inputError{err})
			return
		}
		_, name := at.Cut()
		s.change(c, d.stored.ID, edit.Edit{Kind: fieldKind(at), Label: "set " + name, Changes: changes})
	})
}

// fieldKind is what setting a field is for: needles and areas are placed, the rest is set.
func fieldKind(at edit.Path) edit.Kind {
	if parent, _ := at.Cut(); parent == edit.Member("needles") || parent.Holds("areas") {
		return edit.Places
	}
	return edit.Settings
}
