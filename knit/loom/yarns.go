package loom

import (
	"fmt"

	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
)

// takeYarns threads what the pass needs and takes out what it does not. A free pass takes
// nothing with it; where yarns are laid by hand, the feeders are emptied for it too.
func (l *Loom) takeYarns(p *pass.Pass) {
	switch {
	case p.Free && p.Main().Setting.Lays:
		l.changeYarns(p)
		if l.Machine.EmptyCounts {
			l.counter++
		}
	case p.Free && !p.Main().Setting.Moves: // a carriage that knits nothing carries no yarn
		for f, old := range l.feeders {
			if old != 0 {
				p.Add(step.Unthread{Feeder: f + 1, Yarn: old})
			}
		}
		if old := l.yarns.feeder; old != 0 {
			p.Add(step.Unthread{Feeder: 1, Yarn: old})
		}
		l.feeders = [2]piece.YarnNo{}
		l.yarns.empty()
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
			p.Add(step.Unthread{Feeder: f + 1, Yarn: old, Bobbin: l.bobbins[old]})
		}
	}
	for f := range l.feeders {
		y := p.Yarn(f + 1)
		if y != 0 && y != l.feeders[f] {
			p.Add(step.Thread{Feeder: f + 1, Yarn: y, Bobbin: l.backFrom(y)})
			if y != l.took[f] { // of passes in which yarn is taken
				l.Plan.Totals.Threadings++
			}
		}
		l.feeders[f] = y
	}
	if !p.Free {
		l.took = l.feeders
	}
}

// changeYarn changes the yarn of the only feeder; one that hangs on the far side is cut and
// joined anew.
func (l *Loom) changeYarn(p *pass.Pass) {
	y, old := p.Yarn(1), l.yarns.feeder
	if y == 0 { // yarns laid by hand, or none: what is in the feeder comes out
		if name := l.bobbins[old]; name != "" {
			p.Add(step.Unthread{Feeder: 1, Yarn: old, Bobbin: name})
		} else if old != 0 {
			p.Add(step.Unthread{Feeder: 1, Yarn: old})
		}
		if !p.Free {
			l.took = [2]piece.YarnNo{}
		}
		l.yarns.empty()
		return
	}
	threaded, cut := l.yarns.take(y)
	if threaded {
		if old != 0 {
			p.Add(step.Unthread{Feeder: 1, Yarn: old})
		}
		if cut {
			p.Add(step.Cut{Yarn: y, Hangs: l.carriage.Other()})
			l.Plan.Totals.Cuts++
			l.farSide(p, y)
		}
		p.Add(step.Thread{Feeder: 1, Yarn: y, Bobbin: l.backFrom(y)})
		if y != l.took[0] {
			l.Plan.Totals.Threadings++
		}
	}
	l.took[0] = y
	l.yarns.pass()
}

// Empty sends a carriage across without knitting.
func (l *Loom) Empty(c machine.Carriage) {
	p := l.Extra(machine.Free, nil)
	p.Free, p.Carriage = true, c
	l.Go(p)
}

// Fetches says that the empty carriage goes first, to the side where the row's yarn hangs.
func (l *Loom) Fetches(w Work) bool { return w.Need.Fetch && l.yarns.far(w.Yarn(1)) }

// Threaded lists the yarns in the feeders.
func (l *Loom) Threaded() (yarns []piece.YarnNo) {
	for _, y := range append(l.feeders[:], l.yarns.feeder) {
		if y != 0 {
			yarns = append(yarns, y)
		}
	}
	return yarns
}

// Laid notes that a row has laid its yarns by hand.
func (l *Loom) Laid(n *Need) { l.yarns.laid(n) }

// IsBobbin says that the yarn in a feeder comes out to be laid by hand, under a name, as the
// yarns are changed next.
func (l *Loom) IsBobbin(y piece.YarnNo, name string) {
	if l.bobbins == nil {
		l.bobbins = map[piece.YarnNo]string{}
	}
	l.bobbins[y] = name
}

// backFrom is the bobbin that a yarn was before it goes back into a feeder, "" if it was none.
func (l *Loom) backFrom(y piece.YarnNo) string {
	name := l.bobbins[y]
	delete(l.bobbins, y)
	return name
}

// farSide reports a yarn that had to be cut because it lay on the other side.
func (l *Loom) farSide(p *pass.Pass, y piece.YarnNo) {
	name, here := l.Piece.YarnName(y), l.carriage
	f := finding.Finding{Code: finding.YarnFarSide, Severity: finding.Warn, Section: p.Section,
		Rows: [2]int{p.Row(), p.Row()},
		Text: fmt.Sprintf("Row %d starts on the %v, but %s hangs on the %v: it must be cut and joined again.",
			p.Row(), here, name, here.Other()),
		Fix: fmt.Sprintf("An even number of passes without %s, and it would hang on the %v", name, here)}
	if p.Row() == 1 && p.Section > 1 && len(p.Works) == 1 && p.Works[0].Part == 1 && !l.placed.Section.Free {
		f.Fix = fmt.Sprintf("Slip a free pass to the %v before it, where %s hangs", here.Other(), name)
		f.Mend = finding.Always(edit.FreePass(p.Section))
	}
	l.Plan.Report(f)
}
