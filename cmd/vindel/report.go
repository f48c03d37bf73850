package main

import (
	"bytes"
	"encoding/json"
	"os"

	"github.com/spf13/cobra"

	"vindel/knit/check"
	"vindel/knit/edit"
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
	if sections, ok := doc.Get(edit.Member("sections")); ok {
		list, _ := sections.([]any)
		for i := range list {
			if at := edit.Section(i + 1).To("notes"); has(doc, at) {
				doc.Apply(edit.Drop(at))
			}
		}
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

func has(doc *edit.Document, at edit.Path) bool {
	_, ok := doc.Get(at)
	return ok
}
