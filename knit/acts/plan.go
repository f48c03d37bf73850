package acts

import (
	"cmp"
	"context"
	"slices"

	"vindel/knit/bed"
	"vindel/knit/loom"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/recipe"
	"vindel/knit/step"
)

// weaver turns what a recipe comes to into passes and hand steps of the machine. It keeps what
// the machine has, as the passes so far have left it: needles forward and in hold, cams, yarns.
type weaver struct {
	l    *loom.Loom
	pl   *pass.Plan
	p    *piece.Piece
	m    *machine.Profile
	s    *bed.Placed
	run  *recipe.Run
	no   int  // of the recipe in the plan, from 1
	bare bool // it starts so

	steps   []pass.Step // for the next pass
	moves   []int       // the acts that are passes
	at      int         // the index among them of the one that comes next
	rows    int         // with yarn, so far
	sent    int
	courses int
	first   int // the index of its first pass in the plan

	forward [2]machine.Set
	tucked  machine.Set // needles that wait in hold for a tuck, and that no line has put there
	feeders recipe.Pair
	used    recipe.Pair // at the use before
	hangs   [64]machine.Side
	side    machine.Side
	rack    int
	pitch   machine.Pitch
	sizes   [2]string
	every   int  // rows between weights; 0: none
	hung    int  // passes since they were moved
	usual   bool // they hang, and the recipe does not say when they are moved: as elsewhere
	ways    []tuckWay
	card    cards
	notes   map[int][]string
	cast    string // how stitches are cast on by hand
	two     bool   // the second bed has a part in it
	zigzag  bool   // both beds are chained off together
}

// Plan plans a recipe of a placed section: the passes go to the plan as far as they can be made.
// fed is the yarn that the section names, 0 for none.
func Plan(ctx context.Context, l *loom.Loom, s *bed.Placed, rec *recipe.Recipe, g recipe.Ground,
	fed piece.YarnNo) {
	pl, p := l.Plan, l.Piece
	w := &weaver{l: l, pl: pl, p: p, m: &p.Machine, s: s, no: len(pl.Recipes) + 1, bare: rec.Bare, courses: l.Course(),
		first: len(pl.Passes), rack: p.Second.Rack, pitch: p.Second.Pitch, notes: s.Section.Notes, cast: "by-hand"}
	if p.Begin != nil && s.No == 0 && len(pl.Recipes) == 0 {
		w.cast = p.Begin.Way
	}
	if e := p.EndOf(s.Part); s.Section.ID == pass.EndID && e != nil && e.Way == "chain" {
		main, second := l.Holding()
		w.zigzag = !main.Empty() && !second.Empty()
	}
	start := l.Standing(fed)
	start.Rack, start.Pitch = w.rack, w.pitch
	if s.Section.OwnSize {
		start.Sizes = [2]string{s.Section.Size, s.Section.Size}
	}
	first := len(pl.Passes) == 0 && len(pl.Recipes) == 0
	var cast piece.YarnNo
	switch {
	case rec.Bare:
	case first:
		start.Work[machine.Main] = p.Work()
		if cast = start.Feeders[0]; cast == 0 {
			if cast = rec.FirstYarn(p); cast == 0 {
				cast = 1
			}
		}
		start.Found = l.Loaded(p.Work(), machine.Set{}, cast)
	default:
		main, second := l.Holding()
		start.Work = [2]machine.Set{main, second}
		start.Found = l.Loaded(main, second, 1)
		if n := len(pl.Recipes); l.AfterRecipe() {
			pl.Recipes[n-1].Run.Leaves(&start) // as the recipe before has left everything
			w.rack, w.pitch = start.Rack, start.Pitch
		}
	}
	w.forward = l.Forward()
	w.side, w.hangs, w.sizes, w.feeders, w.used = start.Side, start.Hangs, l.Standing(0).Sizes, l.Feeding(), l.Feeding()
	run := rec.Go(ctx, g, s.No, start)
	w.run = run
	for i := range run.Acts {
		if run.Acts[i].Pass != nil {
			w.moves = append(w.moves, i)
		}
	}
	piles := 0
	for i := range run.Acts {
		if run.Acts[i].Pile {
			piles++
		}
	}
	pl.Passes = slices.Grow(pl.Passes, len(w.moves)+2*piles+16)
	w.usual = !rec.Bare && !w.saysWhen()
	w.two = w.m.HasSecond() && w.usesSecond()
	w.chooseTucks()
	pl.Recipes = append(pl.Recipes, pass.Recipe{Section: s.No, Start: start, Run: run, First: len(pl.Passes)})
	w.begin(first, cast, start)
	done := len(run.Acts)
	for i := range run.Acts {
		if !w.act(&run.Acts[i]) {
			done = i
			break
		}
	}
	own := &pl.Recipes[w.no-1]
	own.Acts = done
	if done == len(run.Acts) {
		pl.Findings = append(pl.Findings, run.Found...)
	} else {
		for i, f := range run.Found { // what it notices later does not come
			if i < len(run.FoundAt) && run.FoundAt[i] <= done {
				pl.Findings = append(pl.Findings, f)
			}
		}
	}
	w.l.LaterOf(w.steps)
	if err := run.Err; err != nil && ctx.Err() == nil {
		pl.Refuse(s.No, err)
	}
	if run.Stopped || run.Err != nil || done < len(run.Acts) {
		pl.Stop(s.No, max(1, w.rows+1))
	}
	w.finish()
}

