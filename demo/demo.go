// Package demo is Larkmoor, a moorland bird station that knits its own furnishings:
// made-up pieces to try Vindel with. It imports store and the core.
package demo

import (
	"cmp"
	"context"
	"embed"
	"fmt"
	"io/fs"
	"slices"
	"strings"
	"time"

	"vindel/knit/plan"
	"vindel/knit/recipe"
	"vindel/knit/technique"
	"vindel/store"
)

// Pieces are the files of the pieces, "pieces/N-name.json".
//
//go:embed pieces/*.json
var Pieces embed.FS

// knitted is how many passes of a piece have been knitted already.
var knitted = map[string]int{"pieces/2-cap.json": 23, "pieces/9-screen.json": 57, "pieces/15-mittenback.json": 50, "wind-streamer": 2171, "rain-curtain": 9, "lichen-kneeler": 8}

// Fill puts the pieces of Larkmoor into a store that has none, all at once; another is left alone.
func Fill(ctx context.Context, st *store.Store) error {
	if have, err := st.Count(ctx); err != nil || have > 0 {
		return err
	}
	names, err := fs.Glob(Pieces, "pieces/*.json")
	if err != nil {
		return err
	}
	slices.SortFunc(names, func(a, b string) int { return cmp.Compare(place(a), place(b)) })
	var list []store.Begun
	docs := map[string][]byte{}
	for _, name := range names {
		if docs[name], err = Pieces.ReadFile(name); err != nil {
			return err
		}
	}
	later := slices.IndexFunc(names, func(name string) bool { return place(name) > 14 })
	for i, e := range recipe.Examples[:6] { // Larkmoor's own, which ship to begin from
		docs[e.Name], names = e.File, slices.Insert(names, later+i, e.Name)
	}
	for _, name := range names {
		doc := docs[name]
		p, err := technique.Read(doc)
		if err != nil {
			return fmt.Errorf("demo: %s: %w", name, err)
		}
		passes, begun := plan.Make(p).Passes, store.Begun{Doc: doc}
		for done := range knitted[name] {
			begun.Journal = append(begun.Journal, store.Entry{Kind: "knitted", Done: done + 1, Pass: passes[done].ID,
				At: time.Now().Add(-26*time.Hour + time.Duration(done)*14*time.Second)})
		}
		list = append(list, begun)
	}
	return st.Fill(ctx, list)
}

// place is the number that a piece's file begins with.
func place(name string) (n int) {
	fmt.Sscanf(strings.TrimPrefix(name, "pieces/"), "%d-", &n)
	return n
}
