package technique

import (
	"context"
	"iter"
	"slices"

	"vindel/knit/acts"
	"vindel/knit/bed"
	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/loom"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
)

// Technique is one way to knit the rows of a section, from what its charts draw to what
// the fabric must be. Adding one is a file with such a value and a line in All
// (docs/techniques.md); what is left nil means what its comment says.
type Technique struct {
	piece.Technique // what the piece file and its drawings know of it

	// Lacks says what the machine is missing to knit the section, "" where it can; nil:
	// any machine can.
	Lacks func(m *machine.Profile, s *piece.Section) string
	// Else says how the section (from 1) can be knitted on a machine that lacks something, and what
	// makes it so; nil, or no changes: not at all.
	Else func(m *machine.Profile, s *piece.Section, no int) (fix string, changes []edit.Change)
	// Knitter is the carriage that knits its rows; nil: the knit carriage.
	Knitter func(m *machine.Profile, s *bed.Placed) machine.Carriage
	// Brings says that an empty pass brings its needles to where they are wanted before its first row, and
	// again wherever hands have been at work.
	Brings bool
	// Showing says that it asks what needles show from the rows below.
	Showing bool

	// Rows yields what is knitted in one go, in its own order; nil: row by row.
	Rows func(s *bed.Placed) iter.Seq[int]
	// Courses is how many rows of the fabric one of its rows makes; nil: one, or two where
	// its needles are selected by a reader that gives every line two passes.
	Courses func(m *machine.Profile, s *piece.Section) int
	// Yarns is what a row needs, or the finding that stops the plan there. It is asked
	// first for every row of the piece, so that yarns can be shared out over the whole.
	Yarns func(p *piece.Piece, s *bed.Placed, row int) (loom.Need, *finding.Finding)
	// Order puts the yarns of its rows, one list a row, in the order in which they are knitted, where
	// each takes a pass of its own; before is the yarn in the feeder when the first is begun. nil: as
	// they are shared out.
	Order func(s *bed.Placed, rows [][]piece.YarnNo, before piece.YarnNo) [][]piece.YarnNo
	// May says what stands in the way of a row once the rows below it are planned; nil:
	// nothing ever does.
	May func(l *loom.Loom, w loom.Work) *finding.Finding
	// Knit makes the passes of a row.
	Knit func(l *loom.Loom, w loom.Work)
	// Passes is how many passes a row takes, where that is a rule of its own; nil: it is not counted.
	Passes func(s *bed.Placed, row int) int
	// PassLines says that every pass of a row has a program line of its own, of a reader of pairs
	// every two; not: a row has one.
	PassLines bool
	// Lines numbers the program lines of the section's passes, where they are not one a
	// row, and says how many there are; nil: one a row. before is how many lines the rows
	// below them take, those of a second part being numbered from where the piece divides.
	Lines func(m *machine.Profile, s *bed.Placed, passes []pass.Pass, before int) int

	// Loops says that what it means is compared loop by loop, and not course by course.
	Loops bool
	// Asks is what a course of the fabric must be, from the placed chart alone.
	Asks func(p *piece.Piece, s *bed.Placed, c *fabric.Course) fabric.Want
	// Limits reports where the section (from 1) goes beyond what is good for fabric or
	// machine; nil: nothing but what is told of every section, such as floats.
	Limits func(pl *pass.Plan, f *fabric.Fabric, section int) []finding.Finding
}

// All lists the techniques in the order of the rules.
var All = []*Technique{&Plain, &TwoColour, &Slip, &Tuck, &Lace, &Weave, &Intarsia, &Texture, &Separated, &Plated,
	&Recipe}

// facts is what the reader of piece files is handed.
var facts = func() (list piece.Techniques) {
	for _, t := range All {
		list = append(list, &t.Technique)
	}
	return list
}()

// Read reads a piece file with all the techniques there are, as piece.Read does.
func Read(data []byte) (*piece.Piece, error) { return piece.Read(data, facts) }

// Piece reads a document as a piece, as Read does.
func Piece(d *edit.Document) (*piece.Piece, error) { return piece.FromTree(d.Tree(), facts) }