// begin is what stands before the first act.
func (w *weaver) begin(first bool, cast piece.YarnNo, start recipe.Start) {
	w.steps = w.l.Begun()
	if first && !w.bare {
		w.steps = append(w.steps, pass.Step{Step: step.CastOn{At: step.Main(w.p.Work()), Yarn: cast}})
	}
	if c := w.s.Section.Options.Counter; c != "run" && c != "" && w.l.Counter() != 0 {
		w.l.Reads(0)
		w.steps = append(w.steps, pass.Step{Step: step.Counter{}})
	}
	for bed, size := range start.Sizes {
		if machine.BedNo(bed) == machine.Main || w.two {
			w.size(machine.BedNo(bed), size)
		}
	}
	if w.two {
		for _, st := range w.l.Beds(w.pitch, w.rack) {
			w.step(nil, st)
		}
	}
	w.note(0)
}

func (w *weaver) usesSecond() bool {
	for i := range w.run.Acts {
		if a := &w.run.Acts[i]; a.Bed == machine.Second || a.Pass != nil && (a.Pass.Beds[machine.Second].Named ||
			!a.Pass.Beds[machine.Second].In().Empty()) {
			return true
		}
	}
	return false
}

// note says the user's own words before a row, or, for 0, before the section.
func (w *weaver) note(row int) {
	for _, text := range w.notes[row] {
		w.step(nil, step.Note{Text: text})
	}
}

// step adds a hand step of an act.
func (w *weaver) step(a *recipe.Act, does step.Step) {
	st := pass.Step{Step: does, Recipe: w.no}
	if a != nil {
		st.Source = a.Step.Line
	}
	w.steps = append(w.steps, st)
}

// toWork puts needles to rest in work, if there are any.
func (w *weaver) toWork(a *recipe.Act, bed machine.BedNo, on machine.Set) {
	if !on.Empty() {
		w.step(a, step.ToWork{At: step.On(bed, on)})
	}
}

// needles adds what an act does to its needles, if there are any.
func (w *weaver) needles(a *recipe.Act) {
	if a.Set.Empty() {
		return
	}
	at, chosen := step.On(a.Bed, a.Set), w.chooses(a)
	switch a.Do {
	case recipe.Work:
		w.step(a, step.ToWork{At: at, Chosen: chosen})
	case recipe.Hold:
		w.step(a, step.ToHold{At: at, Chosen: chosen})
	case recipe.Out:
		w.step(a, step.ToOut{At: at, Chosen: chosen})
	case recipe.Drop:
		w.step(a, step.Drop{At: at, Chosen: chosen})
	case recipe.BindOff:
		w.step(a, step.BindOffThese{At: at, Zigzag: w.zigzag})
	case recipe.TakeOff:
		w.step(a, step.TakeOff{At: at})
	}
	w.rest(a.Bed, a.Set)
}

// chooses is the needles of an act as its line says them, "" where that is labels alone.
func (w *weaver) chooses(a *recipe.Act) string {
	if w.s.No == 0 || a.Step.Set == nil || a.Step.Set.Labels != "" {
		return ""
	}
	return a.Step.Set.String()
}

// rest takes needles that fingers have touched out of those that stand forward.
func (w *weaver) rest(bed machine.BedNo, on machine.Set) { w.forward[bed] = w.forward[bed].Minus(on) }

