package recipe

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Ground is what a recipe is written for: the piece, and where among its sections.
type Ground struct {
	Piece *piece.Piece
	Later bool           // a section stands before it, or the piece has a `begin`
	With  map[string]int // parameters set from outside, in tenths
	// At is the places of both beds where the piece is shaped: its edges as they stand there. None: the cast-on's.
	At [2]machine.Set
}

func (g *Ground) places() [2]machine.Set {
	if g.At[machine.Main].Empty() {
		return Bases(g.Piece)
	}
	return g.At
}

// Bases is the places of both beds: all needles from the first to the last, in work or not.
func Bases(p *piece.Piece) (bases [2]machine.Set) {
	bases[machine.Main] = machine.Range(p.From, p.To)
	if p.Machine.HasSecond() {
		bases[machine.Second] = p.Second.Places
	}
	return bases
}

// kinds of names
const (
	noName = iota
	numberName
	needleName
)

// sense looks for faults that show before the recipe is run.
type sense struct {
	Ground
	bases  [2]machine.Set
	names  map[string]int
	spoilt map[string]bool
	given  map[string]bool // params
	params map[string]int  // their values
	deep   int             // repeats around the line
	inPass bool
	from   int // sets around that choose from others
	bed    machine.BedNo
	errs   Errors
}

// Read reads a recipe's text for a piece: what Parse tells, and names, yarns, charts and places
// besides. The faults stand in the order of the text.
func Read(text string, g Ground) (*Recipe, Errors) {
	p, errs := parse(text)
	r := p.recipe
	s := &sense{Ground: g, bases: g.places(), names: map[string]int{}, spoilt: p.spoilt, given: map[string]bool{},
		params: map[string]int{}}
	s.steps(r.Lines)
	return r, append(errs, s.errs...).sorted()
}

func (s *sense) fail(at Pos, length int, format string, a ...any) {
	s.errs = append(s.errs, &Error{at, fmt.Sprintf(format, a...), length})
}

func (s *sense) steps(list []*Step) {
	for _, st := range list {
		s.step(st)
	}
}

// least a number may be where it stands, in tenths; part says that it need not be whole.
type least struct {
	n    int
	part bool
}

var (
	fromOne  = least{n: 10}
	fromZero = least{n: 0}
	sized    = least{n: 0, part: true}
	any_     = least{n: -1 << 30, part: true}
)

// wrong says what is wrong with a value, "" where nothing is.
func (l least) wrong(v int) string {
	switch {
	case !l.part && v%10 != 0:
		return fmt.Sprintf("%s: a whole number is wanted", Figures(v))
	case v < l.n:
		return fmt.Sprintf("%s: at least %s", Figures(v), Figures(l.n))
	}
	return ""
}

// broken looks at the words of a line before the one that cannot stand there: names and yarns among
// them may be at fault, and come first.
func (s *sense) broken(st *Step) {
	for i, t := range st.before {
		at := Pos{st.Line, t.col}
		switch {
		case t.sort == word && s.Piece.Charts[t.text] != nil && (i == 0 || st.before[i-1].text == "marks"):
		case t.sort == word && !vocabulary[t.text] && s.names[t.text] == noName && !s.spoilt[t.text]:
			s.fail(at, t.len, "%q: no needles have this name, and no number", t.text)
		case t.sort == letter && yarnNo(s.Piece, t.text[0]) == 0:
			s.fail(at, t.len, "%q: the piece has no yarn of this letter", t.text)
		}
	}
}

