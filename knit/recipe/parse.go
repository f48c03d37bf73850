// Package recipe is the language for what no chart can hold: passes and hand steps that go
// round and round, as a short text.
//
// A recipe is lines, each one step; blank lines mean nothing. Steps between `repeat` and `end` go round. This source:
//
//	name posts = every 2
//	yarn A
//	repeat 2
//	  hold posts
//	  pass 2
//	  work posts
//	end
//
// is read as five steps, of which the loop holds three:
//
//	{name posts, the set `every 2`}
//	{yarn A}
//	{repeat 2: {hold posts} {pass 2} {work posts}}
//
// and, run on a bed from L4 to R4, comes to acts, one after the other: yarn A; hold L4,L2,R1,R3; a pass to the left; a
// pass to the right; work L4,L2,R1,R3; and the last four once more. A node prints itself as it is written: the text of what was
// parsed, parsed again, is the same. All faults of a text are told at once, each at its line and column:
//
//	hold post              1:6 "post": no needles have this name
//	pass 0                 2:6 0: at least 1
//
//	lex.go    the text as words with their places
//	node.go   what a line is; every node prints itself
//	parse.go  words into nodes, all faults of a text at once
//	sense.go  faults that show before a recipe is run: names, yarns, charts, places
//	number.go, set.go  what numbers and sets of needles come to, in a round and on a bed
//	run.go    the meaning of a recipe on loops, step by step (run_pass.go: of a pass)
//	remark.go what a run notices on its way
//
// A run gives a list of acts, which the planner turns into passes and hand steps of a machine,
// and the loops that they make by the language's own rules. The plan's simulation is another
// road to the same loops; both are compared in technique.
//
// It imports piece, finding, loops and what lies below them.
package recipe

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"vindel/knit/machine"
)

// parser reads one line at a time; a fault ends its line, and is kept.
type parser struct {
	line   int
	tokens []token
	at     int
	errs   Errors
	recipe *Recipe
	open   []*Step         // repeats without their end yet
	body   bool            // a step has stood that no header may follow
	spoilt map[string]bool // names whose line has a fault: what uses them is not to blame
}

// Parse reads a recipe's text. The faults are all that can be told without the piece; the
// recipe is what could be read. Read looks for the others.
func Parse(text string) (*Recipe, Errors) {
	p, errs := parse(text)
	return p.recipe, errs.sorted()
}

func parse(text string) (*parser, Errors) {
	p := &parser{recipe: &Recipe{}, spoilt: map[string]bool{}}
	for line := range strings.SplitSeq(text, "\n") {
		p.line++
		p.at = 0
		var err *Error
		if !utf8.ValidString(line) {
			err = &Error{Pos{p.line, 1}, "the line is not UTF-8", 0}
		} else {
			p.tokens, err = lex(p.line, line)
		}
		if err != nil {
			p.errs = append(p.errs, err)
			p.spoil()
			continue
		}
		if p.peek().sort != end {
			p.step()
		}
	}
	for _, s := range p.open {
		p.errs = append(p.errs, &Error{s.Pos, `"repeat": it has no "end"`, len("repeat")})
	}
	return p, p.errs
}

// spoil remembers the name that a line with a fault was to give.
func (p *parser) spoil() {
	if len(p.tokens) > 1 && p.tokens[0].sort == word && (p.tokens[0].text == "name" || p.tokens[0].text == "param") {
		p.spoilt[p.tokens[1].text] = true
	}
}

func (p *parser) peek() token { return p.tokens[p.at] }

func (p *parser) next() token {
	t := p.tokens[p.at]
	if t.sort != end {
		p.at++
	}
	return t
}

// pos is where the next word stands.
func (p *parser) pos() Pos { return Pos{p.line, p.peek().col} }

// fail ends the line with a fault at a word.
func (p *parser) fail(t token, format string, a ...any) {
	said := ""
	if t.sort != end {
		said = quoted(t.text) + ": "
	}
	panic(&Error{Pos{p.line, t.col}, said + fmt.Sprintf(format, a...), t.len})
}

