package web

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/fabric"
	"vindel/knit/mistake"
	"vindel/knit/pass"
	"vindel/knit/words"
	"vindel/store"
)

// trainerView shows a fabric with a mistake and asks which it is; or what a mistake of her choice looks like.
type trainerView struct {
	Page          Page
	ID            int64
	Name          string
	No            int // of the riddle
	Planned, Made madePicture
	Choices       []trainerChoice
	Answered      bool
	Right         bool
	Title, Text   string
	Looks         string
	GoOn          []string
	Mind          string
	Next          string
	Nothing       string

	Pass, Passes int // of what-if
	If           bool
	May          []trainerChoice // mistakes that can be made there
	Same         bool            // it cannot be seen
}

type trainerChoice struct {
	Text, To      string
	Chosen, Right bool
}

// trainer hides a mistake in the piece: a riddle by its number, the same for whoever has it.
func (s *Server) trainer(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		pl := d.result.Plan
		no := number(c.Query("n"), 0)
		if no <= 0 {
			no = 1 + int(s.now().UnixNano()/1e6)%100000
		}
		v := &trainerView{Page: s.piecePage(c, d, "trainer"), ID: d.stored.ID, Name: d.head().Name, No: no,
			Passes: len(pl.Passes)}
		here := fmt.Sprintf("/pieces/%d/knit/trainer", d.stored.ID)
		v.Next = fmt.Sprintf("%s?n=%d", here, no%100000+1)
		m, seen, kinds, err := riddle(c.Request.Context(), mistake.Until(pl, riddlePasses), no)
		if err != nil {
			s.fail(c, err)
			return
		}
		if seen == nil {
			v.Nothing = "Nothing that hands can get wrong here would be seen in the fabric. Choose a piece with a " +
				"pattern."
			s.render(c, "trainer", v)
			return
		}
		v.Planned, v.Made = d.pair(m, seen, min(len(pl.Passes), riddlePasses))
		v.Made.Alt = "As it was knitted"
		said := mistake.Kind(c.Query("say"))
		v.Answered = said != ""
		for _, k := range kinds {
			v.Choices = append(v.Choices, trainerChoice{k.Words(), fmt.Sprintf("%s?n=%d&say=%s", here, no, k),
				k == said, k == m.Kind})
		}
		if !v.Answered {
			v.Made.Boxed = false
			s.render(c, "trainer", v)
			return
		}
		v.Right = said == m.Kind
		v.tell(d, m, seen)
		s.render(c, "trainer", v)
	})
}

// tell says what the mistake was, how it looks, and how to come right again had it been seen at once.
func (v *trainerView) tell(d *opened, m mistake.Mistake, seen *mistake.Difference) {
	pl := d.result.Plan
	v.Title, v.Text, v.Mind = m.Kind.Words(), m.Say(pl), m.Mind(pl)
	v.GoOn = m.GoOn(pl, min(m.Pass+3, len(pl.Passes)))
	var signs []string
	for _, sign := range seen.Signs {
		signs = append(signs, sign.Words())
	}
	v.Looks = words.Capital(strings.Join(signs, "; ")) + "."
}