func (s *sense) step(st *Step) {
	if st.broken {
		s.broken(st)
		if st.Do != Repeat {
			return
		}
		s.deep++
		s.steps(st.Body)
		s.deep--
		return
	}
	switch st.Do {
	case Param:
		s.param(st)
	case Fits:
		s.number(st.Num, fromOne)
		s.number(st.From, fromZero)
	case Starts:
		if s.Later {
			s.fail(st.Pos, len("starts"),
				`"starts": only the first section of a piece starts bare, and where it has no begin`)
		}
	case Repeat:
		s.number(st.Num, fromZero)
		s.deep++
		s.steps(st.Body)
		s.deep--
	case Name:
		s.target(st)
		s.name(st, needleName)
	case Pass:
		s.pass(st)
	case Move:
		s.target(st)
		s.number(st.Num, fromOne)
	case Cross:
		s.bed = machine.Main
		s.set(st.Set)
		s.set(st.With)
	case KnitByHand:
		s.yarns(st.Yarns)
		s.bed = machine.Main
		for _, l := range st.Sets {
			s.set(l.Set)
		}
	case Yarn:
		s.yarns(st.Yarns)
	case Size:
		s.number(st.Num, sized)
	case Rack:
		s.number(st.Num, fromZero)
		if v, ok := constant(st.Num); ok && s.Piece.Machine.HasSecond() && v%10 == 0 {
			if r := s.Piece.Machine.Racks; v/10 < r[0] || v/10 > r[1] {
				s.fail(st.Num.Pos, st.Num.width, "%d: the handle goes from %d to %d", v/10, r[0], r[1])
			}
		}
	case Follow:
		c := s.chart(st.Chart)
		if !s.bases[machine.Main].Has(st.At) {
			s.outside(st.AtPos, st.At.String())
		}
		s.number(st.From, fromOne)
		s.number(st.To, fromOne)
		if v, ok := constant(st.From); ok && c != nil && st.From != nil && v/10 > c.H {
			s.fail(st.From.Pos, st.From.width, "%d: the chart has %d rows", v/10, c.H)
		}
	case Counter:
		s.number(st.Num, fromZero)
	case Weights:
		s.number(st.Num, fromOne)
	default:
		if st.Set != nil {
			s.target(st)
		}
	}
}

func (s *sense) param(st *Step) {
	if s.given[st.Name] {
		s.fail(st.NamePos, len(st.Name), "%q: an earlier param has this name", st.Name)
		return
	}
	before := len(s.errs)
	s.number(st.Num, any_)
	s.number(st.From, any_)
	s.number(st.To, any_)
	s.given[st.Name] = true
	s.name(st, numberName)
	if len(s.errs) > before {
		s.spoilt[st.Name] = true
		return
	}
	value := func(n *Number) int {
		v, err := s.value(n)
		if err != nil {
			s.errs = append(s.errs, err)
		}
		return v
	}
	v := value(st.Num)
	if st.From != nil {
		from, to := value(st.From), value(st.To)
		if len(s.errs) > before {
			return
		}
		if from > to {
			s.fail(st.From.Pos, st.From.width, "%s: the range ends at %s", Figures(from), Figures(to))
		} else if v < from || v > to {
			s.fail(st.Num.Pos, st.Num.width, "%s: %s is from %s to %s", Figures(v), st.Name, Figures(from), Figures(to))
		}
	}
	if with, ok := s.With[st.Name]; ok {
		v = with
	}
	s.params[st.Name] = v
}

// value is a number of the head, where only figures, the width and params stand.
func (s *sense) value(n *Number) (int, *Error) {
	return n.value(func(n *Number) (int, *Error) {
		if n.Op == opWidth {
			return 10 * s.bases[machine.Main].Len(), nil
		}
		return s.params[n.Name], nil
	})
}

// name gives a name to its kind.
func (s *sense) name(st *Step, kind int) {
	if was := s.names[st.Name]; was != noName && was != kind {
		s.fail(st.NamePos, len(st.Name), "%q: an earlier line gives this name to %s", st.Name,
			[]string{"", "a number", "needles"}[was])
		return
	}
	s.names[st.Name] = kind
}

func (s *sense) outside(at Pos, what string) {
	s.fail(at, len(what), "%q: the places of the %v bed are %v", what, s.bed, s.bases[s.bed])
}

func (s *sense) target(st *Step) {
	s.bed = st.Bed
	s.set(st.Set)
}

