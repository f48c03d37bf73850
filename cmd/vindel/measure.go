package main

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"vindel/knit/check"
	"vindel/knit/measure"
	"vindel/paper"
)

func stripCommand() *cobra.Command {
	section := 0
	cmd := pieceCommand("strip", "Print the strip that is laid on the bed, its needles at true distance",
		[]string{"pdf"},
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
	cmd.Flags().IntVar(&section, "section", 0,
		"the section, from 1, whose columns stand below the needles; left out, none")
	return cmd
}

// sheetCommand prints what else is followed on paper; what there is, is in its help.
func sheetCommand() *cobra.Command {
	section, chart, on := 0, "", "a4"
	sheets := map[string]func(r *check.Result, section int) ([]byte, error){
		"cheat":  func(r *check.Result, n int) ([]byte, error) { return paper.CheatPDF(r.Plan, n) },
		"laying": func(r *check.Result, n int) ([]byte, error) { return paper.LayingPDF(r.Plan, n) },
		"lace":   func(r *check.Result, n int) ([]byte, error) { return paper.LaceListPDF(r.Plan, n) },
		"grid": func(r *check.Result, _ int) ([]byte, error) {
			p := r.Plan.Piece
			g := paper.Grid{Chart: p.Charts[chart]}
			if chart != "" && g.Chart == nil {
				return nil, fmt.Errorf("--chart: %q: no such chart", chart)
			}
			i := slices.IndexFunc(paper.Sheets, func(s paper.Sheet) bool { return s.Name == on })
			if i < 0 {
				return nil, fmt.Errorf("--on: %q: a4 or letter", on)
			}
			return paper.GridPDF(p, g, paper.Sheets[i])
		}}
	names := slices.Sorted(maps.Keys(sheets))
	which := ""
	cmd := pieceCommand("sheet", "Print a sheet as PDF: the cheat sheet of one repeat, the laying sheet, the lines "+
		"of lace, or chart paper", []string{"pdf"},
		func(c *cobra.Command, r *check.Result, _ string) error {
			print := sheets[which]
			if print == nil {
				return fmt.Errorf("--kind: %q: %s", which, strings.Join(names, ", "))
			}
			if n := len(r.Plan.Piece.Sections); which != "grid" && (section < 1 || section > n) {
				return fmt.Errorf("--section: %d: the piece has sections 1 to %d", section, n)
			}
			data, err := print(r, section)
			if err == nil {
				_, err = c.OutOrStdout().Write(data)
			}
			return err
		})
	cmd.Flags().StringVar(&which, "kind", "cheat", strings.Join(names, ", "))
	cmd.Flags().IntVar(&section, "section", 1, "the section, from 1")
	cmd.Flags().StringVar(&chart, "chart", "", "the chart on the paper; left out, it is empty")
	cmd.Flags().StringVar(&on, "on", "a4", "the paper of a grid: a4 or letter")
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
