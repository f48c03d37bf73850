package mistake_test

import (
	"testing"

	"vindel/knit/fabric"
	"vindel/knit/mistake"
	"vindel/knit/pass"
)

// knit knits a plan, with a mistake where there is one.
func knit(t *testing.T, m *mistake.Mistake, pl *pass.Plan) *fabric.Fabric {
	t.Helper()
	if m != nil {
		pl = m.Made(pl)
	}
	f, err := fabric.Knit(t.Context(), pl)
	if err != nil {
		t.Fatal(err)
	}
	return f
}
