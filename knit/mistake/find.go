package mistake

import (
	"cmp"
	"context"
	"slices"

	"vindel/knit/fabric"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/step"
)

// Sight is what she marks on the fabric: how it looks otherwise, and where, in courses from 1 and needles;
// both about right.
type Sight struct {
	Signs       []Sign
	First, Last int
	Left, Right machine.Needle
}

// Guess is a mistake that would make a fabric as she marks it: the place that fits best, and places that fit
// nearly as well.
type Guess struct {
	Mistake
	Near  []Mistake
	Seen  *Difference
	Score float64 // the more the better
}

// Bounds on what is played for one question.
const (
	mostPlayed  = 600
	leastPlayed = 40
	mostPasses  = 3_000_000 // of all that are played
	around      = 2         // courses below and above the lowest mark from which a mistake may come
	stepsBack   = 10
	nearly      = 0.25 // of the score: places that fit so much worse are named with the best
	mostNear    = 4
)

// Until is the plan as far as `done` of its passes: what is on the machine then.
func Until(pl *pass.Plan, done int) *pass.Plan {
	if done >= len(pl.Passes) {
		return pl
	}
	part := *pl
	part.Passes, part.After = pl.Passes[:max(done, 0)], nil
	return &part
}

// Find plays the mistakes that could have made what is marked on the fabric of a plan that was knitted so
// far (Until), and ranks those that fit, the best first; of the same kind only the best is a guess.
// Where the context ends first the error is the context's.
func Find(ctx context.Context, pl *pass.Plan, marks []Sight) ([]Guess, error) {
	if len(marks) == 0 || len(pl.Passes) == 0 {
		return nil, nil
	}
	planned, err := fabric.Knit(ctx, pl)
	if err != nil {
		return nil, err
	}
	look := See(planned)
	var found []Guess
	for _, m := range likely(pl, marks) {
		f, err := m.Play(ctx, pl)
		if err != nil {
			return nil, err
		}
		d := Compare(look, See(f))
		if d.None() {
			continue
		}
		found = append(found, Guess{Mistake: m, Seen: d, Score: fits(d, marks)})
	}
	return ranked(found), nil
}

// ranked puts the best place of every kind first, with those that fit nearly as well.
func ranked(found []Guess) (list []Guess) {
	slices.SortStableFunc(found, func(a, b Guess) int {
		return cmp.Or(cmp.Compare(b.Score, a.Score), cmp.Compare(slices.Index(Kinds, a.Kind), slices.Index(Kinds,
			b.Kind)))
	})
	at := map[Kind]int{}
	for _, g := range found {
		k, known := at[g.Kind]
		if !known {
			at[g.Kind] = len(list)
			list = append(list, g)
			continue
		}
		if best := &list[k]; len(best.Near) < mostNear && g.Score >= best.Score-nearly && (g.Pass != best.Pass ||
			g.Step != best.Step) {
			best.Near = append(best.Near, g.Mistake)
		}
	}
	return list
}

// likely lists what is played: everything about the lowest row that is marked, and of what is set once and
// acts later (levers, cards, yarns) the last few before it.
func likely(pl *pass.Plan, marks []Sight) (list []Mistake) {
	first, left, right := marks[0].First, marks[0].Left, marks[0].Right
	last := marks[0].Last
	for _, m := range marks[1:] {
		first, last, left, right = min(first, m.First), max(last, m.Last), min(left, m.Left), max(right, m.Right)
	}
	var steps, about, single []Mistake // the last are the many
	course := 0
	for i := range pl.Passes {
		p := &pl.Passes[i]
		makes := p.Course // the course in which a mistake in this pass shows first
		for j := i + 1; makes == 0 && j < len(pl.Passes); j++ {
			makes = pl.Passes[j].Course
		}
		course = max(course, p.Course)
		close := makes >= first-around && makes <= first+around
		if makes > first+around && p.ID.Part == "" {
			break
		}
		slips := slices.ContainsFunc(p.Before, func(st pass.Step) bool { return st.Slip() != step.NoSlip })
		if !close && !slips && p.Carriage != machine.SecondCarriage && !selects(p) {
			continue
		}
		for _, m := range All(pl, i, i+1) {
			switch {
			case m.Kind == Needle || m.Kind == EndNeedle:
				if close && m.Needle >= left-3 && m.Needle <= right+3 {
					single = append(single, m)
				}
			case m.Step >= 0 || m.Kind == DropMissed || m.Kind == Selecting:
				steps = append(steps, m)
			case close:
				about = append(about, m)
			}
		}
	}
	steps = append(steps, unseen(pl, first)...)
	if len(steps) > 6*stepsBack { // those of the last rows, whatever they are
		steps = steps[len(steps)-6*stepsBack:]
	}
	slices.Reverse(steps)
	most := max(leastPlayed, min(mostPlayed, mostPasses/len(pl.Passes)))
	if last-first > 3 && len(about)+len(steps)+len(single) > most {
		single = nil
	}
	list = append(append(about, steps...), single...)
	list = list[:min(len(list), most)]
	return list
}

// unseen is a pass too many, and one too few, in the middle of every stretch of a card or program that ends
// about a course: where the card goes on by itself, only the end shows it.
func unseen(pl *pass.Plan, course int) (list []Mistake) {
	for i, from := 0, 0; i < len(pl.Passes); i++ {
		p := &pl.Passes[i]
		if i+1 < len(pl.Passes) && pl.Passes[i+1].Section == p.Section {
			continue
		}
		if at := (from + i) / 2; p.Section > 0 && pl.LinesOf(p.Section) > 0 && abs(p.Course-course) <= 2*around &&
			pl.Passes[at].Line > 0 {
			list = append(list, Mistake{Kind: More, Pass: at, Step: -1}, Mistake{Kind: Less, Pass: at, Step: -1})
		}
		from = i + 1
	}
	return list
}

// fits scores how well a difference agrees with the marks: where it begins and ends, on which needles, and
// how it looks. The best is 1 + 1 + 1 + 2.
func fits(d *Difference, marks []Sight) (score float64) {
	for _, m := range marks {
		if d.First == 0 { // it shows only in the number of rows
			score += alike(d.Signs, m.Signs)
			continue
		}
		off := float64(abs(d.First - m.First))
		score += 1 / (1 + off/2)
		score += overlap(d.First, d.Last, m.First, m.Last)
		score += overlap(int(d.Left), int(d.Right), int(m.Left), int(m.Right))
		score += 2 * alike(d.Signs, m.Signs)
	}
	return score / float64(len(marks))
}

// alike is the part of the signs that are marked, or true, which are both.
func alike(is, marked []Sign) float64 {
	both := 0
	for _, s := range marked {
		if slices.Contains(is, s) {
			both++
		}
	}
	return float64(both) / float64(len(is)+len(marked)-both)
}

// overlap is the part that two stretches have in common, of both together.
func overlap(a, b, c, d int) float64 {
	both := min(b, d) - max(a, c) + 1
	if both <= 0 {
		return 0
	}
	return float64(both) / float64(max(b, d)-min(a, c)+1)
}
