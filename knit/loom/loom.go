package loom

import (
	"fmt"

	"vindel/knit/bed"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
)

// Loom carries what changes from pass to pass: how everything stands after the pass sent
// last, hands' work for the next not yet done.
type Loom struct {
	Piece   *piece.Piece
	Machine *machine.Profile
	Plan    *pass.Plan // to which passes are added

	placed *bed.Placed // the section at work, from Section to the next

	counter int         // the row counter's reading
	run     int         // knitted passes so far
	course  int         // the row of fabric begun last, from 1
	due     []pass.Step // to stand before the next pass

	carriage machine.Side                             // where the carriage that knits stands: knit and purl hand the yarn over
	laceAt   machine.Side                             // where the lace carriage stands; it lives on the left
	on       machine.Carriage                         // on the bed
	knitter  machine.Carriage                         // the one that knitted last
	rails    [machine.SecondCarriage + 1]machine.Side // where those off the bed stand beside it; 0: not there
	kitted   [machine.SecondCarriage + 1]bool         // what has to be there before it comes on is there

	feeders  [2]piece.YarnNo         // what is threaded, where there are two
	took     [2]piece.YarnNo         // what the last pass took that took yarn
	bobbins  map[piece.YarnNo]string // yarns that came out of a feeder to be laid by hand
	yarns    yarnState               // and where there is one: where every yarn lies
	levers   [machine.SecondCarriage + 1]Levers
	set      [machine.SecondCarriage + 1][2]int // the pass before which they were set last for a way
	size     string                             // of the stitch, as it is set
	second   secondBed
	standing machine.Set // chosen by hand: needles that the last pass has left forward
	weighed  int         // rows of fabric when the weights were last moved

	parts   []pass.RowPart                // what passes work, kept together
	shows   *[machine.MaxBed]piece.YarnNo // what each needle shows; nil where nobody asks
	techs   map[any]any                   // what techniques keep, one value a type (State)
	rowFrom int                           // the index of the first pass of the row at work
	begun   bool                          // the stitches have been brought on before the first pass
	shape   shaping
	woven   bool // a recipe has stood last
	lined   bool // the end needles of the pass at work have been seen to
}

// New is a loom at the start of a piece; ask keeps track of what needles show (Showing).
func New(p *piece.Piece, pl *pass.Plan, ask bool) *Loom {
	l := &Loom{Piece: p, Machine: &p.Machine, Plan: pl, carriage: p.Start, laceAt: machine.Left, techs: map[any]any{}}
	l.yarns.carriage = p.Start
	if l.Machine.Lace == "separate" {
		l.rails[machine.LaceCarriage] = l.Machine.Home(machine.LaceCarriage)
	}
	if l.Machine.PurlCarriage {
		l.rails[machine.PurlCarriage] = l.Machine.Home(machine.PurlCarriage)
	}
	if ask {
		l.shows = &[machine.MaxBed]piece.YarnNo{}
	}
	return l
}

// State is what a technique keeps for itself from row to row: one value of each type.
func State[T any](l *Loom) *T {
	key := (*T)(nil)
	if s, ok := l.techs[key]; ok {
		return s.(*T)
	}
	s := new(T)
	l.techs[key] = s
	return s
}

// Section begins a section.
func (l *Loom) Section(s *bed.Placed) { l.placed = s }

// Row begins the passes of a row.
func (l *Loom) Row() { l.rowFrom = len(l.Plan.Passes) }

// NewCourse begins a row of the fabric.
func (l *Loom) NewCourse() { l.course++ }

// ToCourse goes to a row of the fabric, from 1: passes of one row of a separated section are parts
// of several in turn.
func (l *Loom) ToCourse(n int) { l.course = n }

// Course is the row of fabric at work, from 1; 0 before the first.
func (l *Loom) Course() int { return l.course }

// Counter is the row counter's reading.
func (l *Loom) Counter() int { return l.counter }