// riddle chooses a mistake by a number, one that is seen in the fabric, and the kinds among which she is to
// find it; seen is nil where no mistake would be seen.
func riddle(ctx context.Context, pl *pass.Plan, no int) (m mistake.Mistake, seen *mistake.Difference,
	kinds []mistake.Kind, err error) {
	rng := rand.New(rand.NewPCG(uint64(no), 7))
	can := map[mistake.Kind][]mistake.Mistake{}
	for k, i := range rng.Perm(len(pl.Passes)) {
		if k == riddlePlaces {
			break
		}
		for _, m := range mistake.All(pl, i, i+1) {
			can[m.Kind] = append(can[m.Kind], m)
		}
	}
	for _, k := range mistake.Kinds {
		if len(can[k]) > 0 {
			kinds = append(kinds, k)
		}
	}
	planned, err := fabric.Knit(ctx, pl)
	if err != nil {
		return m, nil, nil, err
	}
	look := mistake.See(planned)
	for range riddleTries {
		if len(kinds) == 0 {
			break
		}
		k := kinds[rng.IntN(len(kinds))]
		m = can[k][rng.IntN(len(can[k]))]
		f, err := m.Play(ctx, pl)
		if err != nil {
			return m, nil, nil, err
		}
		if d := mistake.Compare(look, mistake.See(f)); d.Cells > 0 {
			others := slices.DeleteFunc(slices.Clone(kinds), func(o mistake.Kind) bool { return o == k })
			rng.Shuffle(len(others), func(i, j int) { others[i], others[j] = others[j], others[i] })
			kinds = append(others[:min(len(others), 3)], k)
			slices.SortFunc(kinds, func(a, b mistake.Kind) int {
				return slices.Index(mistake.Kinds,
					a) - slices.Index(mistake.Kinds, b)
			})
			return m, d, kinds, nil
		}
	}
	return m, nil, nil, nil
}

// Bounds of a riddle: of long pieces the beginning, and some places of it.
const (
	riddleTries  = 30
	riddlePasses = 3000
	riddlePlaces = 150
)

// whatIf shows what a mistake at a pass would look like.
func (s *Server) whatIf(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		pl, q := d.result.Plan, c.Request.URL.Query()
		at, err := s.store.Reached(c.Request.Context(), d.stored.ID)
		if err == nil && len(pl.Passes) == 0 {
			err = store.ErrNone
		}
		if err != nil {
			s.fail(c, err)
			return
		}
		n := max(1, min(number(q.Get("pass"), d.done(at)+1), len(pl.Passes)))
		v := &trainerView{Page: s.piecePage(c, d, "trainer"), ID: d.stored.ID, Name: d.head().Name, If: true,
			Pass: n, Passes: len(pl.Passes)}
		here := fmt.Sprintf("/pieces/%d/knit/if?", d.stored.ID)
		chosen, ok := mistakeIn(q, pl)
		seenKind := map[string]bool{}
		if may := mistake.All(pl, n-1, n); !ok && len(may) > 0 {
			chosen, ok = may[0], true
		}
		for _, m := range mistake.All(pl, n-1, n) {
			key := string(m.Kind)
			if m.Kind != mistake.Needle && m.Kind != mistake.EndNeedle {
				key = fmt.Sprint(m.Kind, m.Step, m.By)
			}
			if seenKind[key] {
				continue
			}
			seenKind[key] = true
			text := m.Say(pl)
			v.May = append(v.May, trainerChoice{Text: text, To: here + mistakeQuery(m, len(pl.Passes)), Chosen: ok &&
				m == chosen})
		}
		if ok && chosen.Pass == n-1 {
			f, err := chosen.Play(c.Request.Context(), pl)
			if err != nil {
				s.fail(c, err)
				return
			}
			seen := mistake.Compare(mistake.See(d.result.Fabric), mistake.See(f))
			v.tell(d, chosen, seen)
			if v.Same = seen.None(); v.Same {
				v.Looks = "It would not be seen in the fabric."
				seen.First = max(1, pl.Passes[n-1].Course)
				seen.Last, seen.Left, seen.Right = seen.First, d.result.Fabric.From, d.result.Fabric.From
			} else if seen.First == 0 {
				v.Looks = fmt.Sprintf("It is seen only in the number of rows: %d more than planned.", seen.More)
				if seen.More < 0 {
					v.Looks = fmt.Sprintf("It is seen only in the number of rows: %d fewer than planned.", -seen.More)
				}
				v.Same = true
				seen.First = max(1, len(d.result.Fabric.Courses)-2)
				seen.Last, seen.Left, seen.Right = seen.First, d.result.Fabric.From, d.result.Fabric.From
			}
			v.Planned, v.Made = d.pair(chosen, seen, len(pl.Passes))
			v.Made.Boxed = !v.Same && v.Made.Boxed
			v.Same = seen.None()
			v.Answered = true
		}
		s.render(c, "trainer", v)
	})
}
