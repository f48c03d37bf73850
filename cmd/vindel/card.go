package main

import (
	"fmt"
	"slices"

	"github.com/spf13/cobra"

	"vindel/knit/card"
	"vindel/knit/check"
	"vindel/paper"
)

func cardCommand() *cobra.Command {
	var section int
	var on string
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
				if i := slices.IndexFunc(paper.Sheets, func(s paper.Sheet) bool { return s.Name == on }); i >= 0 {
					data, err = paper.CardSheetsPDF(made, m, title, paper.Sheets[i])
				} else if on != "" {
					return fmt.Errorf("--on: %q: a4 or letter; left out, one sheet of the card's own size", on)
				}
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
	cmd.Flags().StringVar(&on, "on", "",
		"of a PDF: a4 or letter, as many sheets as it takes; left out, one of the card's own size")
	return cmd
}
