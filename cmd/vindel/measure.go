package main

import (
	"encoding/json"
	"fmt"

	"github.com/spf13/cobra"

	"vindel/knit/check"
	"vindel/knit/measure"
	"vindel/paper"
)

func stripCommand() *cobra.Command {
	section := 0
	cmd := pieceCommand("strip", "Print the strip that is laid on the bed, its needles at true distance", []string{"pdf"},
		func(c *cobra.Command, r *check.Result, _ string) error {
			if n := len(r.Plan.Piece.Sections); section < 0 || section > n {
				return fmt.Errorf("--section: %d: the piece has sections 1 to %d", section, n)
			}
			data, err := paper.StripPDF(r.Plan, section)
			if err == nil {
				_, err = c.OutOrStdout().Write(data)
			}
			return err
		})
	cmd.Flags().IntVar(&section, "section", 0, "the section, from 1, whose columns stand below the needles; left out, none")
	return cmd
}

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
