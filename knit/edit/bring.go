package edit

import (
	"slices"

	"vindel/knit/chart"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Brought is a chart brought in from elsewhere.
type Brought struct {
	Chart   *chart.Chart
	Keyed   bool         // its characters are meant: it is a picture of ours, text, or CSV
	Worded  bool         // it was written in the words of hand knitters,
	Repeat  [2]int       // of whose columns these repeat; zero: all
	Colours []string     // by key, #rrggbb, where it came as a picture
	From    *piece.Piece // the piece it is taken from
	Source  *piece.Chart // its chart there
}

// Bring makes a chart what was brought in. A drawing whose characters the chart knows
// already keeps its legend, whatever technique it is for; lace makes its sections those of
// the technique given.
func Bring(p *piece.Piece, now *piece.Chart, in *Brought, lace *piece.Technique) []Change {
	shown := p.Marks(now)
	known := !in.Worded && in.From == nil && (in.Colours == nil || in.Keyed) &&
		!slices.ContainsFunc(in.Chart.Keys, func(k rune) bool { _, ok := shown[k]; return !ok })
	switch {
	case known:
		return Rows(p, now, in.Chart.Rows())
	case in.Worded || chart.IsLace(in.Chart):
		return slices.Concat(bringLace(p, now, in.Chart, lace), EdgesApart(p, now, in.Chart.W, in.Repeat))
	case in.From != nil:
		return bringFrom(p, now, in)
	}
	return bringPicture(p, now, in)
}

func bringLace(p *piece.Piece, now *piece.Chart, c *chart.Chart, lace *piece.Technique) []Change {
	shows := "right-side"
	if c.All {
		shows = "all"
	}
	at := Chart(now.Name)
	changes := slices.Concat(Set(at.To("legend"), map[string]any{}), Rows(p, now, c.Rows()),
		Set(at.To("shows"), shows), DrawnFor(now.Name, chart.KnitSide))
	for i, sec := range p.Sections {
		if !sec.Lace() && slices.ContainsFunc(sec.Areas, func(a piece.Area) bool { return a.Chart == now }) {
			changes = append(changes, Set(Section(i+1).To("technique"), lace.Name)...)
		}
	}
	return changes
}

// bringFrom takes a chart over from another piece, with the yarns that its legend names and
// this piece has not.
func bringFrom(p *piece.Piece, now *piece.Chart, in *Brought) []Change {
	legend := map[string]any{}
	var changes []Change
	have := map[byte]bool{0: true}
	for _, y := range p.Yarns {
		have[y.ID] = true
	}
	need := func(id byte) {
		for _, y := range in.From.Yarns {
			if y.ID == id && !have[id] {
				changes = append(changes, Set(Member("yarns").End(), yarn(id, y.Name, y.Colour))...)
			}
		}
		have[id] = true
	}
	for r, m := range in.Source.Legend {
		entry := map[string]any{}
		if m.Yarn != 0 {
			entry["yarn"] = string(m.Yarn)
			need(m.Yarn)
		}
		if m.Stitch != chart.Knit {
			entry["stitch"] = m.Stitch.String()
		}
		legend[string(r)] = entry
	}
	for _, m := range in.Source.Means {
		need(m.Yarn)
	}
	return slices.Concat(changes, Set(Chart(now.Name).To("legend"), legend), Rows(p, now, in.Source.Rows()),
		DrawnFor(now.Name, in.Source.Face))
}

// bringPicture makes a chart's rows and legend those of a picture, and the piece's yarns
// the colours that came with it.
func bringPicture(p *piece.Piece, now *piece.Chart, in *Brought) []Change {
	legend, yarns := map[string]any{}, []any{}
	colour := func(i int, other string) string {
		if i < len(in.Colours) {
			return in.Colours[i]
		}
		return other
	}
	for i, y := range p.Yarns {
		yarns = append(yarns, yarn(y.ID, y.Name, colour(i, y.Colour)))
	}
	for k, key := range in.Chart.Keys {
		id := piece.YarnLetters[k]
		if k < len(p.Yarns) {
			id = p.Yarns[k].ID
		} else {
			other, _ := piece.DefaultColour(k)
			yarns = append(yarns, yarn(id, "yarn "+string(id), colour(k, piece.Hex(other))))
		}
		legend[string(key)] = map[string]any{"yarn": string(id)}
	}
	return slices.Concat(Put(Member("yarns"), yarns), Set(Chart(now.Name).To("legend"), legend),
		Rows(p, now, in.Chart.Rows()))
}

// EdgesApart places a drawing of a width, of which some columns repeat, as often as there is room on the needles of a
// section that it alone lies on, and what stands before and after them once, at the ends of the work. The needles
// become as many as that takes.
func EdgesApart(p *piece.Piece, c *piece.Chart, width int, repeat [2]int) (changes []Change) {
	if repeat == [2]int{} || p.Shape != nil {
		return nil
	}
	left, right := [2]int{1, repeat[0] - 1}, [2]int{repeat[1] + 1, width}
	if !p.Machine.Near { // worded rows show the knit side, which looks away: columns run the other way on the bed
		left, right = right, left
	}
	many := func(of [2]int) int { return of[1] - of[0] + 1 }
	times := (p.Work().Len() - many(left) - many(right)) / many(repeat)
	if times < 1 {
		return nil
	}
	from, to := machine.Centre(times*many(repeat)+many(left)+many(right), p.Options.OddSide())
	for i := range p.Sections {
		s := &p.Sections[i]
		if len(s.Areas) != 1 || s.Areas[0].Chart != c || s.Areas[0].From != p.From || s.Areas[0].To != p.To {
			continue
		}
		var areas []any
		at := from
		for _, part := range []struct {
			columns [2]int
			wide    int
		}{{left, many(left)}, {repeat, times * many(repeat)}, {right, many(right)}} {
			if part.wide > 0 {
				end := at + machine.Needle(part.wide) - 1
				areas = append(areas, map[string]any{"chart": c.Name, "columns": part.columns[:], "from": at.String(),
					"to": end.String(), "first": at.String()})
				at = end + 1
			}
		}
		changes = append(changes, Set(Section(i+1).To("areas"), areas)...)
	}
	if len(changes) == 0 {
		return nil
	}
	return append(changes, Put(Member("needles"), map[string]any{"from": from.String(), "to": to.String(),
		"out": p.Out.And(machine.Range(from, to)).String()})...)
}
