package main

import (
	"bytes"
	"encoding/json"
	"maps"
	"os"
	"slices"

	"github.com/spf13/cobra"

	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/piece"
	"vindel/knit/technique"
)

// report is one file to show to somebody who can help: what the piece says, what Vindel makes of it, and by
// which Vindel. It holds no notes of hers, and a piece file holds no photographs.
type report struct {
	Vindel string          `json:"vindel"`
	Error  string          `json:"error,omitempty"` // the piece cannot be read: where and why
	Text   string          `json:"text,omitempty"`  // then the file as it is, since it has no parts
	Piece  json.RawMessage `json:"piece,omitempty"`
	Plan   json.RawMessage `json:"plan,omitempty"` // with its findings, as `vindel plan` prints it
}

func reportCommand() *cobra.Command {
	var out string
	cmd := &cobra.Command{Use: "report FILE",
		Short: "One file with the piece, its plan and findings, to show to somebody who can help; without your notes",
		Args:  cobra.ExactArgs(1)}
	cmd.Flags().StringVar(&out, "out", "-", "where to write it; - is the standard output")
	cmd.RunE = func(c *cobra.Command, args []string) error {
		data, err := read(c, args[0])
		if err != nil {
			return err
		}
		b, err := json.MarshalIndent(reportOn(data), "", " ")
		if err != nil {
			return err
		}
		b = append(b, '\n')
		if out == "-" {
			_, err = c.OutOrStdout().Write(b)
			return err
		}
		return os.WriteFile(out, b, 0o600)
	}
	return cmd
}

func reportOn(data []byte) report {
	r := report{Vindel: version()}
	doc, err := edit.Parse(data)
	if err != nil {
		r.Error, r.Text = err.Error(), string(data)
		return r
	}
	if doc, err = shown(doc); err != nil {
		r.Error = err.Error()
		return r
	}
	r.Piece = doc.JSON()
	p, err := technique.Piece(doc)
	if err != nil {
		r.Error = err.Error()
		return r
	}
	result := check.Run(p)
	if result.Plan.Refused != nil {
		r.Error = result.Plan.Refused.Error()
		return r
	}
	var b bytes.Buffer
	if err := result.Plan.WriteJSON(&b, result.Findings); err != nil {
		r.Error = err.Error()
	} else {
		r.Plan = b.Bytes()
	}
	return r
}

// What goes into a report, by name, so that what a later Vindel keeps of hers stays out of it until somebody has
// thought about it: notes, who a piece is for, what she has in hand.
var (
	reported = []string{"vindel", "machine", "yarns", "charts", "needles", "second", "start", "begin", "end", "sections",
		"limits", "options", "gauge", "swatch", "shape", "outline"}
	reportedOfYarn    = []string{"id", "name", "colour", "ball"}
	reportedOfSection = []string{"id", "technique", "rows", "yarn", "yarns", "weft", "size", "areas", "carriage", "free",
		"joined", "from_line", "passes", "second", "second_size", "second_out", "out", "rib", "recipe", "with",
		"variants", "swatch", "options"}
)

// shown is the document with what goes into a report, under a name that says nothing.
func shown(doc *edit.Document) (*edit.Document, error) {
	var tree map[string]any
	if err := json.Unmarshal(doc.JSON(), &tree); err != nil {
		return nil, err
	}
	keep := func(tree any, keys []string) {
		if m, ok := tree.(map[string]any); ok {
			maps.DeleteFunc(m, func(key string, _ any) bool { return !slices.Contains(keys, key) })
		}
	}
	keep(tree, reported)
	for key, keys := range map[string][]string{"yarns": reportedOfYarn, "sections": slices.Concat(reportedOfSection,
		piece.OptionKeys())} {
		list, _ := tree[key].([]any)
		for i := range list {
			keep(list[i], keys)
		}
	}
	tree["name"] = "a piece"
	b, err := json.Marshal(tree)
	if err != nil {
		return nil, err
	}
	return edit.Parse(b)
}