// SetCounter sets the counter before the next pass, where it does not read n already.
func (l *Loom) SetCounter(n int) {
	if l.counter != n {
		l.counter = n
		l.Later(step.Counter{To: n})
	}
}

// Later adds steps that stand before the next pass, or after the last.
func (l *Loom) Later(steps ...step.Step) { l.LaterOf(pass.Steps(steps...)) }

// LaterOf is Later for steps that may be a recipe's.
func (l *Loom) LaterOf(steps []pass.Step) {
	if l.due == nil {
		l.due = make([]pass.Step, 0, len(steps)+1)
	}
	l.due = append(l.due, steps...)
}

// Due is the steps that no pass has taken yet.
func (l *Loom) Due() []pass.Step { return l.due }

// Stands is the side on which a carriage stands, or from which it will come on: knit and
// purl carriage hand the yarn over, so they change places where it is.
func (l *Loom) Stands(c machine.Carriage) machine.Side {
	if c == machine.LaceCarriage {
		return l.laceAt
	}
	return l.carriage
}

// Knitter is the carriage that knitted last.
func (l *Loom) Knitter() machine.Carriage { return l.knitter }

// Last is the pass knitted last, nil before the first. It is not to be changed, nor kept.
func (l *Loom) Last() *pass.Pass {
	if n := len(l.Plan.Passes); n > 0 {
		return &l.Plan.Passes[n-1]
	}
	return nil
}

// New begins a pass of a row with the yarns shared out for it. The pass stays where it is
// only until the next one is begun.
func (l *Loom) New(w Work, s machine.Setting) *pass.Pass {
	p := l.begin(w.Row, s)
	l.parts = append(l.parts, w.part(1))
	p.Works = l.parts[len(l.parts)-1 : len(l.parts) : len(l.parts)]
	p.Main().Yarns = w.Yarns
	return p
}

// Extra begins a pass that works no row: it selects, or goes across empty.
func (l *Loom) Extra(s machine.Setting, yarns []piece.YarnNo) *pass.Pass {
	p := l.begin(0, s)
	p.Main().Yarns = yarns
	return p
}

func (l *Loom) begin(row int, s machine.Setting) *pass.Pass {
	if row > 0 {
		l.rowBegins()
	}
	l.Plan.Passes = append(l.Plan.Passes, pass.Pass{})
	p := &l.Plan.Passes[len(l.Plan.Passes)-1]
	half := p.Main()
	half.Setting, half.Size = s, l.placed.Section.Size
	l.lined = false
	if l.placed.Shaped(1) == nil {
		half.AtWork = l.placed.InWork(max(row, 1))
	} else {
		half.AtWork, half.Hold = l.standsNow(row)
		p.Waits = l.shape.waits
	}
	return p
}

// Again begins another pass like the last one but for its hand steps: out and back, or a
// line that serves two passes.
func (l *Loom) Again() *pass.Pass {
	l.Plan.Passes = append(l.Plan.Passes, *l.Last())
	p := l.Last()
	p.Before, p.Main().ByHand, p.Main().PushedBack = nil, machine.Set{}, machine.Set{}
	return p
}

