// Package demo is Larkmoor, a moorland bird station that knits its own furnishings:
// made-up pieces to try Vindel with. It imports store and the core.
package demo

import (
	"cmp"
	"context"
	_ "embed" // machine.json
	"encoding/json"
	"fmt"
	"io/fs"
	"slices"
	"time"

	"vindel/demo/pieces"
	"vindel/knit/edit"
	"vindel/knit/pass"
	"vindel/knit/plan"
	"vindel/knit/project"
	"vindel/knit/recipe"
	"vindel/knit/technique"
	"vindel/store"
)

// knitted is how many passes of a piece have been knitted already, and how many days ago they were begun.
var knitted = map[string]struct{ passes, days int }{"wind-streamer": {2171, 1}, "9-screen.json": {57, 2},
	"2-cap.json": {23, 3}, "15-mittenback.json": {50, 4}, "rain-curtain": {9, 5}, "lichen-kneeler": {8, 6}}

// past is what else the journal of a piece tells: after how many passes, and how long it took.
var past = map[string][]happened{
	"2-cap.json": {{12, 4 * time.Minute, store.Entry{Kind: "pause", Cause: "door"}, 0},
		{12, 0, store.Entry{Kind: "resume"}, 0},
		{18, 2 * time.Minute, store.Entry{Kind: "fault", Cause: "needle",
			Note: "A needle was not forward in pass 16."}, 15},
		{21, time.Minute, store.Entry{Kind: "note", Note: "the new frost is a little thicker"}, 0}},
	"9-screen.json": {{40, 3 * time.Minute, store.Entry{Kind: "pause", Cause: "needle"}, 0},
		{40, 0, store.Entry{Kind: "resume"}, 0}},
}

type happened struct {
	after int
	took  time.Duration
	entry store.Entry
	back  int // passes that are knitted then; 0: as many as before
}

// journal is passes knitted one after another, with what happened between.
func journal(passes []pass.Pass, past []happened, at time.Time) (list []store.Entry) {
	done := 0
	write := func(e store.Entry, took time.Duration) {
		at = at.Add(took)
		e.At, e.Done = at, done
		if done > 0 {
			e.Pass = passes[done-1].ID
		}
		list = append(list, e)
	}
	for done < len(passes) {
		done++
		write(store.Entry{Kind: "knitted"}, 14*time.Second)
		for len(past) > 0 && past[0].after == done {
			h := past[0]
			if past = past[1:]; h.back > 0 {
				done = h.back
			}
			write(h.entry, h.took)
		}
	}
	return list
}

// Fill puts the pieces of Larkmoor into a store that has none, all at once; another is left alone.
func Fill(ctx context.Context, st *store.Store) error {
	if have, err := st.Count(ctx); err != nil || have > 0 {
		return err
	}
	names, err := fs.Glob(pieces.Files, "*.json")
	if err != nil {
		return err
	}
	slices.SortFunc(names, func(a, b string) int { return cmp.Compare(place(a), place(b)) })
	var list []store.Begun
	docs := map[string][]byte{}
	for _, name := range names {
		if docs[name], err = pieces.Files.ReadFile(name); err != nil {
			return err
		}
	}
	later := slices.IndexFunc(names, func(name string) bool { return place(name) > 14 })
	for i, e := range recipe.Examples[:6] { // Larkmoor's own, which ship to begin from
		docs[e.Name], names = e.File, slices.Insert(names, later+i, e.Name)
	}
	const onOwn = "15-mittenback.json" // the piece that is on Larkmoor's own machine
	if docs[onOwn], err = onMachine(docs[onOwn]); err != nil {
		return err
	}
	back := int64(slices.Index(names, "15-mittenback.json") + 1)
	if docs[palm], err = mirrored(docs[names[back-1]]); err != nil {
		return err
	}
	newest := slices.IndexFunc(names, func(name string) bool { return place(name) > 16 })
	names = slices.Insert(names, newest, palm) // after it what has come later, so that every piece keeps its number
	for _, name := range names {
		doc := docs[name]
		p, err := technique.Read(doc)
		if err != nil {
			return fmt.Errorf("demo: %s: %w", name, err)
		}
		passes := plan.Make(p).Passes
		so := knitted[name]
		list = append(list, store.Begun{Doc: doc, Journal: journal(passes[:so.passes], past[name],
			time.Now().Add(-2*time.Hour-time.Duration(so.days)*(24*time.Hour+37*time.Minute)))})
	}
	if err := st.Fill(ctx, list); err != nil {
		return err
	}
	if _, err := st.AddMachine(ctx, ownMachine); err != nil {
		return err
	}
	return mitten(ctx, st, back, int64(slices.Index(names, palm)+1))
}

// ownMachine is a card machine with Larkmoor's words and controls.
//
//go:embed machine.json
var ownMachine []byte

// onMachine puts a piece on it.
func onMachine(of []byte) ([]byte, error) {
	doc, err := edit.Parse(of)
	if err != nil {
		return nil, err
	}
	var m any
	if err := json.Unmarshal(ownMachine, &m); err != nil {
		return nil, err
	}
	_, err = doc.Apply(edit.OnMachine(m))
	return doc.JSON(), err
}

// palm is the name of the piece that is the mitten back's mirror image.
const palm = "Mitten palm, falling feathers"

func mirrored(of []byte) ([]byte, error) {
	p, err := technique.Read(of)
	if err != nil {
		return nil, err
	}
	doc, err := edit.Parse(of)
	if err != nil {
		return nil, err
	}
	changes, err := edit.Mirrored(p, palm)
	if err == nil {
		_, err = doc.Apply(changes)
	}
	return doc.JSON(), err
}

// mitten puts a mitten's back and palm together as a project.
func mitten(ctx context.Context, st *store.Store, back, palm int64) error {
	seam := func(a, b, how string) project.Seam {
		return project.Seam{A: project.End{Piece: back, Edge: a}, B: project.End{Piece: palm, Edge: b}, How: how}
	}
	p := project.Project{Name: "Ringer's mitten, back and palm",
		Parts: []project.Member{{Piece: back}, {Piece: palm, MirrorOf: back}},
		Seams: []project.Seam{seam("top", "top", "joined"), seam("left", "right", "sewn"), seam("right", "left",
			"sewn")},
		Balls: []project.Ball{{Yarn: "straw", Grams: 25, Metres: 95, Have: 1}, {Yarn: "moss", Grams: 25, Metres: 95,
			Have: 1}}}
	doc, err := json.Marshal(p)
	if err != nil {
		return err
	}
	_, err = st.AddProject(ctx, p.Name, doc)
	return err
}

// place is the number that a piece's file begins with.
func place(name string) (n int) {
	fmt.Sscanf(name, "%d-", &n)
	return n
}
