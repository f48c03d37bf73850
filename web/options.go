package web

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
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
	Kind  edit.Typed
}

// field is a setting that is typed.
type field struct {
	Path               edit.Path
	Kind               edit.Typed
	Label, Value, Hint string
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
	list := []choice{{at.To("above"), "Above its top", above, choices("repeat", "it repeats", "blank", "blank"), ""},
		{drawing.To("side"), "Drawn as seen on", a.Chart.Face.String(),
			choices("knit", "the knit side", "purl", "the purl side"), ""}}
	if a.Lace {
		list = append(list, choice{drawing.To("shows"), "Rows drawn", shows,
			choices("right-side", "right-side rows; a plain one after each", "all", "every knitted row"), ""})
	}
	return list
}

// sectionOptions are what besides its technique a section may say on its machine: about its
// card, its carriage, and the pass before it.
func sectionOptions(p *piece.Piece, no int) (list []choice, typed []field) {
	m, s, at := &p.Machine, p.Section(no), edit.Section(no)
	lined := m.Program != machine.NoProgram && len(s.Areas) > 0 && !s.Lace()
	if m.HasCard() && len(s.Areas) > 0 {
		list = append(list, choice{at.To("joined"), "Its card", strconv.FormatBool(s.Joined),
			choices("true", "joined round the reader", "false", "set back at its end"), edit.AsYes})
	}
	if s.Technique.Ribs && m.PurlCarriage {
		by := "knit"
		if s.ByPurl {
			by = "purl"
		}
		list = append(list, choice{at.To("carriage"), "Knitted by the", by,
			choices("knit", "knit carriage", "purl", "purl carriage"), edit.AsText})
	}
	if no > 1 || s.Free {
		list = append(list, choice{at.To("free"), "Before it", strconv.FormatBool(s.Free),
			choices("false", "go straight on", "true", "a free pass to the other side"), edit.AsYes})
	}
	if m.HasSecond() && s.Technique.Ribs && s.Behind == "" {
		rib := ""
		if s.Rib[0] > 0 {
			rib = fmt.Sprintf("%dx%d", s.Rib[0], s.Rib[1])
		}
		typed = append(typed, field{at.To("rib"), edit.AsText, "Rib", rib, "2x1"})
	}
	if m.HasSecond() && s.Technique.Behind && !s.ByPurl && s.Rib[0] == 0 {
		list = append(list, choice{at.To("second"), "Second bed", s.Behind,
			append([]piece.Word{{Text: "out of action"}},
				piece.FindOption("backing").Words[:3]...), edit.AsText})
	}
	if p.TwoBeds(s) {
		typed = append(typed, field{at.To("second_size"), edit.AsText, "Its stitch size", s.BehindSize, behindSize(p,
			s)})
	}
	if lined {
		typed = append(typed, field{at.To("from_line"), edit.AsNumber, "From line", fmt.Sprint(s.FromLine), ""})
	}
	if lined && m.School == machine.Pairs && !s.Technique.ColourLines {
		passes := ""
		if s.Passes > 0 {
			passes = fmt.Sprint(s.Passes)
		}
		typed = append(typed, field{at.To("passes"), edit.AsNumber, "Passes", passes, "all"})
	}
	return list, typed
}

// behindSize is the second bed's stitch size where the section says none.
func behindSize(p *piece.Piece, s *piece.Section) string {
	if s.Technique.Larger {
		return technique.Larger(s.Size, p.Machine.PlatedStep)
	}
	return s.Size
}

// secondBed is how the second bed stands, where a section of the piece works it.
func secondBed(p *piece.Piece) (list []choice, typed []field) {
	uses := false
	for i := range p.Sections {
		uses = uses || p.TwoBeds(&p.Sections[i])
	}
	if !uses || p.Second.Needles.Empty() { // the machine may have none
		return nil, nil
	}
	at, s := edit.Member("second"), &p.Second
	list = append(list, choice{at.To("pitch"), "Pitch of the two beds", s.Pitch.String(),
		choices("half", "half: each needle between two", "full", "full: face to face"), ""})
	typed = append(typed, field{at.To("from"), edit.AsText, "Second bed from", s.Needles.First().String(), ""},
		field{at.To("to"), edit.AsText, "to", s.Needles.Last().String(), ""},
		field{at.To("rack"), edit.AsNumber, "Handle at", fmt.Sprint(s.Rack), fmt.Sprint(p.Machine.RackCentre)})
	return list, typed
}

// limits are the limits of a piece, each with what it is where she says nothing.
func limits(p *piece.Piece) (list []field) {
	add := func(key, label string, own, usual int) {
		f := field{edit.Member("limits").To(key), edit.AsNumber, label, "", fmt.Sprint(usual)}
		if own != 0 {
			f.Value = fmt.Sprint(max(own, 0))
		}
		list = append(list, f)
	}
	none := *p
	none.Limits = piece.Limits{}
	l := &p.Limits
	add("float", "Longest float, in stitches", l.Float, none.FloatLimit())
	add("strand", "Longest strand over a rest, in stitches", l.Strand, none.StrandLimit())
	add("carried", "Passes that a yarn is carried up", l.Carried, piece.CarriedLimit)
	add("slip", "Rows that a needle is slipped", l.Slip, piece.SlipLimit)
	add("tuck", "Tucks running on a needle", l.Tuck, none.TuckLimit())
	add("tuck_wide", "Neighbours that tuck together", l.TuckWide, piece.TuckWideLimit)
	add("weave", "Stitches under the woven yarn", l.Weave, piece.WeaveLimit)
	add("weights", "Rows between moves of the weights", l.Weights, piece.WeightsEvery)
	add("lifeline", "Rows between lifelines in lace (0: none)", l.Lifeline, piece.LifelineEvery)
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
	return choice{at, o.Label, o.Of(set), o.Words, ""}
}

// options are the choices of the whole piece that matter on its machine.
func options(p *piece.Piece) (list []choice) {
	list = append(list, choice{edit.Member("start"), "The carriage starts on the", p.Start.String(),
		choices("right", "right", "left", "left"), ""})
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
		[]piece.Word{{Text: "whichever needs fewest cuts"}}, ""}
	for _, y := range p.Yarns {
		first.Words = append(first.Words, piece.Word{Value: string(y.ID), Text: y.Name})
	}
	list = append(list, first)
	if slices.ContainsFunc(p.Sections, func(s piece.Section) bool { return s.Technique.TwoPasses }) {
		add("far_yarn")
	}
	return list
}

// needleFields are what of a piece is a needle or a set of them, and smallLabel is one as it may be typed.
var (
	needleFields = []string{"from", "to", "first", "out", "second_out", "left", "right"}
	smallLabel   = regexp.MustCompile(`\b[lr]\d`)
)

// field sets one value of the piece: its path, its new text, and how to read that.
func (s *Server) field(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		at, typed := edit.Path(c.PostForm("path")), strings.TrimSpace(c.PostForm("value"))
		if _, name := at.Cut(); slices.Contains(needleFields, name) { // l36 is meant as L36
			typed = smallLabel.ReplaceAllStringFunc(typed, strings.ToUpper)
		}
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