// wants says what is to stand where the next word stands.
func (p *parser) wants(what string) {
	if t := p.peek(); t.sort == end {
		p.fail(t, "something is missing: %s", what)
	} else {
		p.fail(t, "%s is wanted here", what)
	}
}

// is says that the next word is one of the language's, and takes it.
func (p *parser) is(words ...string) bool {
	if t := p.peek(); (t.sort == word || t.sort == mark) && slices.Contains(words, t.text) {
		p.at++
		return true
	}
	return false
}

// must takes words of the language, one after another.
func (p *parser) must(words ...string) {
	for _, w := range words {
		if !p.is(w) {
			p.wants(quoted(w))
		}
	}
}

// one takes one of a few words.
func (p *parser) one(words ...string) string {
	if t := p.peek(); p.is(words...) {
		return t.text
	}
	p.wants(strings.Join(words, ", "))
	return ""
}

// step reads a line.
func (p *parser) step() {
	s := &Step{Pos: p.pos()}
	defer func() {
		switch err := recover().(type) {
		case nil:
		case *Error:
			p.errs = append(p.errs, err)
			p.broken(s, err)
			p.spoil()
		default:
			panic(err)
		}
	}()
	first := p.peek()
	if first.sort != word {
		p.wants("a step: pass, yarn, repeat, work, hold …")
	}
	if first.text == "end" {
		p.next()
		if len(p.open) == 0 {
			p.fail(first, "there is no repeat that it ends")
		}
		p.open[len(p.open)-1].Closed = true
		p.open = p.open[:len(p.open)-1]
		p.over()
		return
	}
	header := slices.Contains([]string{"param", "fits", "starts"}, first.text)
	if header && p.body {
		p.fail(first, "it stands at the top; only name lines may stand among param, fits and starts")
	}
	if !header && first.text != "name" {
		p.body = true
	}
	if first.text == "repeat" { // also where the line has a fault: its end is not to blame
		s.Do = Repeat
		p.add(s)
		p.open = append(p.open, s)
	}
	p.next()
	p.rest(first, s)
	p.over()
	if s.Do != Repeat {
		p.add(s)
	}
	switch s.Do {
	case Param:
		p.recipe.Params = append(p.recipe.Params, s)
	case Starts:
		p.recipe.Bare = true
	}
}

// broken keeps what stands before the fault of a line: a name or a yarn of it may be unknown.
func (p *parser) broken(s *Step, err *Error) {
	s.broken = true
	from := 1
	if first := p.tokens[0].text; first == "name" || first == "param" {
		from = 2 // the name that it gives
	}
	for _, t := range p.tokens[min(from, len(p.tokens)):] {
		if t.col < err.Col && t.sort != end {
			s.before = append(s.before, t)
		}
	}
	if s.Do != Repeat {
		s.Do = Note
		p.add(s)
	}
}

func (p *parser) add(s *Step) {
	if n := len(p.open); n > 0 {
		p.open[n-1].Body = append(p.open[n-1].Body, s)
		return
	}
	p.recipe.Lines = append(p.recipe.Lines, s)
}

// over says that the line ends here.
func (p *parser) over() {
	if t := p.peek(); t.sort != end {
		p.fail(t, "the line is complete before it")
	}
}

