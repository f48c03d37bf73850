package web

import (
	"context"
	"fmt"

	"github.com/gin-gonic/gin"

	"vindel/knit/chart"
	"vindel/knit/edit"
)

// teachView is the strip above a first piece: five steps, each real work, ticked off when
// the piece shows that it has been done.
type teachView struct {
	ID    int64
	Steps []teachStep
	Now   teachStep // the first that is not done
	Done  bool      // all of them
}

type teachStep struct {
	N                int
	Name, Text, Path string
	Done, Current    bool
}

// taught is the setting by which the strip is put away for good.
const taught = "taught"

// teach is the strip for a piece, nil once there are others or it has been put away.
func (s *Server) teach(ctx context.Context, d *opened) (*teachView, error) {
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
	v := &teachView{ID: d.stored.ID, Steps: []teachStep{
		{Name: "Choose", Path: "place", Done: true, Text: "Your machine is chosen; its limits follow from it."},
		{Name: "Draw", Path: "draw", Done: did[edit.Draws],
			Text: "Choose a yarn with its digit, move with the arrows, paint with Space. Or press J and type the " +
				"row, such as " + d.example() + ". Beside each row stands what it costs."},
		{Name: "Place", Path: "place", Done: did[edit.Places],
			Text: "Take one of the widths that fit, or write how many stitches and press Centre: the drawing repeats " +
				"along the needles."},
		{Name: "Prove", Path: "prove",
			Text: "Look at both faces: every pass has been knitted on the simulated bed. Mend what stops the plan; " +
				"one click does it, one undo takes it back."},
		{Name: "Knit", Path: "knit", Done: at.Done > 0,
			Text: "Prepare the card or the cheat sheet, sit down at the machine, and press Space after each pass."},
	}}
	v.Steps[3].Done = v.Steps[1].Done && v.Steps[2].Done && d.head().Stops == 0
	v.Done = true
	for i := range v.Steps {
		st := &v.Steps[i]
		st.N = i + 1
		if !st.Done && v.Done {
			v.Done, st.Current, v.Now = false, true, *st
		}
	}
	return v, nil
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

// example is a row as it may be typed in the piece's first chart: two of its marks.
func (d *opened) example() string {
	for _, name := range chartNames(d.piece) {
		if marks := d.piece.Palette(d.piece.Charts[name]); len(marks) > 2 && marks[1].Stitch == chart.YarnOver {
			return "“4. 1o 1\\”"
		} else if len(marks) > 1 {
			return fmt.Sprintf("“3%c 2%c”", marks[1].Char, marks[0].Char)
		}
	}
	return "“3# 2.”"
}
