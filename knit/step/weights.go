package step

import "vindel/knit/piece"

// WeightsOn hangs the comb and the weights, WeightsUp moves the weights up, WeightsOff takes both off.
type (
	WeightsOn  struct{ plain }
	WeightsUp  struct{ plain }
	WeightsOff struct{ plain }
)

func (WeightsOn) Do() Do                     { return DoWeights }
func (WeightsOn) Say(*piece.Piece) string    { return "Hang the comb and the weights" }
func (WeightsOn) Short(*piece.Piece) string  { return "weights on" }
func (WeightsOn) Rank(bool) Rank             { return Hangs }
func (WeightsOn) Event() Event               { return OfWeights }
func (WeightsUp) Do() Do                     { return DoWeights }
func (WeightsUp) Say(*piece.Piece) string    { return "Move the weights up" }
func (WeightsUp) Short(*piece.Piece) string  { return "weights up" }
func (WeightsUp) Rank(bool) Rank             { return Hangs }
func (WeightsUp) Event() Event               { return OfWeights }
func (WeightsOff) Do() Do                    { return DoWeights }
func (WeightsOff) Say(*piece.Piece) string   { return "Take the weights and the comb off" }
func (WeightsOff) Short(*piece.Piece) string { return "weights off" }
func (WeightsOff) Rank(bool) Rank            { return ComesOff }
func (WeightsOff) Event() Event              { return OfWeights }
