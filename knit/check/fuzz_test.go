package check_test

import (
	"os"
	"path/filepath"
	"testing"

	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/technique"
)

// FuzzRun: a piece, and an edit of it: whatever can be read is planned, knitted and checked
// without breaking, and what nothing stops comes out as drawn.
func FuzzRun(f *testing.F) {
	names, _ := filepath.Glob("../../demo/pieces/*.json")
	if len(names) == 0 {
		f.Fatal("the demo's pieces are not there")
	}
	for _, name := range names {
		data, err := os.ReadFile(name)
		if err != nil {
			f.Fatal(err)
		}
		f.Add(data, "/sections/1/rows", "7")
		f.Add(data, "/sections/0/technique", "slip")
	}
	f.Fuzz(func(t *testing.T, data []byte, at, value string) {
		doc, err := edit.Parse(data)
		if err != nil {
			return
		}
		var v any = value
		if n := 0; len(value) < 4 {
			for _, c := range value {
				n = 10*n + int(c-'0')
			}
			v = float64(n)
		}
		doc.Apply([]edit.Change{{Op: edit.Add, Path: edit.Path(at), Value: v}}) // refused or not
		p, err := technique.Piece(doc)
		if err != nil || p.RowsAsked() > 3000 {
			return
		}
		if r := check.Run(p); !r.Stops() && !r.Fabric.Matches() {
			t.Errorf("nothing stops it, and it does not come out as drawn: %s", r.Fabric.First)
		}
	})
}