func (s *sense) pass(st *Step) {
	if st.Num != nil {
		s.number(st.Num, fromOne)
	}
	s.inPass = true
	var named [2]bool
	for i := range st.Parts {
		c := &st.Parts[i]
		if named[c.Bed] {
			word := "main"
			if c.Named {
				word = c.Bed.String()
			}
			s.fail(c.Pos, len(word), "the %v bed is named already in this pass", c.Bed)
		}
		named[c.Bed] = true
		s.bed = c.Bed
		for _, d := range c.Deeds {
			if d.Set != nil {
				s.set(d.Set)
			}
			s.yarns(d.Yarns)
		}
	}
	s.inPass = false
}

// yarns are of one feeder each, or in one loop.
func (s *sense) yarns(list []*YarnRef) {
	for _, y := range list {
		s.yarn(y)
	}
	if len(list) == 2 && list[0].List == nil && list[1].List == nil && list[0].ID == list[1].ID {
		s.fail(list[1].Pos, 1, "%q: the same yarn twice", string(list[1].ID))
	}
}

func (s *sense) yarn(y *YarnRef) {
	if y.List != nil {
		s.turns(y.Pos)
		for _, one := range y.List {
			s.yarn(one)
		}
		return
	}
	if yarnNo(s.Piece, y.ID) == 0 {
		s.fail(y.Pos, 1, "%q: the piece has no yarn of this letter", string(y.ID))
	}
}

func yarnNo(p *piece.Piece, id byte) piece.YarnNo {
	return piece.YarnNo(1 + slices.IndexFunc(p.Yarns, func(y piece.Yarn) bool { return y.ID == id }))
}

func (s *sense) turns(at Pos) {
	if s.deep == 0 {
		s.fail(at, 1, "turns go by the rounds of a repeat, and none stands around this line")
	}
}

func (s *sense) chart(c ChartRef) *piece.Chart {
	found := s.Piece.Charts[c.Name]
	if found == nil {
		names := slices.Sorted(maps.Keys(s.Piece.Charts))
		has := "none"
		if len(names) > 0 {
			has = strings.Join(names, ", ")
		}
		s.fail(c.Pos, c.len, "%q: the piece has no chart of this name; it has %s", c.Name, has)
	}
	return found
}

// number looks at a number; nil is one that is left out.
func (s *sense) number(n *Number, l least) {
	if n == nil {
		return
	}
	before := len(s.errs)
	s.parts(n)
	if v, ok := constant(n); ok && len(s.errs) == before {
		if wrong := l.wrong(v); wrong != "" {
			s.fail(n.Pos, n.width, "%s", wrong)
		}
	}
}

func (s *sense) parts(n *Number) {
	switch n.Op {
	case opParam:
		switch s.names[n.Name] {
		case noName:
			if !s.spoilt[n.Name] {
				s.fail(n.Pos, n.width, "%q: no number has this name above", n.Name)
			}
		case needleName:
			s.fail(n.Pos, n.width, "%q: these are needles, and a number is wanted", n.Name)
		}
	case opRound:
		if s.deep == 0 {
			s.fail(n.Pos, n.width, `"round": no repeat stands around this line`)
		}
	case opTurns, opSeries:
		s.turns(n.Pos)
	}
	for _, part := range append([]*Number{n.A, n.B}, n.List...) {
		if part != nil {
			s.parts(part)
		}
	}
}

// constant is the value of a number that is written in figures alone.
func constant(n *Number) (int, bool) {
	if n == nil {
		return 0, false
	}
	v, err := n.value(func(*Number) (int, *Error) { return 0, &Error{} })
	return v, err == nil
}

