package main

import (
	"encoding/json"
	"fmt"

	"github.com/spf13/cobra"

	"vindel/knit/card"
	"vindel/knit/check"
	"vindel/knit/machine"
	"vindel/paper"
)

func programCommand() *cobra.Command {
	var section int
	cmd := pieceCommand("program", "Print the electronic program of a section and its key-in sheet",
		[]string{"text", "json", "csv", "png", "pdf"},
		func(c *cobra.Command, r *check.Result, format string) error {
			if m := &r.Plan.Piece.Machine; m.Program != machine.Electronic {
				return fmt.Errorf("machine.profile: %q has no electronic program", m.ID)
			}
			at, err := programmed(r, section)
			if err != nil {
				return err
			}
			w, out := card.MakeProgram(r.Plan, at), c.OutOrStdout()
			switch format {
			case "json":
				enc := json.NewEncoder(out)
				enc.SetIndent("", " ")
				return enc.Encode(w.JSON())
			case "csv":
				return w.WriteCSV(out)
			case "png", "pdf":
				data, err := paper.ProgramPNG(w)
				if format == "pdf" {
					data, err = paper.ProgramPDF(r.Plan, at)
				}
				if err == nil {
					_, err = out.Write(data)
				}
				return err
			}
			_, err = fmt.Fprint(out, w.Text())
			return err
		})
	cmd.Flags().IntVar(&section, "section", 0, "the section, from 1; left out, the first that needs a program")
	return cmd
}

// programmed is the section, from 1, whose card or program is asked for: the one named,
// or, for 0, the first that needs one.
func programmed(r *check.Result, section int) (int, error) {
	pl := r.Plan
	if n := len(pl.Piece.Sections); section < 0 || section > n {
		return 0, fmt.Errorf("--section: %d: the piece has sections 1 to %d", section, n)
	}
	at := section
	if all := card.Sections(pl); section == 0 && len(all) > 0 {
		at = all[0]
	}
	if at == 0 || pl.LinesOf(at) == 0 {
		if r.Stops() {
			return 0, errStopped
		}
		return 0, fmt.Errorf("--section: section %d has no card and no program", max(at, 1))
	}
	return at, nil
}
