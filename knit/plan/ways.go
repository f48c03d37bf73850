package plan

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"vindel/knit/acts"
	"vindel/knit/bed"
	"vindel/knit/finding"
	"vindel/knit/loom"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/recipe"
	"vindel/knit/step"
	"vindel/knit/technique"
)

// How the first loops come on and the last come off (rules 5.12) are recipes of our own, a few lines
// each: their passes and hand steps are planned and proven as any other's. They belong to section 0.

// stepped is a stitch size some steps from another, "" where that is no number; never below 0.
func stepped(size string, by float64) string {
	n, err := strconv.ParseFloat(strings.Trim(size, `"`), 64)
	if tenths := 10 * n; err != nil || !(n >= 0 && n <= mostSize) || math.Abs(tenths-math.Round(tenths)) > 1e-9 {
		return "" // a recipe has no such number
	}
	return strconv.FormatFloat(max(0, n+by), 'f', -1, 64)
}

// mostSize is the largest size that is reckoned with; what a dial says beyond that is only said.
const mostSize = 1000

// sizeLine sets a size, if there is one.
func sizeLine(size string) string {
	if stepped(size, 0) == "" {
		return ""
	}
	return "size " + stepped(size, 0)
}

// beginText is the recipe by which a piece begins.
func beginText(p *piece.Piece) string {
	b, on := p.Begin, p.Work().String()
	yarn := func(y piece.YarnNo) string { return "yarn " + p.YarnID(y) }
	own, main := p.Sections[0].RowYarn(1), p.Sections[0].Size
	if b.Way != "waste" && b.Yarn != 0 {
		own = b.Yarn
	}
	small := cmp.Or(b.Size, stepped(main, -2))
	lines := []string{"starts bare"}
	add := func(list ...string) {
		for _, l := range list {
			if l != "" {
				lines = append(lines, l)
			}
		}
	}
	switch b.Way {
	case "every-second", "thread":
		hang := "weights on"
		if b.Way == "thread" {
			hang = `note "Lay a thread over the loops, both ends down between the needles; knot them and hang a weight on"`
		}
		add(yarn(own), sizeLine(small), "work every 2 from 1 of "+on, "pass 1", hang, "work "+on, "pass 1",
			`look "every needle holds a loop"`, sizeLine(main))
	case "waste":
		add(`attach "the comb for open loops"`, yarn(b.Yarn), sizeLine(cmp.Or(b.Size, main)), "work "+on, "pass 1",
			"weights on",
			fmt.Sprintf("pass %d", b.Rows-1))
		if b.Cord {
			add(`note "The next row is the cord that pulls out: leave a long end on both sides"`,
				yarn(cmp.Or(b.CordYarn, b.Yarn)), "pass 1")
		}
		add(sizeLine(main))
	case "two-bed":
		front, behind := begun(p)
		add(`attach "the comb plates for two beds"`, "work "+front.String(), "work second "+behind.String(), yarn(own),
			sizeLine(cmp.Or(b.Size, "0")),
			"pass 1: main knit all | second knit all", "weights on")
		if b.Rounds > 0 {
			add(fmt.Sprintf("repeat %d", b.Rounds), "pass 1: main knit all", "pass 1: second knit all", "end")
		}
		add(sizeLine(main))
	default: // without a pass
		add(yarn(own), sizeLine(small), "cast on "+on)
		switch b.Way {
		case "comb":
			add("weights on")
		case "by-hand":
			add(`note "Knit the first row loosely, and hang the weights after it"`)
		}
		add(sizeLine(main))
	}
	return strings.Join(lines, "\n")
}

// begun is the needles of either bed that a zigzag begins on: those of the rib that comes next, else all.
func begun(p *piece.Piece) (main, second machine.Set) {
	if s := &p.Sections[0]; s.Rib[0] > 0 {
		return p.Beds(s)
	}
	return p.Work(), p.Second.Needles
}