// set looks at a set of the bed at hand.
func (s *sense) set(x *Set) {
	if x == nil {
		return
	}
	count := func(n *Number, l least, most int) {
		s.number(n, l)
		if v, ok := constant(n); ok && x.Of == nil && s.from == 0 && (s.bed == machine.Main ||
			s.Piece.Machine.HasSecond()) && l.wrong(v) == "" && v/10 > most {
			s.fail(n.Pos, n.width, "%d: the %v bed has %d places", v/10, s.bed, s.bases[s.bed].Len())
		}
	}
	w := s.bases[s.bed].Len()
	switch x.Pick {
	case joinAnd, joinBut:
		s.set(x.A)
		s.set(x.B)
		return
	case pickGroup, pickTurns:
		if x.Of != nil { // they choose from fewer
			s.from++
			defer func() { s.from-- }()
		}
		if x.Pick == pickGroup {
			s.set(x.A)
			break
		}
		s.turns(x.Pos)
		for _, one := range x.List {
			s.set(one)
		}
	case pickLabels:
		if s.bed == machine.Second && !s.Piece.Machine.HasSecond() {
			break
		}
		col := x.Col
		for part := range strings.SplitSeq(x.Labels, ",") {
			a, z, isRange := strings.Cut(part, "-")
			from, _ := machine.ParseNeedle(a)
			to := from
			if isRange {
				to, _ = machine.ParseNeedle(z)
			}
			if base := s.bases[s.bed]; !base.Has(from) || !base.Has(to) {
				s.outside(Pos{x.Line, col}, part)
				break
			}
			col += len(part) + 1
		}
	case pickName:
		switch s.names[x.Name] {
		case noName:
			if !s.spoilt[x.Name] {
				s.fail(x.Pos, x.width, "%q: no needles have this name", x.Name)
			}
		case numberName:
			s.fail(x.Pos, x.width, "%q: this is a number, and needles are wanted", x.Name)
		}
	case pickFirst, pickLast:
		count(x.Num, fromZero, w)
	case pickInside:
		count(x.Num, fromZero, w/2)
	case pickPlace:
		count(x.Num, fromOne, w)
	case pickMiddle:
		if x.Of == nil && s.from == 0 && w%2 == 0 && w > 0 {
			s.fail(x.Pos, x.width, `"middle": the %v bed has %d places, and an even number has no middle`, s.bed, w)
		}
	case pickNumbered:
		s.number(x.Num, fromOne)
	case pickEvery:
		s.number(x.Num, fromOne)
		s.number(x.From, fromOne)
		s.number(x.Some, fromOne)
		k, okK := constant(x.Num)
		take, okT := constant(x.Some)
		if okK && okT && take > k && k >= 10 {
			s.fail(x.Some.Pos, x.Some.width, "%s of every %s: the groups would overlap", Figures(take), Figures(k))
		}
	case pickRuns:
		s.number(x.Num, fromOne)
		s.number(x.From, fromOne)
	case pickHeld:
		if s.inPass {
			s.fail(x.Pos, x.width, `"held": in a pass it stands only as knit held`)
		}
	case pickOthers:
		if !s.inPass {
			s.fail(x.Pos, x.width, `"others": it stands only in a pass`)
		}
	case pickMarks:
		s.chart(x.Chart)
	}
	from := s.from
	s.from = 0 // from the whole bed again
	s.set(x.Of)
	s.from = from
}

// With checks parameters set from outside: the error names the parameter.
func (r *Recipe) With(g Ground, name string, value int) error {
	i := slices.IndexFunc(r.Params, func(st *Step) bool { return st.Name == name })
	if i < 0 {
		var has []string
		for _, st := range r.Params {
			has = append(has, st.Name)
		}
		if len(has) == 0 {
			return fmt.Errorf("the recipe has no parameters")
		}
		return fmt.Errorf("no such parameter; there are %s", strings.Join(has, ", "))
	}
	st := r.Params[i]
	if st.From == nil {
		return nil
	}
	s := &sense{Ground: g, bases: g.places(), params: map[string]int{}, names: map[string]int{},
		given: map[string]bool{}, spoilt: map[string]bool{}}
	for _, earlier := range r.Params[:i+1] {
		s.param(earlier)
	}
	from, _ := s.value(st.From)
	to, _ := s.value(st.To)
	if value < from || value > to {
		return fmt.Errorf("%s: %s to %s", Figures(value), Figures(from), Figures(to))
	}
	return nil
}