// Of is the technique of a section.
func Of(s *piece.Section) *Technique {
	i := slices.IndexFunc(All, func(t *Technique) bool { return &t.Technique == s.Technique })
	return All[i]
}

// Find is the technique with a name, nil where there is none.
func Find(name string) *Technique {
	for _, t := range All {
		if t.Name == name {
			return t
		}
	}
	return nil
}

// For is the technique that a new drawing is begun in: lace where it can only be lace, else
// the one named, or two-colour.
func For(c *chart.Chart, name string) *Technique {
	if c != nil && chart.IsLace(c) {
		return &Lace
	}
	if t := Find(name); t != nil {
		return t
	}
	return &TwoColour
}

// Planned lists the techniques that can be planned.
func Planned() (list []*Technique) {
	for _, t := range All {
		if t.Knit != nil {
			list = append(list, t)
		}
	}
	return list
}

// Lack is what the machine is missing to knit the section in the technique, "" where it can.
func (t *Technique) Lack(m *machine.Profile, s *piece.Section) string {
	if t.Lacks == nil {
		return ""
	}
	return t.Lacks(m, s)
}

// KnitterOf is the carriage that knits the section's rows on the machine.
func (t *Technique) KnitterOf(m *machine.Profile, s *bed.Placed) machine.Carriage {
	if t.Knitter == nil {
		return machine.KnitCarriage
	}
	return t.Knitter(m, s)
}

// RowsOf yields the section's rows, from 1, in the order in which they are knitted.
func (t *Technique) RowsOf(s *bed.Placed) iter.Seq[int] {
	if t.Rows != nil {
		return t.Rows(s)
	}
	return func(yield func(int) bool) {
		for r := 1; r <= s.Rows; r++ {
			if !yield(r) {
				return
			}
		}
	}
}

// CoursesOf is how many rows of the fabric one row of the section makes on the machine; the
// last may make one less, where it ends after the first pass of a pair.
func (t *Technique) CoursesOf(m *machine.Profile, s *piece.Section) int {
	switch {
	case t.Courses != nil:
		return t.Courses(m, s)
	case m.School == machine.Pairs && t.IsPatterned(m):
		return 2
	}
	return 1
}

// Able lists the shipped machines that can knit a section in the technique.
func (t *Technique) Able(s *piece.Section) (ids []string) {
	for _, id := range machine.IDs() {
		if m, err := machine.Shipped(id); err == nil && t.Knit != nil && t.Lack(&m, s) == "" {
			ids = append(ids, id)
		}
	}
	return ids
}

// Prove knits a plan on the simulated bed, and compares the fabric with what the techniques
// of its sections ask for.
func Prove(pl *pass.Plan) *fabric.Fabric {
	f, _ := ProveContext(context.Background(), pl) // which never ends
	return f
}

// ProveContext is Prove for as long as somebody waits for it: where the context ends first
// there is no fabric, and the error is the context's.
func ProveContext(ctx context.Context, pl *pass.Plan) (*fabric.Fabric, error) {
	f, err := fabric.Knit(ctx, pl)
	if err != nil {
		return nil, err
	}
	asks := make([]*Technique, len(pl.Placed))
	for i, s := range pl.Placed {
		asks[i] = Of(s.Section)
	}
	var doubled machine.Set
	shaped := pl.Parts
	if shaped != nil {
		starts(pl, f)
	}
	f.Compare(func(c *fabric.Course) fabric.Want {
		if shaped != nil {
			return shapedAsks(pl, f, shaped[c.Section-1], asks[c.Section-1], c, &doubled)
		}
		w := asks[c.Section-1].Asks(pl.Piece, pl.Section(c.Section), c)
		afterLines(f, c, &w)
		return w
	})
	if shaped != nil {
		f.Wraps(func(section, row int) machine.Set { return wraps(shaped[section-1], row) })
	}
	at := 0
	for i, s := range pl.Placed {
		at = asks[i].whole(f, s, at)
	}
	acts.Prove(pl, f)
	return f, ctx.Err()
}

