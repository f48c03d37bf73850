package technique

import (
	"fmt"

	"vindel/knit/bed"
	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/loom"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
)

// Weave (rules 5.6). The main yarn knits every needle; before each pass the weft is
// laid by hand, under needles at rest and over forward ones. A marked stitch shows it
// on the purl side, which is the right side, so marked stitches are the unselected
// needles, unless the profile says the reverse.
var Weave = Technique{
	Technique: piece.Technique{Name: "weave", Label: "weaving", Drawn: piece.InStitches, Mark: chart.Weave,
		Worn: chart.PurlSide, OneYarn: true, Weft: true, Patterned: always},
	Lacks: func(m *machine.Profile, _ *piece.Section) string {
		if !m.Weave {
			return "weaving guides that hold a laid yarn down"
		}
		return ""
	},
	Yarns: sectionYarn,
	Knit: func(l *loom.Loom, w loom.Work) {
		work, s := w.InWork(), w.Placed
		marked := s.Wants(w.Row, chart.Weave).And(work)
		setting, forward := machine.WeaveRest, work.Minus(marked)
		if l.Machine.WeaveSel == "shown" {
			setting, forward = machine.WeaveForward, marked
		} else if w.Row == 1 && l.Machine.School != machine.ByHand {
			l.Plan.Report(inverted(s, "stitches that show the woven yarn",
				"it shows on the needles that are not selected"))
		}
		p := l.New(w, setting)
		p.Main().Select, p.Patterned = forward, true
		if weft := s.Section.Weft; !marked.Empty() {
			p.Lays = []pass.Lay{{Bobbin: l.Piece.YarnID(weft), Yarn: weft, From: work.First(), To: work.Last()}}
		}
		l.Sent(p)
	},
	Asks:   asksStitches,
	Limits: weaveLimits,
}

// weaveLimits checks the woven yarn of each row: it is caught wherever marked stitches meet
// unmarked ones, and floats in between.
func weaveLimits(pl *pass.Plan, _ *fabric.Fabric, section int) (out []finding.Finding) {
	p, s := pl.Piece, pl.Section(section)
	limit := piece.Limit(p.Limits.Weave, piece.WeaveLimit)
	name := p.YarnName(s.Section.Weft)
	for r := 1; r <= s.Cycle; r++ {
		work := s.InWork(r)
		marked := s.Wants(r, chart.Weave).And(work)
		if marked.Empty() {
			continue // no weft is laid
		}
		report := func(code finding.Code, on machine.Set, fix, format string, a ...any) {
			out = append(out, finding.Finding{Code: code, Severity: finding.Warn, Section: section,
				Rows: [2]int{r, r}, Needles: on,
				Text: fmt.Sprintf("Row %d: ", r) + fmt.Sprintf(format, a...), Fix: fix})
		}
		ends := machine.SetOf(work.First(), work.Last()).And(marked)
		switch {
		case marked == work:
			report(finding.WeaveLoose, marked, "Leave some stitches unmarked",
				"nothing catches %s: every stitch is to show it.", name)
			continue
		case !ends.Empty():
			report(finding.WeaveLoose, ends, "Leave the end stitches unmarked", "%s is not caught at the end, at %v.",
				name, ends)
		}
		over, under := marked, work.Minus(marked)
		long := over.Longer(limit).Or(under.Longer(limit))
		if long.Empty() {
			continue
		}
		report(finding.WeaveFloat, long, "Mark or unmark a stitch in between",
			"%s floats over more than %d stitches, at %v.", name, limit, long)
		for _, way := range []struct {
			on     machine.Set
			stitch chart.Stitch
		}{{over.Parted(limit), chart.Knit}, {under.Parted(limit), chart.Weave}} {
			if len(s.Restitch(way.stitch, p, bed.Spot{Needles: way.on, Row: r})) > 0 {
				out[len(out)-1].Mend = func() []edit.Change {
					return s.Restitch(way.stitch, p,
						bed.Spot{Needles: way.on, Row: r})
				}
				break
			}
		}
	}
	return out
}
