package step

import "vindel/knit/piece"

// Cautions (rules 8), shown at the step where they matter.
const (
	CareHooks = "Latch hooks and moving carriages pinch: keep fingers and hair clear. Never force a carriage; " +
		"check what caught, and the stitch size. Your machine's manual comes first."
	CareWeights = "Weights fall when the last stitches come off: take them off first, with a hand under them."
	CarePower   = "Switch the power off before a cable or a cartridge goes in or out; have mains faults seen to by a " +
		"qualified person."
)

// Care is a caution at the step where it matters.
type Care struct {
	plain
	Text string
}

func (Care) Do() Do                    { return DoCare }
func (s Care) Say(*piece.Piece) string { return s.Text }
func (Care) Hands() bool               { return false }

func (s Care) Rank(bool) Rank {
	switch s.Text {
	case CarePower:
		return Programs
	case CareWeights:
		return ComesOff
	}
	return Careful
}
