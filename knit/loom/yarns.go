package loom

import (
	"fmt"

	"vindel/knit/finding"
	"vindel/knit/pass"
	"vindel/knit/piece"
)

// takeYarns threads what the pass needs and takes out what it does not. A free pass takes
// nothing with it; where yarns are laid by hand, the feeders are emptied for it too.
func (l *Loom) takeYarns(p *pass.Pass) {
	switch {
	case p.Free && p.Main().Setting.Lays:
		l.changeYarns(p)
	case p.Free && !p.Main().Setting.Moves:
		l.yarns.carriage = p.Dir
	case !p.Free:
		l.changeYarns(p)
		l.counter++
		l.run++
		p.Course = l.course
	}
}

func (l *Loom) changeYarns(p *pass.Pass) {
	if l.Machine.Feeders == 1 {
		l.changeYarn(p)
		return
	}
	for f := range l.feeders {
		if old := l.feeders[f]; old != 0 && old != p.Yarn(f+1) {
			p.Before = append(p.Before, pass.UnthreadStep(f+1, old))
		}
	}
	for f := range l.feeders {
		y := p.Yarn(f + 1)
		if y != 0 && y != l.feeders[f] {
			p.Before = append(p.Before, pass.ThreadStep(f+1, y))
			l.Plan.Totals.Threadings++
		}
		l.feeders[f] = y
	}
}

// changeYarn changes the yarn of the only feeder; one that hangs on the far side is cut and
// joined anew.
func (l *Loom) changeYarn(p *pass.Pass) {
	y, old := p.Yarn(1), l.yarns.feeder
	if y == 0 { // yarns laid by hand, or none: what is in the feeder comes out
		if old != 0 {
			p.Before = append(p.Before, pass.ParkStep(old, l.carriage))
			l.yarns.feeder = 0
		}
		l.yarns.carriage = l.carriage.Other()
		return
	}
	threaded, cut := l.yarns.take(y)
	if threaded {
		if old != 0 {
			p.Before = append(p.Before, pass.ParkStep(old, l.carriage))
		}
		if cut {
			p.Before = append(p.Before, pass.CutStep(y, l.carriage.Other()))
			l.Plan.Totals.Cuts++
			l.farSide(p, y)
		}
		p.Before = append(p.Before, pass.ThreadStep(1, y))
		l.Plan.Totals.Threadings++
	}
	l.yarns.pass()
}

// farSide reports a yarn that had to be cut because it lay on the other side.
func (l *Loom) farSide(p *pass.Pass, y piece.YarnNo) {
	name, here := l.Piece.YarnName(y), l.carriage
	l.Plan.Report(finding.Finding{Code: finding.YarnFarSide, Severity: finding.Warn, Section: p.Section,
		Rows: [2]int{p.Row(), p.Row()},
		Text: fmt.Sprintf("Row %d starts on the %v, but %s hangs on the %v: it must be cut and joined again.",
			p.Row(), here, name, here.Other()),
		Fix: fmt.Sprintf("Slip a free pass to the %v before it, where %s hangs", here.Other(), name)})
}