// act plans one act; false where the machine cannot do it, and the plan stops.
func (w *weaver) act(a *recipe.Act) bool {
	if a.Do != recipe.Pass && a.Do != recipe.Check && !a.Pile && !(a.Set.Empty() && a.With.Empty()) &&
		!w.tucked.Empty() {
		w.toWork(nil, machine.Main, w.tucked) // fingers find the bed as the recipe has it
		w.tucked = machine.Set{}
	}
	switch a.Do {
	case recipe.Pass:
		return w.pass(a)
	case recipe.Work, recipe.Hold, recipe.Out, recipe.BindOff, recipe.TakeOff:
		w.needles(a)
	case recipe.Move:
		w.transfer(a)
	case recipe.Cross:
		if !a.Set.Empty() {
			w.step(a, step.Cross{At: step.Main(a.Set), With: a.With})
		}
		w.rest(machine.Main, a.Set.Or(a.With))
	case recipe.KnitByHand:
		if on := a.Set.Or(a.With); !on.Empty() {
			w.courses++
			w.step(a, step.KnitByHand{At: step.Main(a.Set), Long: a.With, Yarn: a.Yarns[0], From: a.Side,
				Course: w.courses})
			w.hangs[a.Yarns[0]] = a.Side.Other()
			w.rest(machine.Main, on)
		}
	case recipe.Wrap:
		if !a.Set.Empty() {
			w.thread(a, a.Yarns)
			w.step(a, step.Wrap{At: step.On(a.Bed, a.Set), Yarn: a.Yarns[0], Chosen: w.chooses(a)})
		}
	case recipe.Drop:
		if a.Pile {
			w.pile(a)
		} else {
			w.needles(a)
		}
	case recipe.CastOn:
		w.thread(a, a.Yarns)
		if !a.Set.Empty() {
			w.step(a, step.CastOn{At: step.On(a.Bed, a.Set), Yarn: a.Yarns[0], Way: w.cast, Chosen: w.chooses(a)})
		}
		w.rest(a.Bed, a.Set)
	case recipe.Size:
		for bed := range w.sizes {
			if !a.Step.Named && (bed == 0 || w.two) || a.Step.Named && machine.BedNo(bed) == a.Bed {
				w.size(machine.BedNo(bed), a.Size)
			}
		}
	case recipe.Rack:
		w.rack, w.pitch = a.Rack, a.Pitch
		w.step(a, step.Rack{To: a.Rack, Pitch: a.Pitch, SaysPitch: true})
	case recipe.Choose:
		if !w.chosen(a) {
			return false
		}
	case recipe.Counter:
		w.l.Reads(a.N)
		w.step(a, step.Counter{To: a.N})
	case recipe.Weights:
		w.weights(a)
	case recipe.Lower:
		w.step(a, step.Lower{Of: a.Bed})
	case recipe.Raise:
		w.step(a, step.Raise{Of: a.Bed})
	case recipe.Attach:
		w.step(a, step.AttachPart{Part: a.Step.Text})
	case recipe.Remove:
		w.step(a, step.RemovePart{Part: a.Step.Text})
	case recipe.Note:
		w.step(a, step.Note{Text: a.Step.Text})
	case recipe.Look:
		w.step(a, step.Look{For: a.Step.Text})
	}
	return true
}

func (w *weaver) size(bed machine.BedNo, size string) {
	if size == "" || w.sizes[bed] == size {
		return
	}
	w.sizes[bed] = size
	w.step(nil, step.Size{Of: bed, Size: size})
}

// saysWhen says that the recipe moves the weights up itself.
func (w *weaver) saysWhen() bool {
	return slices.ContainsFunc(w.run.Acts, func(a recipe.Act) bool {
		return a.Do == recipe.Weights && a.Step.Way == "up"
	})
}

func (w *weaver) weights(a *recipe.Act) {
	switch a.Step.Way {
	case "on":
		w.usual = !w.saysWhen()
		w.step(a, step.WeightsOn{})
	case "off":
		w.every, w.usual = 0, false
		w.step(a, step.Care{Text: step.CareWeights})
		w.step(a, step.WeightsOff{})
	case "up":
		w.every, w.hung = a.N, 0
		if a.N == 0 {
			w.step(a, step.WeightsUp{})
		}
	}
}

// prongs is how many needles the widest transfer tool takes (rules 5.5, by hand).
const prongs = 3

