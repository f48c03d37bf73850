package main

import (
	"encoding/json"
	"fmt"

	"github.com/spf13/cobra"

	"vindel/knit/chart"
	"vindel/knit/check"
	"vindel/paper"
)

func fabricCommand() *cobra.Command {
	var side string
	cmd := pieceCommand("fabric", "Print the simulated fabric", []string{"json", "png", "svg"},
		func(c *cobra.Command, r *check.Result, format string) error {
			face := chart.KnitSide
			switch side {
			case "knit":
			case "purl":
				face = chart.PurlSide
			default:
				return fmt.Errorf("--side: %q: knit, purl", side)
			}
			out := c.OutOrStdout()
			if format == "json" {
				enc := json.NewEncoder(out)
				enc.SetIndent("", " ")
				return enc.Encode(r.Fabric.Summary())
			}
			if len(r.Fabric.Courses) == 0 {
				return errStopped // nothing was knitted, so there is nothing to draw
			}
			if format == "svg" {
				_, err := out.Write(paper.FabricSVG(r.Fabric, face, paper.Window{}))
				return err
			}
			data, err := paper.FabricPNG(c.Context(), r.Fabric, face, paper.Window{}, 8)
			if err != nil {
				return err
			}
			_, err = out.Write(data)
			return err
		})
	cmd.Flags().StringVar(&side, "side", "knit", "the face to draw: knit or purl")
	return cmd
}
