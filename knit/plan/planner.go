package plan

import (
	"fmt"
	"slices"
	"strings"

	"vindel/knit/bed"
	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// weightsEvery is the default number of rows between two moves of the weights.
const weightsEvery = 12

// planner carries what changes from pass to pass.
type planner struct {
	p    *piece.Piece
	m    profile
	plan *Plan

	section   int   // from 0
	now       *Need // of the row being knitted
	counter   int
	run       int
	course    int
	carriage  machine.Side // where the knit carriage stands
	feeders   [2]piece.YarnNo
	yarns     yarnState // one feeder: where every yarn lies
	cams      [3]string // the setting for each way, a key of the profile's words
	size      string
	endSwitch bool
	weighed   int // rows of fabric when the weights were last moved

	showing  [machine.MaxBed]piece.YarnNo // the yarn that each needle shows, R1 in the middle
	standing machine.Set                  // hand-selected tuck: needles left in the tucking position
	on       machine.Carriage             // the carriage on the bed
	knitter  machine.Carriage             // the one that knitted last
	laceAt   machine.Side                 // where the lace carriage stands; it lives on the left
	transfer string                       // the lace carriage's setting, open or fine
	lined    int                          // rows of fabric when a lifeline was last due
	fields   []Field                      // intarsia: of the row below,
	inUse    []int                        // the bobbins of those fields,
	laid     map[piece.YarnNo]int         // and how many of each yarn there have been
	due      []Step                       // to stand before the next pass
}

// profile adds what the planner asks of a machine.
type profile struct{ *machine.Profile }

// passesPerLine is 2 where a reader gives every line to two passes.
func (m profile) passesPerLine() int {
	if m.School == machine.Pairs {
		return 2
	}
	return 1
}

// Make plans a whole piece. What stands in the way is in the plan's findings; the
// passes go as far as the plan could be made. Make never fails otherwise.
func Make(p *piece.Piece) *Plan {
	k := &planner{p: p, m: profile{&p.Machine}, plan: &Plan{Piece: p}, carriage: p.Start, laceAt: machine.Left}
	k.yarns.carriage = p.Start
	needs, rows := k.needs()
	var yarns [][2]piece.YarnNo
	if p.Machine.Feeders == 1 {
		first := firstYarns(p, k.plan.Placed, needs, rows)
		yarns, _ = Leads(needs, p.Start, first)
	} else {
		yarns, _ = Feeders(needs)
	}
	k.plan.Passes = make([]Pass, 0, 2*len(needs)+1)
	k.programLines(yarns, rows)
	left := needs
	for i, s := range k.plan.Placed {
		k.section = i
		t := find(s.Section.Technique)
		from := len(k.plan.Passes)
		for r := range rows[i] {
			if !k.rowStart(s, t, r+1, yarns[0]) {
				rows[i] = r
				k.stop(i, r+1)
				break
			}
			before := len(k.plan.Passes)
			k.now, left = &left[0], left[1:]
			t.row(k, s, r+1, yarns[0])
			k.shown(before)
			yarns = yarns[1:]
		}
		k.numberLines(from, k.plan.Lines[i])
		if t != nil && t.lines != nil {
			k.plan.Lines[i] = t.lines(k, from, s)
		}
		if k.plan.Stopped.Row > 0 && k.plan.Stopped.Section == i {
			break
		}
	}
	k.link()
	k.wind()
	k.count()
	if p.Machine.Feeders == 1 {
		k.offerFewerCuts(needs, rows, firstYarns(p, k.plan.Placed, needs, rows))
	}
	return k.plan
}

// needs places every section and lists the yarns of every row that can be planned;
// rows[i] is how many that is in section i.
func (k *planner) needs() (needs []Need, rows []int) {
	p := k.p
	rows = make([]int, len(p.Sections))
	for i := range p.Sections {
		s, found := bed.Place(p, i)
		k.plan.Placed = append(k.plan.Placed, s)
		k.plan.Findings = append(k.plan.Findings, found...)
		t := find(s.Section.Technique)
		if lack := k.lacks(t, s.Section); lack != nil {
			lack.Section, lack.Rows = i+1, [2]int{1, s.Rows}
			k.plan.Findings = append(k.plan.Findings, *lack)
			k.stop(i, 1)
			continue
		}
		if finding.Stops(found) {
			k.stop(i, 1)
			continue
		}
		cycle := make([]Need, 0, s.Cycle)
		stopped := 0
		for r := 1; r <= s.Cycle; r++ {
			need, f := t.need(p, s, r)
			if f != nil {
				k.plan.Findings = append(k.plan.Findings, *f)
				if stopped == 0 {
					stopped = r
					k.stop(i, r)
				}
			}
			cycle = append(cycle, need)
		}
		if k.plan.Stopped.Row > 0 && k.plan.Stopped.Section < i {
			continue // an earlier section stops the plan
		}
		rows[i] = s.Rows
		if stopped > 0 {
			rows[i] = stopped - 1
		}
		for r := range rows[i] {
			needs = append(needs, cycle[r%s.Cycle])
		}
	}
	return needs, rows
}

// stop notes the first row that cannot be planned.
func (k *planner) stop(section, row int) {
	at := &k.plan.Stopped
	if at.Row == 0 || section < at.Section {
		at.Section, at.Row = section, row
	}
}

func (k *planner) lacks(t *technique, s *piece.Section) *finding.Finding {
	f := &finding.Finding{Code: "technique-machine", Severity: finding.Stop, Needles: k.p.Work()}
	if t == nil {
		f.Text = fmt.Sprintf("Vindel does not plan %s yet.", s.Technique.Name)
		return f
	}
	lack := t.lack(k.m.Profile, s)
	if lack == "" {
		return nil
	}
	f.Text = fmt.Sprintf("%s cannot knit %s: it lacks %s.", k.m.Name, s.Technique.Name, lack)
	var able []string
	for _, id := range machine.IDs() {
		if m, err := machine.Shipped(id); err == nil && t.lack(&m, s) == "" {
			able = append(able, id)
		}
	}
	if len(able) > 0 {
		f.Fix = "Use " + strings.Join(able, ", ")
	}
	return f
}

// firstYarns gives the lead of the first two-colour row of the piece, if the piece
// names one, and of each section that names one of its own.
func firstYarns(p *piece.Piece, placed []*bed.Placed, needs []Need, rows []int) map[int]piece.YarnNo {
	first, at := map[int]piece.YarnNo{}, 0
	for i, s := range placed {
		y := s.Section.Options.FirstYarn
		if y != 0 && (y != p.Options.FirstYarn || len(first) == 0) {
			for j := at; j < at+rows[i]; j++ {
				if needs[j].Free {
					first[j] = y
					break
				}
			}
		}
		at += rows[i]
	}
	return first
}

// programLines finds how many program lines each section takes: the rows after which
// chart and feeders both begin again. Where yarns change feeders from one repeat to
// the next the holes are inverted, so the program is longer than the chart.
func (k *planner) programLines(yarns [][2]piece.YarnNo, rows []int) {
	k.plan.Lines = make([]int, len(rows))
	at := 0
	for i, s := range k.plan.Placed {
		n := rows[i]
		t := find(s.Section.Technique)
		if t != nil && t.patterned(k.m.Profile) && k.m.School != machine.ByHand && n > 0 {
			lines := s.Cycle
			for lines < n && !periodic(yarns[at:at+n], lines) {
				lines += s.Cycle
			}
			k.plan.Lines[i] = min(lines, s.Rows)
		}
		at += n
	}
}

func periodic(yarns [][2]piece.YarnNo, n int) bool {
	for i := n; i < len(yarns); i++ {
		if yarns[i] != yarns[i-n] {
			return false
		}
	}
	return true
}

// rowStart does what falls due before a section's row: the counter set back, and
// before the first row the selecting pass and the reader's side. It is false where
// the row cannot be begun.
func (k *planner) rowStart(s *bed.Placed, t *technique, r int, yarns [2]piece.YarnNo) bool {
	purl := k.knitterOf(s) == machine.PurlCarriage
	selects := k.m.School == machine.Preselect && t.patterned(k.m.Profile) && k.noSelector(purl)
	if r == 1 && (k.knitter == machine.PurlCarriage) != purl {
		side := machine.Right
		if purl && selects { // the selecting pass brings the yarn across
			side = machine.Left
		}
		if k.carriage != side {
			k.plan.Findings = append(k.plan.Findings, k.purlOnTheRight(side))
			return false
		}
	}
	if t.may != nil {
		if f := t.may(k, s, r); f != nil {
			k.plan.Findings = append(k.plan.Findings, *f)
			return false
		}
	}
	if r == 1 && t.patterned(k.m.Profile) {
		switch {
		case selects:
			k.selectingPass(s, yarns)
		case k.m.School == machine.Pairs && k.carriage == machine.Left:
			f := finding.Finding{Code: "carriage-side", Severity: finding.Stop, Section: k.section + 1, Rows: [2]int{1, 1},
				Text: "The reader sets the needles on a pass to the left, but here the carriage stands on the left."}
			if k.section > 0 {
				prev := k.plan.Placed[k.section-1]
				f.Fix = fmt.Sprintf("Knit one more row before it: %d", prev.Rows+1)
				f.Mend = finding.Always(edit.SectionRows(k.section-1, prev.Rows+1))
			} else {
				f.Fix = "Start with the carriage on the right"
				f.Mend = finding.Always(edit.StartOn(machine.Right))
			}
			k.plan.Findings = append(k.plan.Findings, f)
			return false
		case k.m.School == machine.Pairs:
			k.plan.Findings = append(k.plan.Findings, finding.Finding{Code: "row-doubled", Severity: finding.Note, Section: k.section + 1, Rows: [2]int{1, s.Rows},
				Needles: k.p.Work(), Text: "The reader gives every line two passes: each chart row is knitted twice, and stands twice as tall."})
		}
	}
	back := r == 1
	switch s.Section.Options.Counter {
	case "section":
	case "repeat":
		back = len(s.Section.Areas) > 0 && (r-1)%s.Height == 0
	default:
		back = false
	}
	if back && k.counter != 0 {
		k.counter = 0
		k.due = append(k.due, Step{Do: SetCounter, Value: 0})
	}
	return true
}

// noSelector says that no knit-carriage row stands before the next pass that could
// select for it: at the start, after hand work, and after another carriage.
func (k *planner) noSelector(purl bool) bool {
	n := len(k.plan.Passes)
	if n == 0 {
		return true
	}
	last := &k.plan.Passes[n-1]
	return last.Cams == layCams || last.Carriage != machine.KnitCarriage && !purl
}

// selectingPass is the pass before a pattern's first row where no knitting pass does
// its work (rules: Selection): a plain row in the yarn of row 1's feeder 1, or a free pass.
func (k *planner) selectingPass(s *bed.Placed, yarns [2]piece.YarnNo) {
	if s.Section.Options.Selecting == "free" {
		k.pass(Pass{Cams: machine.FreeCams, Free: true}, "free")
		return
	}
	k.course++
	k.pass(Pass{Feeders: [2]piece.YarnNo{yarns[0]}, Cams: machine.PlainCams}, "plain")
}

// pass appends one pass of the knit carriage from where it stands, with the steps
// that bring cams, size and yarns to what it needs. word names its cam setting.
func (k *planner) pass(p Pass, word string) {
	sec := k.p.Sections[k.section]
	p.N, p.Section, p.Dir, p.Size = len(k.plan.Passes)+1, k.section+1, k.stands(p.Carriage).Other(), sec.Size
	fingers := p.Before
	p.Before = k.due
	k.due = nil
	if p.N == 1 {
		p.Before = append(p.Before, Step{Do: Care, Text: careHooks})
	}
	castOn := Step{Do: CastOn, Needles: k.p.Work(), Yarn: p.Feeders[0]}
	if castOn.Yarn == 0 {
		castOn.Yarn = sec.RowYarn(1)
	}
	if p.N == 1 && p.Carriage == machine.LaceCarriage { // it comes on once the stitches are there
		p.Before = append(p.Before, castOn)
	}
	k.changeCarriage(&p)
	if p.Carriage != machine.LaceCarriage {
		k.setCams(&p, word)
	}
	every := k.p.Limits.Weights
	if every == 0 {
		every = weightsEvery
	}
	if rows := k.course - 1; !p.Free && rows > 0 && rows%every == 0 && k.weighed != rows {
		k.weighed = rows
		p.Before = append(p.Before, Step{Do: Weights})
	}
	if p.Free && p.Cams == layCams {
		k.changeYarns(&p)
	} else if p.Free && p.Carriage != machine.LaceCarriage {
		k.yarns.carriage = p.Dir
	}
	if !p.Free {
		k.changeYarns(&p)
		k.counter++
		k.run++
		p.Course = k.course
	}
	if p.N == 1 && p.Carriage != machine.LaceCarriage {
		p.Before = append(p.Before, castOn)
	}
	p.Before = append(p.Before, fingers...)
	if k.m.School == machine.ByHand {
		p.ByHand = p.Select
		if p.Cams == backCams {
			p.ByHand = machine.Set{} // they stand forward since the way out
		}
		if p.ByHand = p.ByHand.Minus(k.standing); !k.standing.Minus(p.Select).Empty() {
			p.PushedBack = k.standing.Minus(p.Select)
		}
		k.standing = machine.Set{}
		if p.Cams.Selected == machine.Tuck && !k.m.ResetEach {
			k.standing = p.Select
		}
	}
	if !p.PushedBack.Empty() {
		p.Before = append(p.Before, Step{Do: ToWork, Needles: p.PushedBack})
	}
	if !p.ByHand.Empty() {
		p.Before = append(p.Before, Step{Do: BringForward, Needles: p.ByHand})
	}
	p.Counter, p.Run = k.counter, k.run
	if p.Carriage == machine.LaceCarriage {
		k.laceAt = p.Dir
	} else {
		k.carriage, k.knitter = p.Dir, p.Carriage
	}
	k.plan.Passes = append(k.plan.Passes, p)
}

// stands is the side on which a carriage stands, or from which it will come on: knit and
// purl carriage hand the yarn over, so they change places where it is.
func (k *planner) stands(c machine.Carriage) machine.Side {
	if c == machine.LaceCarriage {
		return k.laceAt
	}
	return k.carriage
}

// shown notes what the needles show after the passes from index `from` on; only
// slipped work asks.
func (k *planner) shown(from int) {
	if !slices.ContainsFunc(k.p.Sections, func(s piece.Section) bool { return s.Technique.Mark == chart.Slip }) {
		return
	}
	for i := from; i < len(k.plan.Passes); i++ {
		p := &k.plan.Passes[i]
		work := k.p.Work()
		rest := work.Minus(p.Select).Minus(p.Hold)
		switch {
		case p.Free:
		case p.Cams == layCams:
			for _, l := range p.Lays {
				k.show(machine.Range(l.From, l.To), l.Yarn)
			}
		case p.TwoYarns:
			k.show(rest, p.Feeders[0])
			k.show(p.Select, p.Feeders[1])
		default:
			for _, g := range []struct {
				needles machine.Set
				action  machine.Action
			}{{p.Select, p.Cams.Selected}, {rest, p.Cams.Unselected}, {p.Hold, p.Cams.Held}} {
				if g.action == machine.Knit || g.action == machine.Weave {
					k.show(g.needles, p.Feeders[0])
				}
			}
		}
	}
}

// changeCarriage parks one carriage off the bed before another comes on; they drive
// the same belt.
func (k *planner) changeCarriage(p *Pass) {
	if p.Carriage == k.on {
		return
	}
	p.Before = append(p.Before, Step{Do: Remove, Carriage: k.on, Side: k.stands(k.on)}, Step{Do: Attach, Carriage: p.Carriage, Side: k.stands(p.Carriage), Other: k.knitter})
	k.on = p.Carriage
}

// setCams asks for the carriage's setting where it differs from the one at hand. One
// setting serves both directions, except where rows are worked out and back: there
// each direction has its own, and both are set before the way out.
func (k *planner) setCams(p *Pass, word string) {
	if word == "plain" && p.Cams == outwardCams {
		word = "outward"
	}
	for _, want := range []struct {
		word string
		way  machine.Side
	}{{word, p.Dir}, {"back", p.Dir.Other()}} {
		oneWay := k.m.Feeders == 1 && k.p.Sections[k.section].Technique.TwoPasses
		if k.cams[want.way] == want.word || want.word == "back" && word != "outward" && want.way != p.Dir {
			continue
		}
		st := Step{Do: SetCams, Cams: want.word}
		k.cams[want.way] = want.word
		if oneWay {
			st.Way = want.way
		} else {
			k.cams[want.way.Other()] = want.word
		}
		p.Before = append(p.Before, st)
	}
	if p.Size != k.size {
		p.Before = append(p.Before, Step{Do: SetCams, Size: p.Size})
		k.size = p.Size
	}
}

// changeYarns threads what the pass needs and takes out what it does not.
func (k *planner) changeYarns(p *Pass) {
	if k.m.Feeders == 1 {
		y, old := p.Feeders[0], k.yarns.feeder
		if y == 0 { // yarns laid by hand, or none: what is in the feeder comes out
			if old != 0 {
				p.Before = append(p.Before, Step{Do: Park, Yarn: old, Side: k.carriage})
				k.yarns.feeder = 0
			}
			k.yarns.carriage = k.carriage.Other()
			return
		}
		threaded, cut := k.yarns.take(y)
		if threaded {
			if old != 0 {
				p.Before = append(p.Before, Step{Do: Park, Yarn: old, Side: k.carriage})
			}
			if cut {
				p.Before = append(p.Before, Step{Do: Cut, Yarn: y, Side: k.carriage.Other()})
				k.plan.Totals.Cuts++
				k.farSide(p)
			}
			p.Before = append(p.Before, Step{Do: Thread, Feeder: 1, Yarn: y})
			k.plan.Totals.Threadings++
		}
		k.yarns.pass()
		return
	}
	for f := range p.Feeders {
		if old := k.feeders[f]; old != 0 && old != p.Feeders[f] {
			p.Before = append(p.Before, Step{Do: Unthread, Feeder: f + 1, Yarn: old})
		}
	}
	for f, y := range p.Feeders {
		if y != 0 && y != k.feeders[f] {
			p.Before = append(p.Before, Step{Do: Thread, Feeder: f + 1, Yarn: y})
		}
	}
	k.plan.Totals.Threadings += Threadings(k.feeders, p.Feeders)
	k.feeders = p.Feeders
}
