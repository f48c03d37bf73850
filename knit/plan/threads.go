package plan

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"

	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
)

// Everything that knits hangs from a thread (rules 4, Threads). Once all passes are there, each is followed from its
// first loop to its last: which one a feeder takes up again, where it waits meanwhile, and where it has to be cut,
// because it hangs at the other side, or because the strand from its last loop would be over its limit.

// thread is one length of yarn.
type thread struct {
	yarn   piece.YarnNo
	name   string
	bobbin string       // that it hangs as
	side   machine.Side // where it hangs, out of a feeder, or hands have left it
	outer  bool         // all that it has knitted is waste
	knits  bool         // it has a loop
	bed    machine.BedNo
	needle machine.Needle // its last loop, and the passes knitted by then; run 0: nobody knows
	run    int
	from   int       // the pass, as an index, before which it came into a feeder
	hand   int       // and before which hands have knitted with it
	last   int       // of what is laid: the pass that took it last
	out    *placedAt // the step that took it out of a feeder
}

// placedAt is a step before a pass; pass len(Passes): after the last.
type placedAt struct{ pass, step int }

// threads follows them all.
type threads struct {
	k       *planner
	feeders [2]*thread
	carrier machine.Carriage   // whose feeders they are
	hanging []*thread          // in no feeder, and whole
	laid    map[string]*thread // by bobbin, a weft by its yarn
	of      [26 * 2]int        // how many there have been
	all     []*thread
	at      machine.Side
	insert  []inserted
	gone    []placedAt // steps that are not needed after all
}

// inserted is a step that threads want before a pass.
type inserted struct {
	pass int
	st   step.Step
}

// threads names every thread, settles what becomes of each, and counts the ends.
func (k *planner) threads() {
	t := &threads{k: k, laid: map[string]*thread{}, at: k.Piece.Start}
	for i := range k.Passes {
		p := &k.Passes[i]
		for j := range p.Before {
			t.step(i, j, p)
		}
		t.handOver(i, p)
		for f := range k.m.Feeders {
			if th := t.feeders[f]; th != nil && p.Yarn(f+1) != 0 {
				p.Threads[f] = th.name
			}
		}
		for k := range p.Lays {
			t.lay(i, p, &p.Lays[k])
		}
		if p.Carriage != machine.LaceCarriage {
			t.at = p.Dir
		}
	}
	t.finish()
	for _, th := range t.all {
		if th.knits && !th.outer {
			k.Totals.Ends += 2
		}
	}
}

func (t *threads) begin(y piece.YarnNo) *thread {
	t.of[y]++
	th := &thread{yarn: y, name: t.k.Piece.YarnID(y), outer: true}
	if t.of[y] > 1 {
		th.name += fmt.Sprint(t.of[y])
	}
	t.all = append(t.all, th)
	return th
}

// step follows a step before pass i.
func (t *threads) step(i, j int, p *pass.Pass) {
	steps := p.Before
	switch st := steps[j].Step.(type) {
	case step.Unthread:
		th := t.feeders[st.Feeder-1]
		if th == nil {
			return
		}
		t.knitted(i-1, st.Feeder-1)
		t.feeders[st.Feeder-1] = nil
		st.Name, st.Of = th.name, t.carrier
		switch {
		case st.Cut:
		case st.Bobbin != "":
			th.bobbin, t.laid[st.Bobbin] = st.Bobbin, th
		default:
			if th.hand != i { // since then it has gone along with the carriage
				th.side = 0
			}
			st.Left = cmp.Or(st.Left, th.side, t.at)
			th.side, th.out = st.Left, &placedAt{i, j}
			t.hanging = append(t.hanging, th)
		}
		steps[j].Step = st
	case step.Cut:
		if k := slices.IndexFunc(t.hanging, func(th *thread) bool { return th.yarn == st.Yarn }); k >= 0 {
			th := t.hanging[k]
			st.Name = th.name
			if th.run > 0 && p.Run-th.run-1 > cmp.Or(t.k.Piece.Limits.Carried, piece.CarriedLimit) {
				t.cut(th) // at once: it would hang about all the while
				t.gone = append(t.gone, placedAt{i, j})
			}
			t.hanging = slices.Delete(t.hanging, k, k+1)
		} else {
			for f, th := range t.feeders {
				if th != nil && th.yarn == st.Yarn { // hands have knitted with it, from the other side
					t.knitted(i-1, f)
					st.Name, t.feeders[f] = th.name, t.begin(st.Yarn)
					t.feeders[f].from = i
				}
			}
		}
		steps[j].Step = st
	case step.Thread:
		steps[j].Step = t.take(p, st)
		t.feeders[st.Feeder-1].from = i
		t.carrier = p.Carriage
	case step.CastOn:
		for _, th := range t.feeders { // it hangs from the first stitches
			if th != nil && th.yarn == st.Yarn && st.Yarn != 0 {
				th.knits, th.side, th.hand = true, t.at, i
				th.outer = th.outer && p.Section == 0 && t.isWaste(p)
			}
		}
	case step.KnitByHand:
		st.Name = t.byHand(i, st)
		steps[j].Step = st
	case step.Return:
		for _, th := range t.hanging {
			t.cut(th)
		}
		t.hanging = nil
		clear(t.laid)
	}
}