// transfer moves stitches: at once, or, where a tool is too narrow, from the leading side on, so
// that it comes to the same.
func (w *weaver) transfer(a *recipe.Act) {
	if a.Set.Empty() {
		return
	}
	touched := a.Set
	w.rest(a.Bed, touched)
	widest := 0
	for from, to := range a.Set.Runs() {
		widest = max(widest, int(to-from)+1)
	}
	if a.Step.Way == "across" {
		w.step(a, step.Across{At: step.On(a.Bed, a.Set), Onto: across(w.lie(), a.Bed, a.Set), Tool: min(widest, prongs)})
		w.rest(1-a.Bed, across(w.lie(), a.Bed, a.Set))
		return
	}
	move := func(on machine.Set, tool int) {
		st := step.Move{At: step.On(a.Bed, on), Way: a.Side, By: a.N, Tool: tool}
		if on == a.Set {
			st.Chosen = w.chooses(a)
		}
		w.step(a, st)
	}
	if a.Side == machine.Left {
		w.rest(a.Bed, a.Set.Left(a.N))
	} else {
		w.rest(a.Bed, a.Set.Right(a.N))
	}
	if widest <= prongs {
		move(a.Set, widest)
		return
	}
	var chunks []machine.Set
	for from, to := range a.Set.Runs() {
		for ; from <= to; from += prongs {
			chunks = append(chunks, machine.Range(from, min(to, from+prongs-1)))
		}
	}
	for i := range chunks {
		on := chunks[i]
		if a.Side == machine.Right {
			on = chunks[len(chunks)-1-i]
		}
		move(on, on.Len())
	}
}

func (w *weaver) lie() machine.Across {
	return machine.Across{Shift: w.rack - w.m.RackCentre, Pitch: w.pitch}
}

// across is the needles of the other bed that face needles of a bed.
func across(lie machine.Across, bed machine.BedNo, on machine.Set) machine.Set {
	if bed == machine.Main {
		lie.Shift = -lie.Shift
	}
	return lie.OnMain(on)
}

// thread brings the feeders to hold what a use wants. A yarn that hangs on the other side begins
// anew; where there is one feeder that is a cut.
func (w *weaver) thread(a *recipe.Act, want recipe.Pair) {
	one := w.m.Feeders == 1
	for f, old := range w.feeders {
		if old != 0 && old != want[f] {
			w.unthread(a, f, old)
		}
	}
	for f, y := range want {
		if y == 0 {
			continue
		}
		if w.used[f] != y {
			w.pl.Totals.Threadings++
		}
		if w.hangs[y] != 0 && w.hangs[y] != w.side { // it begins with a new end
			w.step(a, step.Cut{Yarn: y, Hangs: w.hangs[y]})
			if one {
				w.pl.Totals.Cuts++
			}
		}
		w.hangs[y] = w.side
		if w.feeders[f] != y {
			w.step(a, step.Thread{Feeder: f + 1, Yarn: y})
		}
	}
	w.feeders, w.used = want, want
}

func (w *weaver) unthread(a *recipe.Act, f int, y piece.YarnNo) {
	w.step(a, step.Unthread{Feeder: f + 1, Yarn: y, Left: cmp.Or(w.hangs[y], w.side)})
	w.feeders[f] = 0
}

// pile is the second bed's carriage alone, over and back without yarn: it lets its loops go on the way there, and on
// the way back, with nothing left to let go, it stays as it is set.
func (w *weaver) pile(a *recipe.Act) {
	s := machine.SettingFor(machine.Second, machine.Knit, machine.Knit, false)
	dir := w.side.Other()
	for range 2 {
		p := w.l.Begin()
		p.Carriage, p.Dir = machine.SecondCarriage, dir
		w.mark(p, a)
		for bed := range p.Beds {
			p.Beds[bed].AtWork, p.Beds[bed].Hold = a.Stand.In[bed], a.Stand.Hold[bed]
			p.Beds[bed].Size = w.sizes[bed]
		}
		p.Beds[machine.Main].Setting = machine.SettingFor(machine.Main, machine.Slip, machine.Slip, false)
		v := w.l.Levers(machine.SecondCarriage)
		if now := v.Stands(dir); dir == w.side && now.Key != "" {
			s = now
		}
		p.Beds[machine.Second].Setting, p.Beds[machine.Second].Named = s, true
		p.Beds[machine.Main].Yarns = make([]piece.YarnNo, w.m.Feeders)
		p.Beds[machine.Second].Yarns = p.Beds[machine.Main].Yarns
		for _, st := range w.l.Set(p.Second(), dir, machine.Set{}) {
			w.step(nil, st)
		}
		w.send(p)
		dir = dir.Other()
	}
}

// send completes a pass that has been begun.
func (w *weaver) send(p *pass.Pass) {
	p.Before, w.steps = w.steps, nil
	w.sent++
	w.l.Send(p, w.sent)
}

// mark says where in the recipe a pass is, and how the beds stand for it.
func (w *weaver) mark(p *pass.Pass, a *recipe.Act) {
	p.Rack, p.Pitch, p.Recipe, p.Source, p.Round = w.rack, w.pitch, w.no, a.Step.Line, a.Rounds
}

