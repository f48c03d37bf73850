package piece

import (
	"encoding/json"
	"strings"
)

// MaxRecipe bounds a recipe's text in bytes.
const MaxRecipe = 100_000

// recipe reads a section's recipe, one text or a list of lines, and the parameters that are set
// from outside. What the text says is read where recipes are known (package recipe).
func (r *reader) recipe(n node, s *Section) {
	at := n.at("recipe")
	if lines, ok := at.value.([]any); ok {
		list := make([]string, len(lines))
		for i := range lines {
			if list[i] = at.index(i).text(); strings.Contains(list[i], "\n") {
				at.index(i).fail("a line of its own for each line of the recipe")
			}
		}
		s.Recipe = strings.Join(list, "\n")
	} else {
		s.Recipe = at.text()
	}
	if len(s.Recipe) > MaxRecipe {
		at.fail("%d bytes: a recipe has at most %d", len(s.Recipe), MaxRecipe)
	}
	s.OwnSize = !n.at("size").missing()
	if with := n.at("with"); !with.missing() {
		s.With = with.params()
	}
	if at := n.at("variants"); at.list() > MaxVariants {
		at.fail("%d: at most %d are kept side by side", at.list(), MaxVariants)
	} else {
		for i := range at.list() {
			s.Variants = append(s.Variants, at.index(i).params())
		}
	}
}

// MaxVariants bounds the settings of a recipe that are kept side by side.
const MaxVariants = 12

// params is numbers by name, in tenths.
func (n node) params() map[string]int {
	with := map[string]int{}
	for _, name := range n.members() {
		if v, ok := n.at(name).tenths(); ok {
			with[name] = v
		}
	}
	return with
}

// tenths is a number with at most one figure after the point, in tenths.
func (n node) tenths() (int, bool) {
	num, ok := n.value.(json.Number)
	v, err := num.Float64()
	tenth := int(v*10 + 0.5)
	if !ok || err != nil || v < 0 || v > 1e6 || float64(tenth)/10 != v {
		n.fail("%s: a number with at most one figure after the point is needed", n.quoted())
		return 0, false
	}
	return tenth, true
}

// Begin is how the first loops come on (rules 5.12).
type Begin struct {
	Way      string
	Yarn     YarnNo // of the cast-on; of waste: the waste yarn
	CordYarn YarnNo
	Rows     int  // of waste
	Rounds   int  // two beds: once round on each
	Cord     bool // after waste a pass in a yarn that pulls out
	Size     string
}

// End is how the last loops come off.
type End struct {
	Way  string
	Yarn YarnNo // of waste
	Rows int    // of waste
	Size string
}

// Ways to begin and to end, in the order in which they are offered.
var (
	BeginWays = []string{"comb", "every-second", "by-hand", "latch", "waste", "two-bed", "thread"}
	EndWays   = []string{"latch", "waste", "drop", "join", "hook", "chain"}
)

// WasteRows is how many rows of waste yarn there are where nothing is said, and at least.
const (
	WasteRows  = 8
	FewestRows = 6
)

func (r *reader) begin(n node) {
	if n.missing() || !n.object("way", "yarn", "rows", "rounds", "cord", "cord_yarn", "size") {
		return
	}
	b := &Begin{Way: "comb", Rows: WasteRows, Rounds: 1, Cord: true}
	if w := n.at("way"); !w.missing() {
		b.Way = w.word(BeginWays...)
	}
	b.Yarn, b.CordYarn = r.yarnAt(n.at("yarn")), r.yarnAt(n.at("cord_yarn"))
	b.Rows = r.waste(n, b.Way, b.Yarn)
	if at := n.at("rounds"); !at.missing() {
		if b.Rounds = at.whole(0, 100); b.Way != "two-bed" {
			at.fail("only a start on two beds goes round on each")
		}
	}
	if at := n.at("cord"); !at.missing() {
		b.Cord = at.yes()
	}
	for _, key := range []string{"cord", "cord_yarn"} {
		if at := n.at(key); !at.missing() && b.Way != "waste" {
			at.fail("only waste yarn has a cord after it")
		}
	}
	b.Size = n.at("size").size()
	if b.Way == "two-bed" && !r.p.Machine.HasSecond() {
		n.at("way").fail("\"two-bed\": %s has no second bed", r.p.Machine.Name)
	}
	r.p.Begin = b
}

// waste reads how many rows of waste yarn there are.
func (r *reader) waste(n node, way string, y YarnNo) int {
	rows := WasteRows
	if at := n.at("rows"); !at.missing() {
		switch rows = at.whole(0, MaxRows); {
		case way != "waste":
			at.fail("only waste yarn has rows")
		case rows < FewestRows:
			at.fail("%d: at least %d rows of waste yarn hold the loops", rows, FewestRows)
		}
	}
	if at := n.at("yarn"); way == "waste" && y == 0 && at.missing() {
		at.fail("missing; name the waste yarn")
	}
	return rows
}

// end reads how the last loops come off: one way, or a list of which each says of which part of a divided
// piece it is.
func (r *reader) end(n node) {
	if _, isList := n.value.([]any); !isList {
		r.p.End = r.endWay(n, "way", "yarn", "rows", "size")
		return
	}
	for i := range n.list() {
		at := n.index(i)
		e := r.endWay(at, "way", "yarn", "rows", "size", "part")
		part := Whole
		switch at.at("part").word("first", "second") {
		case "first":
			part = FirstPart
		case "second":
			part = SecondPart
		}
		switch {
		case e == nil:
		case part == Whole && r.p.End != nil || r.p.PartEnds[part] != nil:
			at.fail("an earlier entry says this already")
		case part == Whole:
			r.p.End = e
		default:
			if r.p.PartEnds[part] = e; r.p.Shape == nil || r.p.Shape.Split == nil {
				at.at("part").fail("%q: the piece does not divide", part.String())
			}
		}
	}
}

// endWay reads one way to end.
func (r *reader) endWay(n node, keys ...string) *End {
	if n.missing() || !n.object(keys...) {
		return nil
	}
	e := &End{Way: "latch"}
	if w := n.at("way"); !w.missing() {
		e.Way = w.word(EndWays...)
	}
	if e.Yarn = r.yarnAt(n.at("yarn")); e.Yarn != 0 && e.Way != "waste" {
		n.at("yarn").fail("only waste yarn is named here; the other ways take the yarn that is in the feeder")
	}
	e.Rows = r.waste(n, e.Way, e.Yarn)
	e.Size = n.at("size").size()
	return e
}

// EndOf is how the loops of a part come off; nil: hand steps only.
func (p *Piece) EndOf(part Part) *End {
	if e := p.PartEnds[part]; e != nil {
		return e
	}
	return p.End
}