// take is the thread that a feeder takes before a pass: of those that hang within reach the nearest, else a new end.
func (t *threads) take(p *pass.Pass, st step.Thread) step.Thread {
	carry := t.carries(p, st.Yarn)
	_, first, takes := ends(p, st.Feeder-1, p.Dir == machine.Left)
	var best *thread
	least := [2]int{math.MaxInt}
	look := func(th *thread) {
		across, up, far := t.strand(p, th, first, takes)
		if th.yarn != st.Yarn || far && !carry {
			return
		}
		if now := [2]int{across, up}; best == nil || slices.Compare(now[:], least[:]) < 0 {
			best, least = th, now
		}
	}
	for _, name := range slices.Sorted(maps.Keys(t.laid)) {
		if th := t.laid[name]; th.bobbin != "" {
			look(th)
		}
	}
	for _, th := range t.hanging {
		if th.side == t.at || !th.knits || carry {
			look(th)
		}
	}
	st.Bobbin, st.Of = "", p.Carriage
	t.hanging = slices.DeleteFunc(t.hanging, func(th *thread) bool {
		if th.yarn == st.Yarn && th != best && th.knits {
			t.cut(th)
			return true
		}
		return th == best
	})
	if best == nil {
		best = t.begin(st.Yarn)
		st.Again = t.of[st.Yarn] > 1
	} else {
		st.Bobbin = best.bobbin
		delete(t.laid, best.bobbin)
		st.Carried = best.side != 0 && best.side != t.at && best.knits
		t.warn(p, best, first, takes)
	}
	st.Name, st.New = best.name, !best.knits
	best.bobbin, best.side, best.out = "", 0, nil
	t.feeders[st.Feeder-1] = best
	return st
}

// carries says that the section, or the yarn, keeps its threads whole.
func (t *threads) carries(p *pass.Pass, y piece.YarnNo) bool {
	return t.k.Piece.Yarns[y-1].Carry || p.Section > 0 && t.k.Piece.Sections[p.Section-1].Carry
}

// strand is how far a thread would run from its last loop to a needle: so many stitches across, and so many knitted
// passes up; far: one of them is over its limit.
func (t *threads) strand(p *pass.Pass, th *thread, to machine.Needle, known bool) (across, up int, far bool) {
	if !th.knits || th.run == 0 {
		return 0, 0, false
	}
	l := &t.k.Piece.Limits
	if up = p.Run - th.run - 1; p.Free {
		up++
	}
	if known {
		between := machine.Range(min(th.needle, to)+1, max(th.needle, to)-1)
		across = between.And(p.Beds[th.bed].AtWork.Or(p.Main().AtWork)).Len()
	}
	return across, up, across > t.k.Piece.StrandLimit() || up > cmp.Or(l.Carried, piece.CarriedLimit)
}

// warn reports a strand that is kept though it is over its limit.
func (t *threads) warn(p *pass.Pass, th *thread, to machine.Needle, known bool) {
	across, up, far := t.strand(p, th, to, known)
	if !far {
		return
	}
	t.k.Report(finding.Finding{Code: finding.StrandFar, Severity: finding.Warn, Section: p.Section,
		Rows: [2]int{p.Row(), p.Row()}, Needles: machine.SetOf(th.needle, to),
		Text: fmt.Sprintf("Row %d takes %s up again %d stitches across and %d passes up from its last loop: a strand "+
			"that snags.", p.Row(), t.k.Piece.YarnName(th.yarn), across, up),
		Fix: "Let it be cut there"})
}

// cut has the step that took a thread out cut it.
func (t *threads) cut(th *thread) {
	if th.out == nil {
		return
	}
	at := &t.k.Passes[th.out.pass].Before[th.out.step]
	st := at.Step.(step.Unthread)
	st.Cut, st.Left = true, 0
	at.Step = st
}

// byHand follows a yarn with which hands knit: the name of its thread.
func (t *threads) byHand(i int, st step.KnitByHand) (name string) {
	is := func(th *thread) bool { return th != nil && th.yarn == st.Yarn }
	k := slices.IndexFunc(t.hanging, is)
	f := slices.IndexFunc(t.feeders[:], is)
	var th *thread
	switch {
	case f >= 0:
		th = t.feeders[f]
	case k >= 0:
		th = t.hanging[k]
	default:
		th = t.begin(st.Yarn)
		t.hanging = append(t.hanging, th)
	}
	th.knits, th.outer, th.run, th.hand = true, false, 0, i
	th.side, th.out = st.From.Other(), nil // it was not cut before that
	return th.name
}

