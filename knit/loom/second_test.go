package loom_test

import (
	"testing"

	"vindel/chance"
	"vindel/knit/loom"
	"vindel/knit/piece"
)

// TestFewestChanges: over random rows no other order needs fewer changes of the yarn, by trying
// them all.
func TestFewestChanges(t *testing.T) {
	rng := chance.Rand(t, 3, 3)
	changes := func(rows [][]piece.YarnNo, before piece.YarnNo) (n int) {
		for _, row := range rows {
			for _, y := range row {
				if y != before {
					n++
				}
				before = y
			}
		}
		return n
	}
	for range 300 {
		rows, before := make([][]piece.YarnNo, 1+rng.IntN(4)), piece.YarnNo(rng.IntN(5))
		for r := range rows {
			for y := piece.YarnNo(1); y <= 4; y++ {
				if rng.IntN(2) == 0 && len(rows[r]) < 3 {
					rows[r] = append(rows[r], y)
				}
			}
			if len(rows[r]) == 0 {
				rows[r] = []piece.YarnNo{1}
			}
		}
		least := 1 << 30
		var try func(r int, done [][]piece.YarnNo)
		try = func(r int, done [][]piece.YarnNo) {
			if r == len(rows) {
				least = min(least, changes(done, before))
				return
			}
			permute(rows[r], func(order []piece.YarnNo) { try(r+1, append(done[:r:r], order)) })
		}
		try(0, nil)
		got := loom.Fewest(rows, before)
		if n := changes(got, before); n != least {
			t.Fatalf("%v after %d: %v needs %d changes, the fewest are %d", rows, before, got, n, least)
		}
		for r := range rows {
			if len(got[r]) != len(rows[r]) {
				t.Fatalf("%v: %v", rows, got)
			}
		}
	}
}

// permute calls f with every order of a list.
func permute(list []piece.YarnNo, f func([]piece.YarnNo)) {
	if len(list) < 2 {
		f(list)
		return
	}
	for i := range list {
		rest := append(append([]piece.YarnNo{}, list[:i]...), list[i+1:]...)
		permute(rest, func(tail []piece.YarnNo) { f(append([]piece.YarnNo{list[i]}, tail...)) })
	}
}