// endText is the recipe by which a piece ends, given what both beds hold and the yarn at work.
func endText(p *piece.Piece, e *piece.End, main, second machine.Set, y piece.YarnNo) string {
	last := &p.Sections[len(p.Sections)-1]
	var lines []string
	add := func(list ...string) {
		for _, l := range list {
			if l != "" {
				lines = append(lines, l)
			}
		}
	}
	if !second.Empty() && e.Way != "chain" && e.Way != "drop" { // its stitches go to the main bed before they are closed
		facing := second.And(main.Or(p.Machine.Bed.All()))
		add(fmt.Sprintf("rack %d full", p.Machine.RackCentre))
		if !facing.Empty() {
			add("work "+facing.String(), "move second "+facing.String()+" across")
		}
		add("out second all")
		main = main.Or(facing)
	}
	if main.Empty() && (second.Empty() || e.Way != "chain" && e.Way != "drop") {
		return strings.Join(append(lines, "weights off"), "\n") // none of its stitches has a needle to go to
	}
	on, yarn := main.String(), "yarn "+p.YarnID(y)
	off := "weights off"
	switch e.Way {
	case "latch":
		add(yarn, sizeLine(cmp.Or(e.Size, stepped(last.Size, 2))), "pass 1", off,
			`note "Latch the stitches off from the side where the yarn hangs"`, "bind off "+on)
	case "waste":
		add("yarn "+p.YarnID(e.Yarn), sizeLine(e.Size), fmt.Sprintf("pass %d", e.Rows), off,
			`note "Take the piece off on its waste yarn: send the carriage across empty, or lift it off"`,
			"take off "+on)
	case "drop":
		add(off, `note "Let the sample fall off the needles"`)
		if !main.Empty() {
			add("take off " + on)
		}
		if !second.Empty() {
			add("take off second " + second.String())
		}
	case "join":
		add(off, fmt.Sprintf("note \"Hang the loops of the first row on the same needles, %d of them; of the open "+
			"loops there is one fewer, so one needle at the edge stays free\"",
			main.Len()), wasteOff(p.Begin), `note "Pull each stitch through the loop hung over it, then close them together"`,
			"bind off "+on)
	case "hook":
		add(off, `note "Cut the yarn long, draw its end through all stitches with a hook, and pull it tight"`,
			"take off "+on)
	case "chain":
		add(off)
		if second.Empty() {
			add(`note "Chain the stitches off, one through the next"`, "bind off "+on)
		} else {
			if !main.Empty() {
				add("bind off " + on)
			}
			add("bind off second " + second.String())
		}
	}
	return strings.Join(lines, "\n")
}

// wasteOff lets the waste yarn of the beginning go, once its open loops are hung up again.
func wasteOff(b *piece.Begin) string {
	switch {
	case b == nil || b.Way != "waste":
		return ""
	case b.Cord:
		return `note "Pull the cord out, and the waste yarn of the beginning comes off"`
	}
	return `note "Ravel the waste yarn of the beginning, down to the loops that hang"`
}

// outside plans a recipe of our own as section 0.
func (k *planner) outside(id, text string, part piece.Part) {
	p := k.Piece
	k.Outside = bed.Outside(p, &piece.Section{ID: id, Name: id, Technique: &technique.Recipe.Technique, FromLine: 1,
		Yarn:    p.Sections[0].Yarn,
		Options: p.Options})
	k.Outside.Section.Options.Counter, k.Outside.Part = "run", part
	k.loom.Section(k.Outside)
	k.loom.Row()
	g := recipe.Ground{Piece: p, Later: id != pass.BeginID}
	if p.Shape != nil {
		low, high := p.Ends()
		g.At[machine.Main] = machine.Range(low, high)
		if k.m.HasSecond() {
			g.At[machine.Second] = p.PlacesBehind(p.Ever())
		}
	}
	_, behind := k.holding()
	if id == pass.BeginID && p.Begin.Way == "two-bed" {
		_, behind = begun(p)
	}
	if !behind.Empty() { // a rib may stand beyond the places of either bed
		if g.At[machine.Main].Empty() {
			g.At = recipe.Bases(p)
		}
		for bed := range g.At {
			g.At[bed] = g.At[bed].Or(behind)
		}
	}
	rec, errs := recipe.Read(text, g)
	if len(errs) > 0 {
		panic("plan: " + errs[0].Error() + "\n" + text) // a text of our own
	}
	acts.Plan(k.ctx, k.loom, k.Outside, rec, g, 0)
}

// beginPiece brings the first loops on, as the piece says.
func (k *planner) beginPiece() {
	if k.Piece.Begin == nil || len(k.sections) == 0 {
		return
	}
	k.outside(pass.BeginID, beginText(k.Piece), piece.Whole)
	k.loom.SetCounter(0)
}

// loosely knits the last row in the size of a finish that has no pass of its own, or, before a join, two sizes larger:
// its loops are drawn through others.
func (k *planner) loosely(e *piece.End) {
	if len(k.Passes) == 0 || e.Way != "join" && e.Way != "hook" && e.Way != "chain" {
		return
	}
	last := &k.Passes[len(k.Passes)-1]
	size := e.Size
	if e.Way == "join" {
		size = cmp.Or(size, stepped(last.Main().Size, 2))
	}
	first := len(k.Passes) - 1
	for first > 0 && k.Passes[first-1].Row() == last.Row() && k.Passes[first-1].Section == last.Section &&
		!k.Passes[first-1].Free {
		first--
	}
	if size == "" || last.Recipe > 0 || last.Row() == 0 || last.Section == 0 {
		return
	}
	p := &k.Passes[first]
	for i := range p.Beds {
		if half := &p.Beds[i]; !half.AtWork.Empty() && half.Size != "" && half.Size != size {
			of := machine.BedNo(i)
			p.Before = slices.DeleteFunc(p.Before, func(st pass.Step) bool {
				set, ok := st.Step.(step.Size)
				return ok && set.Of == of
			})
			p.Add(step.Size{Of: of, Size: size})
			for j := first; j < len(k.Passes); j++ {
				k.Passes[j].Beds[i].Size = size
			}
			k.loom.Dial(of, size)
		}
	}
}