// pass plans a pass of the recipe.
func (w *weaver) pass(a *recipe.Act) bool {
	m := a.Pass
	i := w.at
	w.at++
	p := w.l.Begin()
	p.Dir, p.Free = m.Dir, m.Free
	w.mark(p, a)
	if m.Free {
		for f, y := range w.feeders {
			if y != 0 {
				w.unthread(a, f, y)
			}
		}
	} else {
		w.thread(a, m.Feeders)
		if w.rows++; w.s.No > 0 {
			p.Works = w.l.Works(w.rows)
			w.note(w.rows)
		}
	}
	yarns := make([]piece.YarnNo, w.m.Feeders)
	if !m.Free {
		copy(yarns, m.Feeders[:])
	}
	for no := range m.Beds {
		b, half, h := machine.BedNo(no), &p.Beds[no], &m.Beds[no]
		half.AtWork, half.Hold, half.Size, half.Yarns, half.Named = h.In(), h.Hold, w.sizes[no], yarns, h.Named &&
			!m.Free
		if !half.Named {
			half.Setting = machine.SettingFor(b, machine.Slip, machine.Slip, false)
			if b == machine.Main && m.Free {
				half.Setting = machine.Free
			}
			continue
		}
		half.Select, half.Setting, half.Takes = w.settle(b, h, m, i)
	}
	main := p.Main()
	way := w.ways[i]
	if way.hold {
		w.hold(a, p, way)
	} else if way.back {
		main.Hold = main.Hold.Or(w.tucked)
		main.Setting = machine.Plain
		main.Takes.Held = 1
		w.tucked = machine.Set{}
	} else if !w.tucked.Empty() {
		w.toWork(nil, machine.Main, w.tucked)
		w.tucked = machine.Set{}
	}
	if way.say != "" {
		w.step(a, step.Note{Text: way.say})
	}
	if m.Course && w.s.No > 0 {
		w.courses++
		w.l.ToCourse(w.courses)
		p.Course = w.courses
		if w.usual && !m.Free && w.l.WeightsDue() {
			w.step(nil, step.WeightsUp{})
		}
	}
	if w.every > 0 && !m.Free {
		if w.hung == w.every {
			w.hung = 0
			w.step(a, step.WeightsUp{})
		}
		w.hung++
	}
	byCard := m.ByCard && p.Beds[machine.Main].Named
	if m.ByCard && !w.read(a, p) {
		w.rows--
		w.l.Cancel()
		return false
	}
	w.choose(a, p, byCard || m.ByCard)
	w.setBeds(p)
	w.send(p)
	w.moved(p, m)
	return true
}

// moved is how the pass leaves everything.
func (w *weaver) moved(p *pass.Pass, m *recipe.Moves) {
	w.side = p.Dir
	for no := range p.Beds {
		cams := p.Beds[no].Setting.Cams(p.Dir)
		if stays := cams.Selected == machine.Tuck && w.m.School == machine.ByHand && !w.m.ResetEach &&
			p.Beds[no].Named; !stays && p.Beds[no].Named {
			w.forward[no] = machine.Set{}
		}
	}
	if !p.Free {
		for _, y := range w.feeders {
			if y != 0 {
				w.hangs[y] = w.side
			}
		}
	}
}

// finish settles the program and tells the loom how everything stands.
func (w *weaver) finish() {
	if !w.tucked.Empty() {
		w.l.LaterOf([]pass.Step{{Step: step.ToWork{At: step.Main(w.tucked)}, Recipe: w.no}})
	}
	w.program()
	w.s.Rows = max(1, w.rows)
	w.l.ToCourse(w.courses)
	run := w.run
	main, second := run.Beds.Holds[machine.Main], run.Beds.Holds[machine.Second]
	w.l.Left(w.feeders, w.hangs, w.sizes, main, second, w.rack, w.pitch, w.forward)
	own := &w.pl.Recipes[w.no-1]
	w.total(own)
}

// total sums up what the recipe came to.
func (w *weaver) total(own *pass.Recipe) {
	if own.Section == 0 {
		return
	}
	t := w.run.Totals
	out := pass.RecipeTotals{Section: own.Section, Rounds: t.Rounds, Loops: map[string]map[string]int{},
		Hands: t.Hands, Free: t.Free, Most: t.Most}
	for y := 1; y < len(t.Loops); y++ {
		if len(t.Loops[y]) > 0 {
			out.Loops[w.p.YarnID(piece.YarnNo(y))] = t.Loops[y]
		}
	}
	out.LetGo.Pile, out.LetGo.Run = t.Pile, t.Run
	out.Card.Lines = len(w.card.program)
	w.pl.Totals.Recipe = append(w.pl.Totals.Recipe, out)
}
