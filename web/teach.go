package web

import (
	"context"
	"fmt"
	"slices"

	"github.com/gin-gonic/gin"

	"vindel/knit/edit"
)

// teachView is the strip above a first piece: what is to be done at the station that is in sight, and the way to the
// next. Which stations are done is ticked at the stations themselves, by what has happened.
type teachView struct {
	ID       int64
	Text     string // of this station; "" where there is nothing to learn
	At, Next string // this station, and the name of the next; "": none
	Done     map[string]bool
	All      bool // of them
}

// teachStep is a station as the first piece explains it: in short on the shelf, and where it is at work.
type teachStep struct {
	Path, Name, Short, Text string
}

// firstSteps are the five, in the order of the work.
var firstSteps = []teachStep{
	{"draw", "Draw", "a repeat of a few stitches, or bring in a picture. Each row shows at once what it costs on the machine.",
		"Choose a yarn (1, 2 …) and press on stitches, or move with the arrows and paint with Space. Beside each row " +
			"stands what it costs."},
	{"place", "Place", "it on the needles: how many repeats, where the first one stands, what is cut.",
		"The drawing repeats along the needles. Take one of the widths that fit, or leave it as it is."},
	{"prove", "Prove", "it: every pass is knitted on a simulated bed, and both faces are shown.",
		"Look at both faces: so the fabric comes out. Mend what stops the plan; one click does it, one undo takes it " +
			"back."},
	{"prepare", "Prepare", "the card at true size, or the cheat sheet for choosing needles by hand.",
		"What the machine wants beforehand: print it, punch it, or key it in."},
	{"knit", "Knit", "with Vindel beside you, one pass at a time; it never loses your place.", ""},
}

// taught is the setting by which the strip is put away for good.
const taught = "taught"

// teach is the strip for a piece, nil once there are others or it has been put away.
func (s *Server) teach(ctx context.Context, d *opened, station string) (*teachView, error) {
	if away, err := s.store.Setting(ctx, taught); err != nil || away != "" {
		return nil, err
	}
	if n, err := s.store.Count(ctx); err != nil || n != 1 {
		return nil, err
	}
	did, err := s.store.Did(ctx, d.stored.ID)
	if err != nil {
		return nil, err
	}
	at, err := s.store.Reached(ctx, d.stored.ID)
	if err != nil {
		return nil, err
	}
	been, err := s.store.Setting(ctx, beenAt(d.stored.ID))
	if err != nil {
		return nil, err
	}
	v := &teachView{ID: d.stored.ID, At: station, All: true, Done: map[string]bool{"draw": did[edit.Draws],
		"place": did[edit.Places], "knit": at.Done > 0}}
	on := at.Done > 0 // where a later one is done, those before it are
	for i, step := range slices.Backward(firstSteps) {
		on = on || step.Path == been
		v.Done[step.Path] = (v.Done[step.Path] || on) && (step.Path != "prove" || d.head().Stops == 0)
		v.All = v.All && v.Done[step.Path]
		if step.Path == station {
			if v.Text = step.Text; i+1 < len(firstSteps) {
				v.Next = firstSteps[i+1].Name
			}
		}
	}
	return v, nil
}

// beenAt is the setting that keeps the furthest station of a first piece from which she went on.
func beenAt(id int64) string { return fmt.Sprint("been-at:", id) }

// stepAt is the number of a station, from 0; -1: there is none.
func stepAt(station string) int {
	return slices.IndexFunc(firstSteps, func(step teachStep) bool { return step.Path == station })
}

// wentOn ticks a station of the first piece, and leads to the next.
func (s *Server) wentOn(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		ctx, at := c.Request.Context(), stepAt(c.PostForm("at"))
		if at < 0 || at+1 == len(firstSteps) {
			s.fail(c, inputError{fmt.Errorf("%q: no station that another comes after", c.PostForm("at"))})
			return
		}
		been, err := s.store.Setting(ctx, beenAt(d.stored.ID))
		if err == nil && stepAt(been) < at {
			err = s.store.SetSetting(ctx, beenAt(d.stored.ID), firstSteps[at].Path)
		}
		if err != nil {
			s.fail(c, err)
			return
		}
		c.Redirect(303, fmt.Sprintf("/pieces/%d/%s", d.stored.ID, firstSteps[at+1].Path))
	})
}

// untaught puts the strip away for good.
func (s *Server) untaught(c *gin.Context) {
	err := s.store.SetSetting(c.Request.Context(), taught, "yes")
	id, idErr := pieceID(c)
	if err == nil {
		err = idErr
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(303, localPath(c.Request.Referer(), fmt.Sprintf("/pieces/%d/draw", id)))
}
