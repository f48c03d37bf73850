package step

import (
	"cmp"
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// CastOn casts stitches on in a yarn: Way says how, where a recipe does, and Chosen how it says the needles.
type CastOn struct {
	At
	Yarn        piece.YarnNo
	Way, Chosen string
}

func (CastOn) Do() Do { return DoCastOn }

func (s CastOn) Say(p *piece.Piece) string {
	switch yarn := p.YarnName(s.Yarn); {
	case s.Way != "":
		how := map[string]string{"comb": "with the comb",
			"latch": "with the latch tool, as a chain over the needles"}[s.Way]
		return fmt.Sprintf("Cast on %s%s %s, in %s: %s", s.stitches(), s.of(), cmp.Or(how,
			"by hand, round each needle"), yarn, s.said(s.Chosen))
	case s.Of == machine.Second:
		return fmt.Sprintf("Cast on %s of the second bed, by turns with the main bed's, %v, in %s", s.stitches(), s.On,
			yarn)
	default:
		return fmt.Sprintf("Cast on %s, %v, in %s; hang the comb and weights", s.stitches(), s.On, yarn)
	}
}

func (s CastOn) Short(*piece.Piece) string { return fmt.Sprintf("cast on %d", s.On.Len()) }

func (s CastOn) Rank(first bool) Rank {
	if s.Of == machine.Second && !first {
		return OnBehind
	}
	return OnNeedles
}

func (s CastOn) Rests(machine.Across) machine.Set { return s.touched() }
func (s CastOn) Act(at Standing)                  { at.CastOn(s.Of, s.On, s.Yarn) }

func (s CastOn) JSON(p *piece.Piece, j *JSON) {
	s.At.JSON(p, j)
	j.Yarn, j.Way = p.YarnID(s.Yarn), s.Way
}

// CastOnEdge casts stitches on at an edge.
type CastOnEdge struct{ Edge }

func (CastOnEdge) Do() Do { return DoCastOn }

func (s CastOnEdge) Say(p *piece.Piece) string {
	return fmt.Sprintf("Cast on %s%s by hand at the edge, in %s: %s", words.Stitches(s.On.Len()), s.of(),
		p.YarnName(s.Yarn), s.On.Words())
}

func (s CastOnEdge) Short(*piece.Piece) string        { return fmt.Sprintf("cast on %d", s.On.Len()) }
func (s CastOnEdge) Rests(machine.Across) machine.Set { return s.touched() }
func (s CastOnEdge) InHand(machine.Set) machine.Set   { return s.On }
func (s CastOnEdge) As(e Edge) Edged                  { return CastOnEdge{e} }
func (s CastOnEdge) Act(at Standing)                  { at.CastOnEdge(s.Of, s.On, s.Yarn) }
