// Package chance is where tests get what is left to chance: how many random cases, from which seed, and random pieces.
// It stands beside the core, which knows no chance.
package chance

import (
	"math/rand/v2"
	"os"
	"strconv"
	"testing"
)

// Soaks says that tests take as long as they like: `make soak` sets VINDEL_SOAK. Else random cases are a fixed
// slice of what they are there.
func Soaks() bool { return os.Getenv("VINDEL_SOAK") != "" }

// Cases is how many of n random cases are tried: all in `make soak`, else a quarter of them, and 100 at least.
func Cases(n int) int {
	if Soaks() {
		return n
	}
	return min(n, max(100, n/4))
}

// Share is what n of `of` random cases are of those that are tried.
func Share(n, of int) int { return n * Cases(of) / of }

// Rand is where the random cases of a test come from: the same ones each time; in `make soak` others, by VINDEL_SEED,
// which the log tells, so that what they found can be found again.
func Rand(t testing.TB, a, b uint64) *rand.Rand {
	t.Helper()
	if seed, err := strconv.ParseUint(os.Getenv("VINDEL_SEED"), 10, 64); err == nil {
		a ^= seed
		t.Logf("VINDEL_SEED=%d", seed)
	}
	return rand.New(rand.NewPCG(a, b))
}