// Go sends the carriage: it completes the pass begun last with its way, its place in the
// plan, and the hand steps that have to come first. Steps that the pass has already follow
// those.
func (l *Loom) Go(p *pass.Pass) {
	section, half := l.placed.Section, p.Main()
	l.woven = false
	if !l.lined {
		half.Line = half.Select
	}
	p.N, p.Section, p.Dir = len(l.Plan.Passes), l.placed.No, l.Stands(p.Carriage).Other()
	p.ID = l.identity(p)
	fingers := p.Before
	p.Before = l.due
	l.due = nil
	lace := p.Carriage == machine.LaceCarriage
	half.Hold = half.Hold.Or(l.shape.hold.And(half.AtWork)) // a technique has holds of its own
	castOn := step.CastOn{At: step.Main(half.AtWork), Yarn: p.Yarn(1)}
	if !l.shape.cast.Empty() {
		castOn.On = l.shape.cast
	}
	first := p.N == 1 && !l.begun
	if first {
		p.Add(step.Care{Text: step.CareHooks}, step.Counter{})
		if castOn.Yarn == 0 {
			castOn.Yarn = section.RowYarn(1)
		}
	}
	if first && lace { // it comes on once the stitches are there
		p.Add(castOn)
	}
	l.changeCarriage(p)
	l.behind(p)
	switch p.Carriage {
	case machine.KnitCarriage, machine.PurlCarriage:
		l.setCams(p)
		l.setSize(p)
	}
	l.moveWeights(p)
	l.takeYarns(p)
	if first && !lace {
		p.Add(castOn)
	}
	l.castOnBehind(p)
	l.yarnOfEdges(p)
	p.Before = append(p.Before, fingers...)
	l.chooseByHand(p)
	l.loopsBehind(p)
	p.Counter, p.Run = l.counter, l.run
	if lace {
		l.laceAt = p.Dir
	} else {
		l.carriage, l.knitter = p.Dir, p.Carriage
	}
}

// identity is the pass's section, repeat, row, and which of the row's passes it is.
func (l *Loom) identity(p *pass.Pass) pass.ID {
	id := pass.ID{Section: l.placed.Section.ID, Part: l.placed.Part.String(), Repeat: 1, Row: p.Row(),
		Nth: len(l.Plan.Passes) - l.rowFrom}
	if h := l.placed.Height; len(l.placed.Section.Areas) > 0 && id.Row > 0 {
		row := id.Row - 1 + l.placed.Section.Shift()
		id.Repeat, id.Row = 1+row/h, 1+row%h
	}
	return id
}

// Sent goes over a row of fabric with the pass begun last: once, or twice where a reader
// gives every line two passes.
func (l *Loom) Sent(p *pass.Pass) {
	l.course++
	l.Go(p)
	if s := l.placed; l.Machine.School == machine.Pairs && !(s.Section.Passes > 0 && p.Row() == s.Rows) {
		by, back := p.Main().ByHand, p.Main().PushedBack
		l.course++
		p = l.Again()
		p.Main().ByHand, p.Main().PushedBack = by, back
		l.Go(p)
	}
}

// changeCarriage parks one carriage off the bed before another comes on; they drive
// the same belt.
func (l *Loom) changeCarriage(p *pass.Pass) {
	if p.Carriage == l.on {
		if p.N == 1 {
			p.Add(l.needs(p.Carriage)...)
		}
		return
	}
	had := l.knitter
	if p.N == 1 {
		had = p.Carriage // there is no yarn yet
	}
	from, to := l.Stands(p.Carriage), l.Stands(l.on)
	lifted := to == from // it would stand in the way
	for c, side := range l.rails {
		switch machine.Carriage(c) {
		case p.Carriage, l.on:
			continue
		}
		lifted = lifted || side == to
		if side == from {
			p.Add(step.Remove{Carriage: machine.Carriage(c), Parked: side, Lifted: true})
			l.rails[c] = 0
		}
	}
	if l.rails[p.Carriage], l.rails[l.on] = 0, to; lifted {
		l.rails[l.on] = 0
	}
	p.Add(step.Remove{Carriage: l.on, Parked: to, Lifted: lifted})
	p.Add(l.needs(p.Carriage)...)
	p.Add(step.Attach{Carriage: p.Carriage, From: l.Stands(p.Carriage), Had: had})
	l.on = p.Carriage
}

// needs says, once or always, what has to be there before a carriage comes on.
func (l *Loom) needs(c machine.Carriage) (steps []step.Step) {
	again := l.kitted[c]
	l.kitted[c] = true
	for _, kit := range l.Machine.Kit {
		if kit.For == c && (kit.Always || !again) {
			steps = append(steps, step.Kit{Text: kit.Text, On: kit.Side, For: c})
		}
	}
	return steps
}

// moveWeights moves the weights up every so many rows of fabric.
func (l *Loom) moveWeights(p *pass.Pass) {
	if !p.Free && l.WeightsDue() {
		p.Add(step.WeightsUp{})
	}
}