// rest reads what follows the first word.
func (p *parser) rest(first token, s *Step) {
	switch first.text {
	case "param":
		s.Do, s.NamePos = Param, p.pos()
		s.Name = p.name()
		p.must("=")
		s.Num = p.number()
		if p.is("from") {
			s.From = p.number()
			p.must("to")
			s.To = p.number()
		}
		p.text(s)
	case "fits":
		s.Do, s.Num = Fits, p.number()
		if p.is("plus") {
			s.From = p.number()
		}
	case "starts":
		s.Do = Starts
		p.must("bare")
	case "repeat":
		s.Num = p.number()
		p.text(s)
	case "name":
		s.Do, s.NamePos = Name, p.pos()
		s.Name = p.name()
		p.must("=")
		p.target(s)
	case "pass":
		p.pass(s)
	case "work", "hold", "out", "drop", "wrap":
		s.Do = map[string]Verb{"work": Work, "hold": Hold, "out": Out, "drop": Drop, "wrap": Wrap}[first.text]
		p.target(s)
	case "move":
		s.Do = Move
		p.target(s)
		if s.Way = p.one("left", "right", "across"); s.Way != "across" && p.peek().sort != end {
			s.Num = p.number()
		}
	case "cross":
		s.Do, s.Set = Cross, p.set()
		p.must("with")
		s.With = p.set()
	case "knit":
		s.Do = KnitByHand
		p.must("by", "hand", "in")
		s.Yarns = []*YarnRef{p.yarn()}
		p.must(":")
		for {
			long := p.one("short", "long") == "long"
			s.Sets = append(s.Sets, Length{long, p.set()})
			if !p.is(",") {
				break
			}
		}
	case "cast":
		s.Do = CastOn
		p.must("on")
		p.target(s)
	case "bind":
		s.Do = BindOff
		p.must("off")
		p.target(s)
	case "take":
		s.Do = TakeOff
		p.must("off")
		p.target(s)
	case "yarn":
		if s.Do = Yarn; p.is("none") {
			return
		}
		s.Yarns = []*YarnRef{p.yarn()}
		if p.is("and") {
			s.Yarns = append(s.Yarns, p.yarn())
		}
	case "size":
		s.Do = Size
		p.bed(s)
		s.Num = p.number()
	case "rack":
		s.Do, s.Num = Rack, p.number()
		if t := p.peek(); p.is("half", "full") {
			s.Way = t.text
		}
	case "choose":
		s.Do = Choose
		p.must("by")
		s.Way = p.one("hand", "card", "program")
	case "follow":
		s.Do, s.Chart = Follow, p.chart()
		p.must("at")
		s.AtPos = p.pos()
		t := p.peek()
		if t.sort != label {
			p.wants("a needle, such as L22")
		}
		p.next()
		var err error
		if s.At, err = machine.ParseNeedle(t.text); err != nil {
			p.fail(t, "one needle is wanted, such as L22")
		}
		if p.is("row") {
			s.From = p.number()
		}
		if p.is("each") {
			s.To = p.number()
		}
	case "counter":
		s.Do, s.Num = Counter, p.number()
	case "weights":
		s.Do = Weights
		if s.Way = p.one("on", "up", "off"); s.Way == "up" && p.is("every") {
			s.Num = p.number()
		}
	case "lower", "raise":
		s.Do = Lower
		if first.text == "raise" {
			s.Do = Raise
		}
		if p.bed(s); !s.Named {
			p.wants("main, second")
		}
	case "attach", "remove", "note", "look":
		s.Do = map[string]Verb{"attach": Attach, "remove": Remove, "note": Note, "look": Look}[first.text]
		if p.text(s); !s.Told {
			p.wants("a text between quotation marks")
		}
	case "check":
		s.Do = Check
		if s.Way = p.one("carriage", "empty", "single", "held", "out"); s.Way == "carriage" {
			s.Way = p.one("left", "right")
			return
		}
		p.target(s)
	default:
		p.fail(first, "no step begins with this word")
	}
}

// name takes a name that is given.
func (p *parser) name() string {
	t := p.peek()
	switch {
	case t.sort == word && vocabulary[t.text]:
		p.fail(t, "a word of the language is no name")
	case t.sort != word:
		p.wants("a name of two or more small letters or figures, a letter first")
	}
	return p.next().text
}

// text takes a text, where one stands.
func (p *parser) text(s *Step) {
	if p.peek().sort == text {
		s.Text, s.Told = p.next().text, true
	}
}

// bed takes a bed, where one stands.
func (p *parser) bed(s *Step) {
	if t := p.peek(); p.is("main", "second") {
		s.Named = true
		if t.text == "second" {
			s.Bed = machine.Second
		}
	}
}

func (p *parser) target(s *Step) {
	p.bed(s)
	s.Set = p.set()
}

func (p *parser) pass(s *Step) {
	s.Do = Pass
	if t := p.peek(); t.sort != end && !(t.sort == mark && t.text == ":") && t.text != "left" && t.text != "right" &&
		t.text != "free" {
		s.Num = p.number()
	}
	if t := p.peek(); p.is("left", "right") {
		s.Way = t.text
	}
	if p.is("free") {
		s.Free = true
		return
	}
	if p.peek().sort == end {
		return
	}
	if !p.is(":") {
		p.wants(`left, right, free or ":"`)
	}
	for {
		s.Parts = append(s.Parts, p.clause())
		if !p.is("|") {
			return
		}
	}
}