// whole holds the courses of a section, from index at on, to the rows that it is to have, in
// their order and neither fewer nor more; where the plan stops, up to there. It gives the
// index of the first course after it.
func (t *Technique) whole(f *fabric.Fabric, s *bed.Placed, at int) int {
	pl := f.Plan
	if pl.Stopped.Row > 0 && s.No > pl.Stopped.Section {
		return at
	}
	if t.Loops {
		for at < len(f.Courses) && f.Courses[at].Section <= s.No {
			at++
		}
		return at
	}
	stops := pl.Stopped.Row > 0 && s.No == pl.Stopped.Section
	for at < len(f.Courses) && f.Courses[at].Row == 0 && f.Courses[at].Section <= s.No {
		at++ // selecting rows, and courses that are left out
	}
	made := t.made(pl, s.No)
	for r := range t.RowsOf(s) {
		if stops && r >= pl.Stopped.Row {
			break
		}
		for part := range made { // also those in which only the second bed knits
			if t.Passes(s.As(part), r) != made[part][r] && made[part][r] > 0 || part == piece.Whole &&
				len(made) == 1 && made[part][r] == 0 {
				f.Lacks(s.No, r, s.InWork(r))
			}
		}
		courses := t.CoursesOf(&pl.Piece.Machine, s.Section)
		if s.Section.Passes > 0 && r == s.Rows {
			courses--
		}
		for range courses {
			if at >= len(f.Courses) || f.Courses[at].Section != s.No || f.Courses[at].Row != r {
				f.Lacks(s.No, r, s.InWork(r))
				continue
			}
			at++
		}
	}
	for ; at < len(f.Courses) && f.Courses[at].Section == s.No; at++ {
		f.TooMany(&f.Courses[at])
	}
	return at
}

// made counts the passes of every row of a section (from 1), by the part that they are of, where the technique
// says how many there are to be.
func (t *Technique) made(pl *pass.Plan, section int) map[piece.Part]map[int]int {
	if t.Passes == nil {
		return nil
	}
	made := map[piece.Part]map[int]int{piece.Whole: {}}
	for i := range pl.Passes {
		p := &pl.Passes[i]
		if p.Section != section {
			continue
		}
		part := piece.PartOf(p.ID.Part)
		if made[part] == nil {
			made[part] = map[int]int{}
		}
		made[part][p.Row()]++
	}
	return made
}

// --- what many techniques share ------------------------------------------------

func always(*machine.Profile) bool { return true }

// sectionYarn is the need of a row that one yarn of the section knits.
func sectionYarn(_ *piece.Piece, s *bed.Placed, row int) (loom.Need, *finding.Finding) {
	return loom.Only(s.Section.RowYarn(row)), nil
}

// asksStitches asks for the row's yarns and for what the chart marks: which needles slip,
// tuck, purl, and lie under a weft.
func asksStitches(_ *piece.Piece, s *bed.Placed, c *fabric.Course) (w fabric.Want) {
	w.Yarns = s.YarnRow(c.Row)
	w.Ask(fabric.Slipped, s.Wants(c.Row, chart.Slip))
	w.Ask(fabric.Tucked, s.Wants(c.Row, chart.Tuck))
	w.Ask(fabric.Purled, s.Wants(c.Row, chart.Purl))
	w.Ask(fabric.Covered, s.Wants(c.Row, chart.Weave))
	return w
}

// heldEnds is the end needles that a policy keeps where they knit, and that do not follow
// the chart for it; none where the section has no such policy, or where a motif does not
// cover the work.
func heldEnds(s *bed.Placed, row int) machine.Set {
	if work := s.InWork(row); s.Section.Options.EndsHeld() && s.CoversRow(row) {
		return machine.SetOf(work.First(), work.Last())
	}
	return machine.Set{}
}

// inverted says that the chart's marks are the blanks of the card or program.
func inverted(s *bed.Placed, marks, why string) finding.Finding {
	return finding.Finding{Code: finding.CardInverted, Severity: finding.Note, Section: s.No, Rows: [2]int{1, s.Rows},
		Needles: s.Covered,
		Text: "The chart marks the " + marks + "; on this machine " + why +
			", so the card or program is the chart inverted. It has been done."}
}
