package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// BindOff ends all stitches of a bed.
type BindOff struct{ At }

func (BindOff) Do() Do { return DoBindOff }

func (s BindOff) Say(*piece.Piece) string {
	if s.Of == machine.Second {
		return fmt.Sprintf("Bind off %s of the second bed with them, in one chain over both beds: %s", s.stitches(),
			s.On.Both())
	}
	return fmt.Sprintf("Bind off %s: %s", s.stitches(), s.On.Both())
}

func (s BindOff) Short(*piece.Piece) string        { return s.off() }
func (BindOff) Rank(bool) Rank                     { return ComesOff }
func (s BindOff) Rests(machine.Across) machine.Set { return s.touched() }
func (s BindOff) Act(at Standing)                  { at.BindOff(s.Of, s.On) }

func (a At) off() string { return fmt.Sprintf("bind off %d", a.On.Len()) }

// BindOffThese ends the stitches that a recipe names. Zigzag: in one chain with the other bed's, by turns.
type BindOffThese struct {
	At
	Zigzag bool
}

func (BindOffThese) Do() Do { return DoBindOff }

func (s BindOffThese) Say(*piece.Piece) string {
	if s.Zigzag && s.Of == machine.Second {
		return fmt.Sprintf("Chain off %s of the second bed with them: %s", s.stitches(), s.On.Words())
	} else if s.Zigzag {
		return fmt.Sprintf("Chain off %s, in a zigzag, by turns with the second bed's: %s", s.stitches(), s.On.Words())
	}
	return fmt.Sprintf("Bind off %s%s: %s", s.stitches(), s.of(), s.On.Words())
}

func (s BindOffThese) Short(*piece.Piece) string        { return s.off() }
func (BindOffThese) Rank(bool) Rank                     { return ComesOff }
func (s BindOffThese) Rests(machine.Across) machine.Set { return s.touched() }
func (s BindOffThese) Act(at Standing)                  { at.BindOff(s.Of, s.On) }

// BindOffEdge ends stitches at an edge.
type BindOffEdge struct{ Edge }

func (BindOffEdge) Do() Do { return DoBindOff }

func (s BindOffEdge) Say(p *piece.Piece) string {
	return fmt.Sprintf("Bind off %s%s with the latch tool, in %s: %s", words.Stitches(s.On.Len()), s.of(),
		p.YarnName(s.Yarn), s.On.Words())
}

func (s BindOffEdge) Short(*piece.Piece) string        { return s.off() }
func (s BindOffEdge) Rests(machine.Across) machine.Set { return s.touched() }
func (s BindOffEdge) InHand(machine.Set) machine.Set   { return s.On }
func (s BindOffEdge) As(e Edge) Edged                  { return BindOffEdge{e} }
func (s BindOffEdge) Act(at Standing)                  { at.BindOff(s.Of, s.On) }

// BindOffMiddle ends the stitches between the two parts of a divided piece, which have waited.
type BindOffMiddle struct {
	At
	Yarn piece.YarnNo
}

func (BindOffMiddle) Do() Do { return DoBindOff }

func (s BindOffMiddle) Say(p *piece.Piece) string {
	return fmt.Sprintf("Join a new end of %s on the right and bind off the %s in the middle%s: %s",
		p.YarnName(s.Yarn), s.stitches(), s.of(), s.On.Words())
}

func (s BindOffMiddle) Short(*piece.Piece) string        { return s.off() }
func (BindOffMiddle) Rank(bool) Rank                     { return Returning }
func (BindOffMiddle) Event() Event                       { return OfPart }
func (s BindOffMiddle) Rests(machine.Across) machine.Set { return s.touched() }
func (s BindOffMiddle) Act(at Standing)                  { at.BindOffWaiting(s.Of, s.On) }

func (s BindOffMiddle) JSON(p *piece.Piece, j *JSON) {
	s.At.JSON(p, j)
	j.Yarn = p.YarnID(s.Yarn)
}