// WeightsDue says that the weights are moved up before the row of fabric at work: once.
func (l *Loom) WeightsDue() bool {
	every := l.WeightsEvery()
	rows := l.course - 1
	if rows <= 0 || rows%every != 0 || l.weighed == rows {
		return false
	}
	l.weighed = rows
	return true
}

// WeightsEvery is how many rows of fabric lie between two moves of the weights.
func (l *Loom) WeightsEvery() int { return piece.Limit(l.Piece.Limits.Weights, piece.WeightsEvery) }

// chooseByHand says which needles the fingers bring forward, and which they put back. Where
// no carriage selects that is all of them, but for those that the last pass left standing:
// under a cam that holds them, or that tucks and need not be set again.
func (l *Loom) chooseByHand(p *pass.Pass) {
	half := p.Main()
	if l.Machine.School == machine.ByHand {
		for i := range p.Before { // fingers that move stitches leave the needles at rest
			if st, ok := p.Before[i].Step.(step.Lift); ok && st.Bed() == machine.Main {
				on := st.Needles()
				l.standing = l.standing.Minus(on.Or(on.Left(1)).Or(on.Right(1)))
			}
		}
		half.ByHand = half.Select.Minus(l.standing)
		if back := l.standing.Minus(half.Select).Minus(half.Hold); !back.Empty() {
			half.PushedBack = back
		}
		l.standing = machine.Set{}
		if selected := p.Cams().Selected; selected == machine.Hold || selected == machine.Tuck &&
			!l.Machine.ResetEach {
			l.standing = half.Select
		}
	}
	if !half.PushedBack.Empty() {
		if l.Machine.School == machine.ByHand {
			p.Add(step.ToWork{At: step.Main(half.PushedBack)})
		} else {
			p.Add(step.PushBack{At: step.Main(half.PushedBack)})
		}
	}
	if !half.ByHand.Empty() {
		p.Add(step.BringForward{At: step.Main(half.ByHand)})
	}
}

// Shown notes what the needles show after the passes of a row; only a loom that is asked
// keeps track of it.
func (l *Loom) Shown() {
	if l.shows == nil {
		return
	}
	for i := l.rowFrom; i < len(l.Plan.Passes); i++ {
		for g := range l.Plan.Passes[i].Groups() {
			if !g.Action.Knits() {
				continue
			}
			for n := range g.Needles.All() {
				l.shows[n+machine.MaxBed/2] = g.Yarn
			}
		}
	}
}

// Showing is the yarn that a needle shows; 0 before its first stitch.
func (l *Loom) Showing(n machine.Needle) piece.YarnNo { return l.shows[n+machine.MaxBed/2] }

// Part is the row of a pass that is not the first of its row's parts.
func (l *Loom) Part(w Work, n int) []pass.RowPart {
	l.parts = append(l.parts, w.part(n))
	return l.parts[len(l.parts)-1 : len(l.parts) : len(l.parts)]
}

// OtherSide is the finding that a section needs the carriage on the other side, with what
// brings it there: the other side to start from, or a free pass before the section.
func (l *Loom) OtherSide(side machine.Side, text string) finding.Finding {
	no := l.placed.No
	f := finding.Finding{Code: finding.CarriageSide, Severity: finding.Stop, Section: no, Rows: [2]int{1, 1},
		Needles: l.placed.InWork(1), Text: text}
	if no == 1 {
		f.Fix, f.Mend = fmt.Sprintf("Start with the carriage on the %v", side), finding.Always(edit.StartOn(side))
		return f
	}
	if l.placed.Section.Free {
		f.Fix, f.Mend = "Leave out the free pass before it", finding.Always(edit.NoFreePass(no))
		return f
	}
	f.Fix = fmt.Sprintf("Send the carriage across empty first, a free pass, which costs no row; or knit one more row "+
		"before it: %d",
		l.Plan.Section(no-1).Rows+1)
	f.Mend = finding.Always(edit.FreePass(no))
	return f
}
