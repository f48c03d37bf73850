package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"vindel/knit/check"
	"vindel/paper"
)

func planCommand() *cobra.Command {
	return pieceCommand("plan", "Print the plan: every pass, with the hand steps before it",
		[]string{"json", "csv", "text", "pdf"},
		func(c *cobra.Command, r *check.Result, format string) error {
			switch out := c.OutOrStdout(); format {
			case "csv":
				return r.Plan.WriteCSV(out)
			case "pdf":
				data, err := paper.PlanPDF(r.Plan)
				if err == nil {
					_, err = out.Write(data)
				}
				return err
			case "text":
				if err := r.Plan.WriteText(out); err != nil {
					return err
				}
				for _, f := range r.Findings {
					fmt.Fprintln(out, f.OneLine())
				}
				return nil
			default:
				return r.Plan.WriteJSON(out, r.Findings)
			}
		})
}

func checkCommand() *cobra.Command {
	return pieceCommand("check", "Print one finding a line: severity, code, section, rows, needles, text", nil,
		func(c *cobra.Command, r *check.Result, _ string) error {
			for _, f := range r.Findings {
				fmt.Fprintln(c.OutOrStdout(), f.OneLine())
			}
			return nil
		})
}
