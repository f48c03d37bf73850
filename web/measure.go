package web

import (
	"context"
	"fmt"
	"math"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/beside"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/measure"
	"vindel/knit/piece"
	"vindel/knit/words"
	"vindel/store"
)

// measureView is what a piece measures and takes, with the fields from which that is worked out.
type measureView struct {
	ID             int64
	Size, By       string
	Stitches, Rows int
	Yarns          []measuredYarn
	Margin         string
	Swatch         []field
	Technique      choice
	Warns          []string // of the swatch, and of what is short
	Weighed        bool     // some yarn's weight is known
	OfTheSwatch    string   // the gauge that it gives
	Inch           bool
	Reach          toTheYarn
	ShelfYarns     []store.Yarn
	ShelfSwatches  []swatchView // those of this machine first
}

// measuredYarn is what is taken of a yarn, in words, and what is known of its balls.
type measuredYarn struct {
	No                            int // in the piece, from 1
	Yarn                          yarnState
	Stitches, Threadings          int
	Grams, Metres, Balls, Missing string
	Fields                        []field
}

// measureView measures the piece: nil where it has no passes.
func (d *opened) measureView(in units) *measureView {
	p := d.piece
	m := measure.Of(d.result.Plan)
	v := &measureView{ID: d.stored.ID, Size: fmt.Sprintf("%.0f × %.0f mm", m.WidthMM, m.HeightMM), Inch: bool(in),
		Stitches: m.Stitches, Rows: m.Rows,
		By: map[string]string{"swatch": "by the swatch", "gauge": "by the gauge that is typed on Place",
			"assumed": "assumed: no swatch is known"}[m.Basis],
		Margin: measured(100 * p.Options.Margin)}
	if in {
		v.Size = in.size(m.WidthMM) + " × " + in.size(m.HeightMM)
	}
	uses := beside.YarnUses(d.result.Plan)
	for _, u := range m.Yarns {
		y := &p.Yarns[u.No-1]
		at := edit.Member("yarns").At(int(u.No) - 1)
		one := measuredYarn{No: int(u.No), Yarn: yarnState{ID: string(y.ID), Name: y.Name, Colour: y.Colour},
			Stitches: u.Stitches, Threadings: uses[u.No-1].Threadings}
		if u.Weighed {
			v.Weighed = true
			one.Grams = fmt.Sprintf("%.1f g", u.Grams)
		}
		if u.Metres > 0 {
			one.Metres = fmt.Sprintf("%.0f m", math.Ceil(u.Metres))
		}
		if u.Balls > 0 {
			one.Balls = strconv.Itoa(u.Balls)
		}
		if u.Short > 0 {
			one.Missing = strconv.Itoa(u.Short)
		}
		have := ""
		if y.Have >= 0 {
			have = strconv.Itoa(y.Have)
		}
		one.Fields = []field{{at.To("ball").To("grams"), edit.AsMeasure, "a ball, g", measured(y.Ball.Grams), ""},
			{at.To("ball").To("metres"), edit.AsMeasure, "metres", measured(y.Ball.Metres), ""},
			{at.To("have"), edit.AsNumber, "in hand", have, ""}}
		v.Yarns = append(v.Yarns, one)
	}
	sw, at := &p.Swatch, edit.Member("swatch")
	for _, f := range []struct {
		key, label string
		value      float64
	}{{"stitches", "Stitches counted", sw.Stitches}, {"width_mm", "over so many mm", sw.WidthMM},
		{"rows", "rows counted", sw.Rows},
		{"height_mm", "over so many mm", sw.HeightMM}, {"grams", "all of it weighs, g", sw.Grams}} {
		v.Swatch = append(v.Swatch, field{at.To(f.key), edit.AsMeasure, f.label, measured(f.value), ""})
	}
	v.Technique = choice{Path: at.To("technique"), Label: "knitted in", Value: sw.Technique,
		Words: append([]piece.Word{{Text: "not said"}}, techniqueWords()...)}
	if g := sw.Gauge(); g.Stitches > 0 || g.Rows > 0 {
		v.OfTheSwatch = fmt.Sprintf("%s stitches and %s rows in 10 cm", orNone(g.Stitches), orNone(g.Rows))
	}
	for _, f := range d.result.Findings {
		if f.Code == finding.YarnShort || f.Code == finding.SwatchOther {
			v.Warns = append(v.Warns, f.Text)
		}
	}
	return v
}

func orNone(n float64) string {
	if n == 0 {
		return "no"
	}
	return measured(n)
}