// knitted settles where the last loop of a thread hangs that has been in a feeder (from 0) up to pass i: only then does
// anybody ask.
func (t *threads) knitted(i, f int) {
	th := t.feeders[f]
	found := false
	for ; i >= th.from; i-- {
		p := &t.k.Passes[i]
		if p.Free || p.Carriage == machine.LaceCarriage || p.Yarn(f+1) == 0 {
			continue
		}
		bed, needle, takes := ends(p, f, p.Dir == machine.Right)
		if !takes {
			continue
		}
		if !found {
			found, th.knits = true, true
			if i >= th.hand {
				th.bed, th.needle, th.run, th.side = bed, needle, p.Run, 0
			}
		}
		if p.Section > 0 || !t.isWaste(p) {
			th.outer = false
			return
		}
	}
}

// ends is the last needle to the right, or to the left, that takes the yarn of a feeder (from 0) in a pass.
func ends(p *pass.Pass, f int, right bool) (bed machine.BedNo, needle machine.Needle, takes bool) {
	for g := range p.Groups() {
		if !g.Action.Takes() || g.Feeder != f+1 && (g.Under == 0 || g.Under != p.Yarn(f+1)) {
			continue
		}
		n := g.Needles.First()
		if right {
			n = g.Needles.Last()
		}
		if !takes || right == (n > needle) {
			bed, needle, takes = g.Bed, n, true
		}
	}
	return bed, needle, takes
}

// isWaste says that what a pass of a start or finish knits comes off again: waste rows, and their cord.
func (t *threads) isWaste(p *pass.Pass) bool {
	pc := t.k.Piece
	if p.ID.Section == pass.BeginID {
		return pc.Begin != nil && pc.Begin.Way == "waste"
	}
	return slices.ContainsFunc(append(pc.PartEnds[:], pc.End), func(e *piece.End) bool {
		return e != nil && e.Way == "waste"
	})
}

// lay follows a yarn that is laid by hand.
func (t *threads) lay(i int, p *pass.Pass, l *pass.Lay) {
	name, laid := l.Bobbin, p.Main().Setting.Lays
	if name == "" {
		name = "weft " + t.k.Piece.YarnID(l.Yarn)
	}
	start, end := l.From, l.To
	if p.Dir == machine.Left {
		start, end = end, start
	}
	th := t.laid[name]
	if th != nil && !t.carries(p, l.Yarn) {
		if _, _, far := t.strand(p, th, start, true); far {
			cut := step.Cut{Yarn: l.Yarn, Name: th.name, Bobbin: l.Bobbin, Joined: true, Laid: !laid}
			if cut.Hangs = machine.Left; 2*th.needle > l.From+l.To {
				cut.Hangs = machine.Right
			}
			t.insert = append(t.insert, inserted{i, cut})
			th = nil
		}
	}
	if th == nil {
		th = t.begin(l.Yarn)
		if laid {
			th.bobbin = name
		}
		t.laid[name] = th
	}
	t.warn(p, th, start, true)
	th.knits, th.outer, th.bed, th.needle, th.run, th.last = true, false, machine.Main, end, p.Run, i
	l.Thread = th.name
}

// handOver says that what stays in a feeder goes from the one carriage to the other by hand.
func (t *threads) handOver(i int, p *pass.Pass) {
	at := slices.IndexFunc(p.Before, func(st pass.Step) bool {
		on, ok := st.Step.(step.Attach)
		return ok && on.Carriage != on.Had && on.Carriage != machine.LaceCarriage
	})
	if at < 0 || p.Free {
		return
	}
	for f, th := range t.feeders {
		fresh := slices.ContainsFunc(p.Before, func(st pass.Step) bool {
			in, ok := st.Step.(step.Thread)
			return ok && in.Feeder == f+1
		})
		if th == nil || fresh {
			continue
		}
		t.insert = append(t.insert,
			inserted{i, step.Unthread{Feeder: f + 1, Yarn: th.yarn, Name: th.name, Of: t.carrier, Left: t.at, Over: true}},
			inserted{i, step.Thread{Feeder: f + 1, Yarn: th.yarn, Name: th.name, Of: p.Carriage, Over: true}})
	}
	t.carrier = p.Carriage
}

// finish cuts what is finished, and puts in the steps that threads want.
func (t *threads) finish() {
	for f, th := range t.feeders {
		if th != nil {
			t.knitted(len(t.k.Passes)-1, f)
		}
	}
	for _, th := range t.hanging {
		t.cut(th)
	}
	for _, name := range slices.Sorted(maps.Keys(t.laid)) {
		th := t.laid[name]
		if th.last+1 < len(t.k.Passes) {
			t.insert = append(t.insert, inserted{th.last + 1, step.Cut{Yarn: th.yarn, Name: th.name, Bobbin: th.bobbin,
				Laid: th.bobbin == ""}})
		}
	}
	for _, at := range slices.Backward(t.gone) {
		p := &t.k.Passes[at.pass]
		p.Before = slices.Delete(p.Before, at.step, at.step+1)
	}
	for _, in := range t.insert {
		p := &t.k.Passes[in.pass]
		rank := in.st.Rank(false)
		at := len(p.Before)
		for at > 0 && p.Recipe == 0 && p.Before[at-1].Recipe == 0 && p.Before[at-1].Rank(false) > rank {
			at--
		}
		p.Before = slices.Insert(slices.Clip(p.Before), at, pass.Step{Step: in.st})
	}
}
