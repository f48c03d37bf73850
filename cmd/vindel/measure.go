package main

import (
	"encoding/json"
	"fmt"

	"github.com/spf13/cobra"

	"vindel/knit/check"
	"vindel/knit/measure"
)

func measureCommand() *cobra.Command {
	return pieceCommand("measure", "Print size, yarn, balls and time, by swatch and plan", []string{"text", "json"},
		func(c *cobra.Command, r *check.Result, format string) error {
			m, out := measure.Of(r.Plan), c.OutOrStdout()
			if format == "json" {
				enc := json.NewEncoder(out)
				enc.SetIndent("", " ")
				return enc.Encode(m.JSON(r.Plan.Piece))
			}
			_, err := fmt.Fprint(out, m.Text(r.Plan.Piece))
			return err
		})
}
