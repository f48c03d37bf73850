package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"vindel/knit/card"
	"vindel/knit/check"
	"vindel/paper"
)

func cardCommand() *cobra.Command {
	var section int
	cmd := pieceCommand("card", "Print the punch card of a section", []string{"text", "svg", "pdf", "png"},
		func(c *cobra.Command, r *check.Result, format string) error {
			p := r.Plan.Piece
			m := &p.Machine
			if !m.HasCard() {
				return fmt.Errorf("machine.profile: %q has no punch card", m.ID)
			}
			at, err := programmed(r, section)
			if err != nil {
				return err
			}
			made, _ := card.Make(r.Plan, at)
			title := paper.CardTitle(p, at)
			var data []byte
			switch format {
			case "svg":
				data = paper.CardSVG(made, m, title)
			case "pdf":
				data, err = paper.CardPDF(made, m, title)
			case "png":
				data, err = paper.CardPNG(made, m, title)
			default:
				data = []byte(made.Text())
			}
			if err != nil {
				return err
			}
			_, err = c.OutOrStdout().Write(data)
			return err
		})
	cmd.Flags().IntVar(&section, "section", 0, "the section, from 1; left out, the first that needs a card")
	return cmd
}
