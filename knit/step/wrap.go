package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Wrap lays the yarn of feeder 1 once round needles.
type Wrap struct {
	At
	Yarn   piece.YarnNo
	Chosen string
}

func (Wrap) Do() Do         { return DoWrap }
func (s Wrap) Touches() int { return s.On.Len() }

func (s Wrap) Say(p *piece.Piece) string {
	return fmt.Sprintf("Lay %s once round %s%s", p.YarnName(s.Yarn), s.said(s.Chosen), s.of())
}

func (s Wrap) Short(*piece.Piece) string { return fmt.Sprintf("wrap %d", s.On.Len()) }
func (s Wrap) Act(at Standing)           { at.Wrap(s.Of, s.On) }

func (s Wrap) JSON(p *piece.Piece, j *JSON) {
	s.At.JSON(p, j)
	j.Yarn = p.YarnID(s.Yarn)
}

// WrapEdge lays yarn once round needles that wait for the shape, after the row that stopped at them.
type WrapEdge struct {
	At
	Yarn piece.YarnNo
}

func (WrapEdge) Do() Do         { return DoWrap }
func (s WrapEdge) Touches() int { return s.On.Len() }

func (s WrapEdge) Say(p *piece.Piece) string {
	return fmt.Sprintf("Lay %s once round %s, the first that waits, so that no hole opens", p.YarnName(s.Yarn),
		s.On.Words())
}

func (s WrapEdge) Short(*piece.Piece) string           { return fmt.Sprintf("wrap %d", s.On.Len()) }
func (WrapEdge) Event() Event                          { return OfEdge }
func (s WrapEdge) Act(at Standing)                     { at.WrapEdge(s.On, s.Yarn) }
func (WrapEdge) InHand(machine.Set) (none machine.Set) { return none }

func (s WrapEdge) JSON(p *piece.Piece, j *JSON) {
	s.At.JSON(p, j)
	j.Yarn = p.YarnID(s.Yarn)
}