func (p *parser) clause() Clause {
	c := Clause{Pos: p.pos()}
	var s Step
	p.bed(&s)
	c.Bed, c.Named = s.Bed, s.Named
	for {
		d := Deed{Pos: p.pos()}
		d.Do = map[string]machine.Action{"knit": machine.Knit, "tuck": machine.Tuck,
			"slip": machine.Slip}[p.one("knit", "tuck", "slip")]
		if t := p.peek(); d.Do == machine.Knit && t.sort == word && t.text == "held" {
			p.next()
			d.Held = true
		} else {
			d.Set = p.set()
		}
		if p.is("in") {
			d.Yarns = []*YarnRef{p.yarn()}
			if p.is("+") {
				d.Yarns = append(d.Yarns, p.yarn())
			}
		}
		c.Deeds = append(c.Deeds, d)
		if !p.is(",") {
			return c
		}
	}
}

func (p *parser) yarn() *YarnRef {
	t := p.peek()
	y := &YarnRef{Pos: p.pos()}
	if p.is("[") {
		for {
			y.List = append(y.List, p.yarn())
			if !p.is(",") {
				break
			}
		}
		p.must("]")
		for _, one := range y.List {
			if one.List != nil {
				panic(&Error{one.Pos, "turns stand in no other turns of yarns", 1})
			}
		}
		return y
	}
	if t.sort != letter {
		p.wants("a yarn, by its letter")
	}
	y.ID = p.next().text[0]
	return y
}

func (p *parser) chart() ChartRef {
	t := p.peek()
	c := ChartRef{Pos: p.pos(), Name: t.text, len: t.len}
	if t.sort != text && (t.sort != word || vocabulary[t.text]) {
		p.wants("a chart, by its name")
	}
	p.next()
	return c
}

// --- numbers --------------------------------------------------------------------

// depth bounds brackets in brackets.
const depth = 100

func (p *parser) number() *Number {
	n := p.term()
	for {
		t := p.peek()
		if !p.is("+", "-") {
			return n
		}
		n = &Number{Pos: n.Pos, Op: t.text[0], A: n, B: p.term()}
	}
}

func (p *parser) term() *Number {
	n := p.factor()
	for p.is("*") {
		n = &Number{Pos: n.Pos, Op: '*', A: n, B: p.factor()}
	}
	return n
}

func (p *parser) factor() *Number {
	t := p.peek()
	if p.at > 0 && p.nested() > depth {
		p.fail(t, "too many brackets within one another")
	}
	n := &Number{Pos: p.pos(), width: t.len}
	switch {
	case t.sort == figures:
		whole, part, point := strings.Cut(t.text, ".")
		v, err := strconv.Atoi(whole)
		if err != nil || v > 1e6 {
			p.fail(t, "a number is at most 1000000")
		}
		if point && len(part) != 1 {
			p.fail(t, "a number has at most one figure after the point")
		}
		tenth, _ := strconv.Atoi(part)
		n.Op, n.Value = opFigures, 10*v+tenth
		p.next()
	case p.is("width"):
		n.Op = opWidth
	case p.is("round"):
		n.Op = opRound
	case p.is("("):
		n.Op, n.A = opGroup, p.number()
		p.must(")")
	case p.is("["):
		first := p.number()
		if p.is("step") {
			n.Op, n.A, n.B = opSeries, first, p.number()
			p.must("]")
			break
		}
		n.Op, n.List = opTurns, []*Number{first}
		for p.is(",") {
			n.List = append(n.List, p.number())
		}
		if !p.is("]") {
			p.wants(`"," or "]"`)
		}
	case t.sort == word && !vocabulary[t.text]:
		n.Op, n.Name = opParam, t.text
		p.next()
	default:
		p.wants("a number")
	}
	return n
}

