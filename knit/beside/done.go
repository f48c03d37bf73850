package beside

import "vindel/knit/pass"

// Done is how many passes of a plan are knitted, given the identity of the last of them
// and the count that the journal has. An edit elsewhere moves the pass with its section; where
// the plan has it no longer, the last one before it in its section counts as knitted. A
// journal that knows no identity has its count alone. exact is false where the plan had to
// be asked what comes near.
func Done(pl *pass.Plan, last pass.ID, count int) (done int, exact bool) {
	if last == (pass.ID{}) || count == 0 {
		return min(count, len(pl.Passes)), count <= len(pl.Passes)
	}
	if i := pl.Find(last); i >= 0 {
		return i + 1, true
	}
	for i := range pl.Passes {
		if id := pl.Passes[i].ID; id.Section == last.Section && id.Before(last) {
			done = i + 1
		}
	}
	if done == 0 { // its section is gone, or none of it is planned
		done = min(count, len(pl.Passes))
	}
	return done, false
}
