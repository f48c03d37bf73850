package web

import (
	"fmt"
	"math"
	"strconv"

	"vindel/knit/beside"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/measure"
	"vindel/knit/piece"
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
}

// measuredYarn is what is taken of a yarn, in words, and what is known of its balls.
type measuredYarn struct {
	Yarn                          yarnState
	Stitches, Threadings          int
	Grams, Metres, Balls, Missing string
	Fields                        []field
}

// measureView measures the piece: nil where it has no passes.
func (d *opened) measureView() *measureView {
	p := d.piece
	m := measure.Of(d.result.Plan)
	v := &measureView{ID: d.stored.ID, Size: fmt.Sprintf("%.0f × %.0f mm", m.WidthMM, m.HeightMM), Stitches: m.Stitches, Rows: m.Rows,
		By:     map[string]string{"swatch": "by the swatch", "gauge": "by the gauge that is typed on Place", "pitch": "as it lies on the needles: no swatch is known"}[m.Basis],
		Margin: measured(100 * p.Options.Margin)}
	uses := beside.YarnUses(d.result.Plan)
	for _, u := range m.Yarns {
		y := &p.Yarns[u.No-1]
		at := edit.Member("yarns").At(int(u.No) - 1)
		one := measuredYarn{Yarn: yarnState{ID: string(y.ID), Name: y.Name, Colour: y.Colour}, Stitches: u.Stitches, Threadings: uses[u.No-1].Threadings}
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
	}{{"stitches", "Stitches counted", sw.Stitches}, {"width_mm", "over so many mm", sw.WidthMM}, {"rows", "rows counted", sw.Rows},
		{"height_mm", "over so many mm", sw.HeightMM}, {"grams", "all of it weighs, g", sw.Grams}} {
		v.Swatch = append(v.Swatch, field{at.To(f.key), edit.AsMeasure, f.label, measured(f.value), ""})
	}
	v.Technique = choice{Path: at.To("technique"), Label: "knitted in", Value: sw.Technique, Words: append([]piece.Word{{Text: "not said"}}, techniqueWords()...)}
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