// endPiece takes the last loops off, as the piece says; where a recipe has taken everything off, it
// does nothing.
func (k *planner) endPiece(part piece.Part) {
	if part == piece.Whole && k.shape.second > 0 {
		part = piece.SecondPart
	}
	e := k.Piece.EndOf(part)
	main, second := k.holding()
	if e == nil || main.Empty() && second.Empty() {
		return
	}
	k.loosely(e)
	k.loom.TakeBack()
	y := k.Piece.Sections[len(k.Piece.Sections)-1].Yarn
	if n := len(k.Passes); n > 0 && k.Passes[n-1].Yarn(1) != 0 {
		y = k.Passes[n-1].Yarn(1)
	}
	k.outside(pass.EndID, endText(k.Piece, e, main, second.Minus(k.loom.Bare()), y), part)
}

// holding is what both beds hold after all that is planned.
func (k *planner) holding() (main, second machine.Set) {
	if n := len(k.Recipes); n > 0 && k.loom.AfterRecipe() {
		return k.Recipes[n-1].Run.Beds.Holds[machine.Main], k.Recipes[n-1].Run.Beds.Holds[machine.Second]
	}
	if len(k.Passes) == 0 {
		return machine.Set{}, machine.Set{}
	}
	return k.loom.Holding()
}

// freeBefore sends the carriage across empty where the first row needs the other side after a start.
func (k *planner) freeBefore(s *section, w loom.Work) bool {
	n := len(k.Findings)
	if k.begin(s, w) {
		return true
	}
	if s.No != 1 || k.Piece.Begin == nil || len(k.Passes) == 0 || s.Section.Free ||
		k.Findings[len(k.Findings)-1].Code != finding.CarriageSide {
		return false
	}
	k.Findings = k.Findings[:n]
	k.loom.Empty(k.loom.Knitter())
	return k.begin(s, w)
}

// held stops a section of another technique that follows a recipe which has left needles in hold, or
// loops on the second bed.
func (k *planner) held(s *section) bool {
	n := len(k.Recipes)
	if n == 0 || s.technique.Loops || !k.loom.AfterRecipe() || k.Recipes[n-1].Section == 0 {
		return false
	}
	last := &k.Recipes[n-1]
	hold := last.Run.Held()
	behind := last.Run.Beds.Holds[machine.Second]
	if hold[machine.Main].Empty() && behind.Empty() {
		return false
	}
	f := finding.Finding{Code: finding.RecipeHeld, Severity: finding.Stop, Section: last.Section,
		Needles: hold[machine.Main],
		Text: fmt.Sprintf("The recipe leaves %v in hold, and a section of another technique follows.",
			hold[machine.Main]),
		Fix: "Take them back at its end: pass 2: knit held"}
	if hold[machine.Main].Empty() {
		f.Needles, f.Fix = behind, "Move them to the main bed at its end, or drop them"
		f.Text = fmt.Sprintf("The recipe leaves loops on %v of the second bed, and a section of another technique "+
			"follows.", behind)
	}
	k.Report(f)
	return true
}

// off is what takes the last stitches off where the piece says nothing of it. Where a recipe has
// taken them off already there is nothing to do.
func (k *planner) off() {
	var main, behind machine.Set
	if k.loom.AfterRecipe() {
		main, behind = k.holding()
	} else if n := len(k.Passes); n > 0 {
		main, behind = k.Passes[n-1].Main().AtWork, k.Passes[n-1].Second().AtWork
	}
	part := piece.Whole
	if k.shape.second > 0 {
		part = piece.SecondPart
	}
	if k.Piece.EndOf(part) != nil || main.Empty() && behind.Empty() {
		return
	}
	k.After = append(k.After, pass.Steps(step.Care{Text: step.CareWeights}, step.WeightsOff{})...)
	if !main.Empty() {
		k.After = append(k.After, pass.Steps(step.BindOff{At: step.Main(main)})...)
	}
	if !behind.Empty() {
		k.After = append(k.After, pass.Steps(step.BindOff{At: step.On(machine.Second, behind)})...)
	}
}
