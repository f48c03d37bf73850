package main

import (
	"bytes"
	"errors"
	"fmt"
	"image/color"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/piece"
	"vindel/knit/scan"
	"vindel/knit/technique"
)

// drawn is a chart on its way from one form to another, with its colours where the
// form it came from had any, and its piece where that was a piece file.
type drawn struct {
	chart   *chart.Chart
	colours []color.RGBA
	data    []byte // of a piece file
}

func convertCommand() *cobra.Command {
	var name, punched, from, to string
	cmd := &cobra.Command{Use: "convert IN OUT",
		Short: "Convert a chart between PNG, CSV, text and piece file, by extension", Args: cobra.ExactArgs(2),
		RunE: func(c *cobra.Command, args []string) error {
			data, err := read(c, args[0])
			if err != nil {
				return err
			}
			var d drawn
			in, as := args[0], args[1]
			if from != "" { // through a pipe, or where the name does not say
				in = "." + from
			}
			if to != "" {
				as = "." + to
			}
			if punched == "" {
				d, err = decode(in, data, name)
			} else {
				d.chart, err = scanned(c, data, punched)
			}
			if err != nil {
				return fmt.Errorf("%s: %w", args[0], err)
			}
			out, err := d.encode(as)
			if err != nil {
				return fmt.Errorf("%s: %w", args[1], err)
			}
			if args[1] == "-" {
				_, err = c.OutOrStdout().Write(out)
				return err
			}
			return os.WriteFile(args[1], out, 0o644)
		}}
	cmd.Flags().StringVar(&name, "chart", "", "the chart of a piece file that has several")
	cmd.Flags().StringVar(&from, "from", "",
		"what IN is, where its name does not say: png, csv, txt or json; IN may be - for standard input")
	cmd.Flags().StringVar(&to, "to", "", "what OUT is to be, likewise; OUT may be - for standard output")
	cmd.Flags().StringVar(&punched, "card", "",
		"IN is a photograph of a punch card of so many columns (24), or a picture whose cells fill it evenly (24x60)")
	return cmd
}

// scanned reads a punch card from a picture: of says how many columns it has, and of even cells also the rows. On
// standard error stands what is to be looked at.
func scanned(c *cobra.Command, data []byte, of string) (*chart.Chart, error) {
	var o scan.Options
	n, _ := fmt.Sscanf(of, "%dx%d", &o.Columns, &o.Rows)
	if o.Even = n == 2; n == 0 {
		return nil, fmt.Errorf("--card: %q: the columns, such as 24, or 24x60", of)
	}
	got, err := scan.Read(c.Context(), data, o)
	if err != nil {
		return nil, err
	}
	for i, sure := range got.Sure {
		if w := got.Holes.W; sure < scan.Doubtful {
			fmt.Fprintf(c.ErrOrStderr(), "row %d, column %d: %d %% sure\n", i/w+1, i%w+1, int(100*sure))
		}
	}
	return chart.FromRows((&chart.Chart{Keys: []rune(".#"), Grid: got.Holes}).Rows())
}

func decode(file string, data []byte, name string) (d drawn, err error) {
	switch strings.ToLower(filepath.Ext(file)) {
	case ".png":
		d.chart, d.colours, err = chart.FromPNG(data)
	case ".csv":
		d.chart, err = chart.ParseCSV(bytes.NewReader(data))
	case ".txt", ".text":
		d.chart, err = chart.ParseText(string(data))
	case ".json":
		p, err := technique.Read(data)
		var list piece.ErrorList
		if errors.As(err, &list) {
			return d, list[0]
		}
		var names []string
		for n := range p.Charts {
			names = append(names, n)
		}
		slices.Sort(names)
		if name == "" && len(names) == 1 {
			name = names[0]
		}
		c := p.Charts[name]
		switch {
		case len(names) == 0:
			return d, errors.New("charts: the piece has none")
		case name == "":
			return d, fmt.Errorf("charts: several; choose with --chart: %s", strings.Join(names, ", "))
		case c == nil:
			return d, fmt.Errorf("--chart: %q: there are %s", name, strings.Join(names, ", "))
		}
		d.data = data
		d.chart, d.colours = p.Picture(c)
	default:
		return d, errors.New("an extension .png, .csv, .txt or .json says what it is, or --from and --to do")
	}
	return d, err
}

func (d drawn) encode(file string) ([]byte, error) {
	switch strings.ToLower(filepath.Ext(file)) {
	case ".png":
		colours := d.colours
		if colours == nil {
			colours = piece.DefaultPalette(len(d.chart.Keys))
		}
		return d.chart.PNG(colours)
	case ".csv":
		var b bytes.Buffer
		err := d.chart.WriteCSV(&b)
		return b.Bytes(), err
	case ".txt", ".text":
		return []byte(d.chart.Text()), nil
	case ".json":
		if d.data != nil {
			doc, err := edit.Parse(d.data)
			if err != nil {
				return nil, err
			}
			return doc.JSON(), nil
		}
		base, _, _ := strings.Cut(filepath.Base(file), ".")
		doc, err := edit.New(edit.Start{Name: base, Profile: "card-preselect",
			Technique: &technique.For(d.chart, "").Technique, Chart: d.chart, ChartName: base, Colours: d.colours})
		if err != nil {
			return nil, err
		}
		return doc.JSON(), nil
	}
	return nil, errors.New("an extension .png, .csv, .txt or .json says what it shall be")
}
