package plan

import (
	"context"
	"strings"

	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/recipe"
)

// Way is a way to begin or to end a piece, with what it takes on its machine.
type Way struct {
	Way, Name, About string
	Passes           int
	Side             machine.Side // on which it leaves the carriage
	Needs            []string     // parts and yarns besides
	Lacks            string       // what the machine is missing; "": nothing
}

// names of the ways, and what each is.
var (
	beginNames = map[string][2]string{
		"comb": {"By the comb", "closed; the comb casts on, and no row is knitted"},
		"every-second": {"Every second needle",
			"closed; every second needle, the comb, then the others on the way back"},
		"by-hand": {"Round each needle", "closed, by hand; the first row is knitted loosely"},
		"latch":   {"Latched", "closed, a chain over the needles with the latch tool"},
		"waste":   {"Waste yarn", "open loops, to be joined or picked up later; a cord pulls the waste off"},
		"two-bed": {"On two beds", "a zigzag over both beds, then once round on each"},
		"thread": {"A thread across",
			"as every second needle, with a thread laid across and weighted in place of the comb"},
	}
	endNames = map[string][2]string{
		"latch": {"Latched off", "a loose row, then a chain with the latch tool"},
		"waste": {"Onto waste yarn", "rows of waste yarn hold the open loops; then it comes off"},
		"drop":  {"Dropped", "a sample falls off the needles as it is"},
		"join":  {"Joined to the beginning", "the first row is hung up again, and both are closed together"},
		"hook":  {"Hooked through", "the end is drawn through all stitches and pulled tight"},
		"chain": {"Chained off", "one stitch through the next; on two beds by turns"},
	}
)

// tried goes through a text of our own as it stands for a piece, from a bare bed.
func tried(p *piece.Piece, text string) *recipe.Run {
	g := recipe.Ground{Piece: p}
	if _, behind := begun(p); !behind.Empty() {
		g.At = recipe.Bases(p)
		g.At[machine.Second] = g.At[machine.Second].Or(behind)
	}
	rec, errs := recipe.Read(text, g)
	if len(errs) > 0 {
		return nil
	}
	at := recipe.Start{Side: p.Start, Rack: p.Second.Rack, Pitch: p.Second.Pitch,
		Feeders: recipe.Pair{p.Sections[0].Yarn}}
	return rec.Go(context.Background(), g, 0, at)
}

// parts are what a text attaches and hangs on.
func parts(r *recipe.Run) (list []string) {
	for i := range r.Acts {
		switch a := &r.Acts[i]; {
		case a.Do == recipe.Attach:
			list = append(list, a.Step.Text)
		case a.Do == recipe.Weights && a.Step.Way == "on":
			if len(list) == 0 { // else a comb of its own is attached
				list = append(list, "a comb")
			}
			list = append(list, "weights")
		}
	}
	return list
}

// BeginWays are the ways to begin a piece, each with its passes and where it leaves the carriage.
func BeginWays(p *piece.Piece) (list []Way) {
	for _, way := range piece.BeginWays {
		w := Way{Way: way, Name: beginNames[way][0], About: beginNames[way][1], Side: p.Start}
		if way == "two-bed" && !p.Machine.HasSecond() {
			w.Lacks = "a second bed"
			list = append(list, w)
			continue
		}
		alone := *p
		b := piece.Begin{Way: way, Rows: piece.WasteRows, Rounds: 1, Cord: true}
		if p.Begin != nil && p.Begin.Way == way {
			b = *p.Begin
		} else if way == "waste" {
			b.Yarn = piece.YarnNo(len(p.Yarns))
		}
		alone.Begin = &b
		if r := tried(&alone, beginText(&alone)); r != nil {
			w.Side, w.Needs = r.Side, parts(r)
			for i := range r.Acts {
				if r.Acts[i].Pass != nil {
					w.Passes++
				}
			}
			if r.Stopped {
				w.Lacks = strings.TrimSpace(r.Found[len(r.Found)-1].Text)
			}
		}
		if way == "waste" {
			w.Needs = append(w.Needs, "a waste yarn")
		}
		if way == "thread" {
			w.Needs = append(w.Needs, "a thread, longer than the work is wide")
		}
		list = append(list, w)
	}
	return list
}

// EndWays are the ways to end a piece, each with its passes.
func EndWays(p *piece.Piece) (list []Way) {
	for _, way := range piece.EndWays {
		w := Way{Way: way, Name: endNames[way][0], About: endNames[way][1]}
		switch way {
		case "latch":
			w.Passes, w.Needs = 1, []string{"a latch tool"}
		case "waste":
			if w.Passes = piece.WasteRows; p.End != nil && p.End.Way == way {
				w.Passes = p.End.Rows
			}
			w.Needs = []string{"a waste yarn"}
		case "join":
			w.Needs = []string{"a start whose loops are open, such as waste yarn"}
		case "hook":
			w.Needs = []string{"a hook, and a long end"}
		}
		list = append(list, w)
	}
	return list
}
