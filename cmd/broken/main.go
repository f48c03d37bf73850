// Command broken breaks the rules of the house on purpose, one at a time, and lists what no test notices.
//
// The rules are the rows of docs/rules.md. A row is drawn, then a place in the file (or the function) that it names,
// read off the syntax tree: a comparison, a limit, a side, a step, a condition. All the places drawn are put into
// one copy of the source, each behind a switch, so that every test is built once:
//
//	a < b    becomes    (broken.Is(17) && (a <= b) || !broken.Is(17) && (a < b))
//
// The copy is never on disk beside the source: the go command is given it as an overlay. Every test function is run
// once with no switch thrown, to learn which places it reaches and how long it takes; then every place is broken in
// turn, and the functions that reach it are run, those of its own package first, the quickest first, until one fails.
//
//	go run ./cmd/broken -seed 7 -n 100
//
// It prints a line a place, noticed or not, with the test that noticed; at the end how many were not. A survivor is
// a rule without a test, or a change that changes nothing: known.txt beside this file holds those, with the reason.
package main

import (
	"context"
	"flag"
	"fmt"
	"math/rand/v2"
	"os"
	"os/signal"
	"strings"
	"time"
)

func main() {
	seed := flag.Uint64("seed", uint64(time.Now().UnixNano()), "which places are drawn")
	n := flag.Int("n", 100, "how many places are broken")
	budget := flag.Duration("budget", 3*time.Minute, "tests run for one place at most, by their own time")
	only := flag.String("only", "", "only places in files whose path contains this")
	skip := flag.String("skip", "", "packages, by commas, whose tests are not run")
	list := flag.Bool("list", false, "list the places, break nothing")
	flag.Parse()
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt)
	defer stop()
	if err := run(ctx, *seed, *n, *budget, *only, *skip, *list); err != nil {
		fmt.Fprintln(os.Stderr, "broken:", err)
		os.Exit(1)
	}
}

func run(ctx context.Context, seed uint64, n int, budget time.Duration, only, skip string, list bool) error {
	rules, err := Rules("docs/rules.md")
	if err != nil {
		return err
	}
	known, err := Known("cmd/broken/known.txt")
	if err != nil {
		return err
	}
	places, err := Places(rules, func(p *Place) bool { return strings.Contains(p.File, only) && !known[p.Key()] })
	if err != nil {
		return err
	}
	drawn := Draw(rand.New(rand.NewPCG(seed, 0)), places, n)
	fmt.Printf("seed %d: %d of %d places in %d rules\n", seed, len(drawn), len(places), len(rules))
	if list {
		for _, p := range drawn {
			fmt.Println(p)
		}
		return nil
	}
	bench, err := Build(ctx, drawn, strings.Split(skip, ","))
	if err != nil {
		return err
	}
	defer bench.Close()
	if err := bench.Learn(ctx); err != nil {
		return err
	}
	unnoticed := bench.Break(ctx, drawn, budget, func(p *Place, by string) {
		if by == "" {
			by = "NOBODY NOTICED"
		}
		fmt.Printf("%s\n\t%s\n", p, by)
	})
	if err := ctx.Err(); err != nil {
		return err
	}
	fmt.Printf("seed %d: %d of %d unnoticed\n", seed, len(unnoticed), len(drawn))
	for _, p := range unnoticed {
		fmt.Println(p)
	}
	return nil
}