// nested is how many brackets are open at the next word.
func (p *parser) nested() (n int) {
	if len(p.tokens) < depth {
		return 0
	}
	for _, t := range p.tokens[:p.at] {
		switch {
		case t.sort != mark:
		case t.text == "(" || t.text == "[":
			n++
		case t.text == ")" || t.text == "]":
			n--
		}
	}
	return n
}

// --- sets of needles ------------------------------------------------------------

func (p *parser) set() *Set {
	s := p.joined()
	for p.is("but") {
		s = &Set{Pos: s.Pos, Pick: joinBut, A: s, B: p.joined(), no: p.count()}
	}
	return s
}

// count numbers the recipe's sets.
func (p *parser) count() int {
	p.recipe.nos++
	return p.recipe.nos - 1
}

func (p *parser) joined() *Set {
	s := p.chosen()
	for p.is("and") {
		s = &Set{Pos: s.Pos, Pick: joinAnd, A: s, B: p.chosen(), no: p.count()}
	}
	return s
}

func (p *parser) chosen() *Set {
	s := p.pick()
	if p.is("of") {
		if p.is("each") {
			p.must("run", "of")
			s.Each = true
		}
		s.Of = p.set()
	}
	return s
}

func (p *parser) pick() *Set {
	t := p.peek()
	if p.nested() > depth {
		p.fail(t, "too many brackets within one another")
	}
	s := &Set{Pos: p.pos(), no: p.count(), width: t.len}
	switch {
	case t.sort == label:
		s.Pick, s.Labels = pickLabels, t.text
		p.next()
		p.labels(t, s)
	case p.is("("):
		s.Pick, s.A = pickGroup, p.set()
		p.must(")")
	case p.is("["):
		s.Pick, s.List = pickTurns, []*Set{p.set()}
		for p.is(",") {
			s.List = append(s.List, p.set())
		}
		if !p.is("]") {
			p.wants(`"," or "]"`)
		}
	case p.is("all"):
		s.Pick = pickAll
	case p.is("none"):
		s.Pick = pickNone
	case p.is("ends"):
		s.Pick = pickEnds
	case p.is("middle"):
		s.Pick = pickMiddle
	case p.is("first", "last", "inside", "place", "numbered"):
		s.Pick = map[string]Pick{"first": pickFirst, "last": pickLast, "inside": pickInside, "place": pickPlace,
			"numbered": pickNumbered}[t.text]
		s.Num = p.number()
	case p.is("every"):
		s.Pick, s.Num = pickEvery, p.number()
		if p.is("runs") {
			s.Pick = pickRuns
			p.must("from")
			s.From = p.number()
			break
		}
		if p.is("from") {
			s.From = p.number()
		}
		if p.is("take") {
			s.Some = p.number()
		}
		s.Cut = p.is("cut")
	case p.is("working"):
		s.Pick = pickWorking
	case p.is("held"):
		s.Pick = pickHeld
	case p.is("empty"):
		s.Pick = pickEmpty
	case p.is("others"):
		s.Pick = pickOthers
	case p.is("marks"):
		s.Pick, s.Chart = pickMarks, p.chart()
	case t.sort == word && !vocabulary[t.text]:
		s.Pick, s.Name = pickName, t.text
		p.next()
	default:
		p.wants("needles: labels, a name, all, first, every …")
	}
	return s
}

// labels reads labels and ranges; each must be a needle, and a range runs from left to right.
func (p *parser) labels(t token, s *Set) {
	col := t.col
	for part := range strings.SplitSeq(t.text, ",") {
		from, to, isRange := strings.Cut(part, "-")
		a, err := machine.ParseNeedle(from)
		b := a
		if isRange && err == nil {
			b, err = machine.ParseNeedle(to)
		}
		at := token{label, part, col, len(part)}
		half := machine.Needle(machine.MaxBed / 2)
		switch {
		case err != nil:
			p.fail(at, "a needle is L or R and a number from 1, such as L12")
		case a < -half || b >= half:
			p.fail(at, "no bed has such a needle")
		case b < a:
			p.fail(at, "%v lies left of %v; ranges run from left to right", b, a)
		}
		s.Needles = s.Needles.Or(machine.Range(a, b))
		col += len(part) + 1
	}
}