// shelves adds what stands on the shelves, from which the piece can take: swatches of its machine first.
func (s *Server) shelves(ctx context.Context, d *opened, v *measureView) (err error) {
	if v.ShelfYarns, err = s.store.Yarns(ctx); err != nil {
		return err
	}
	list, err := s.store.Swatches(ctx)
	for _, mine := range []bool{true, false} {
		for _, w := range list {
			if (w.Machine == d.piece.Machine.Name) == mine {
				v.ShelfSwatches = append(v.ShelfSwatches, viewOf(w))
			}
		}
	}
	return err
}

// units are inches, where she prefers them to centimetres.
type units bool

// unitsOf is what she chose last, or chooses now; centimetres where she never did.
func unitsOf(c *gin.Context) units {
	const name = "units"
	choice := c.Query(name)
	if choice == "inch" || choice == "cm" {
		http.SetCookie(c.Writer, &http.Cookie{Name: name, Value: choice, Path: "/", MaxAge: 400 * 24 * 3600,
			HttpOnly: true, SameSite: http.SameSiteLaxMode})
	} else {
		choice, _ = c.Cookie(name)
	}
	return choice == "inch"
}

const inchMM = 25.4

func (u units) word() string { return map[units]string{false: "centimetres", true: "inches"}[u] }

// mm is how long one of them is.
func (u units) mm() float64 { return map[units]float64{false: 10, true: inchMM}[u] }

// size is a length in words, to a millimetre or a tenth of an inch.
func (u units) size(mm float64) string {
	if u {
		return fmt.Sprintf("%.1f in", mm/inchMM)
	}
	return fmt.Sprintf("%.1f cm", mm/10)
}

// off is a small length: millimetres, or hundredths of an inch.
func (u units) off(mm float64) string {
	if u {
		return fmt.Sprintf("%.2f in", mm/inchMM)
	}
	return fmt.Sprintf("%.0f mm", mm)
}

const mostPaceless = 20 // passes that must have been timed before her own pace is told

// pace is how many seconds a pass of the piece takes with all that hands do: at her own pace on it, once that is
// known, else at the shipped one.
func (s *Server) pace(ctx context.Context, d *opened) float64 {
	pl := d.result.Plan
	return beside.Left(pl, 0, s.ownPace(ctx, d.stored.ID)) / float64(max(len(pl.Passes), 1))
}

// ownPace is how many seconds a pass of hers takes on this piece, all that hands do included; 0: not known.
func (s *Server) ownPace(ctx context.Context, id int64) float64 {
	seconds, passes, err := s.store.Knitting(ctx, id)
	if err != nil {
		return 0
	}
	return paceOf(seconds, passes)
}

func paceOf(seconds float64, passes int) float64 {
	if passes >= mostPaceless && seconds > 0 {
		return seconds / float64(passes)
	}
	return 0
}

// toTheYarn is how far a yarn that is weighed reaches.
type toTheYarn struct {
	Rows, Before, After, Reserve string // as typed
	Says                         string
}

// reaches answers how many rows more a yarn reaches for, and how many whole repeats of the pattern those are.
func (d *opened) reaches(c *gin.Context) (v toTheYarn) {
	v = toTheYarn{Rows: c.Query("knitted"), Before: c.Query("before"), After: c.Query("after"),
		Reserve: c.Query("reserve")}
	if v.Rows == "" || v.Before == "" || v.After == "" {
		return v
	}
	grams := func(text string) float64 {
		n, err := strconv.ParseFloat(strings.Replace(strings.TrimSpace(text), ",", ".", 1), 64)
		if err != nil && strings.TrimSpace(text) != "" || !(n >= 0 && n <= 1e6) {
			v.Says = fmt.Sprintf("%q is no weight in grams.", text)
		}
		return n
	}
	before, after, reserve := grams(v.Before), grams(v.After), grams(v.Reserve)
	if v.Says != "" {
		return v
	}
	rows, err := measure.RowsLeft(number(v.Rows, 0), before, after, reserve)
	if err != nil {
		v.Says = words.Capital(err.Error()) + "."
		return v
	}
	v.Says = fmt.Sprintf("It reaches for %s more", words.Count(rows, "row", "rows"))
	if no := measure.Patterned(d.result.Plan); no > 0 {
		if h := d.result.Plan.Section(no).Height; h > 1 && rows >= h {
			v.Says += fmt.Sprintf(": %s of %d rows, and %d over", words.Count(rows/h, "repeat", "repeats"), h, rows%h)
		}
	}
	v.Says += "."
	return v
}
