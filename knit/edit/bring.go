package edit

import (
	"slices"

	"vindel/knit/chart"
	"vindel/knit/piece"
)

// Brought is a chart brought in from elsewhere.
type Brought struct {
	Chart   *chart.Chart
	Keyed   bool         // its characters are meant: it is a picture of ours, text, or CSV
	Worded  bool         // it was written in the words of hand knitters
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
		return bringLace(p, now, in.Chart, lace)
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
