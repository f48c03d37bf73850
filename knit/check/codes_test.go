package check_test

import (
	"encoding/json"
	"go/ast"
	"go/parser"
	"go/token"
	"slices"
	"strconv"
	"strings"
	"testing"

	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/piecetest"
	"vindel/knit/technique"
)

// codes reads every finding code with its comment out of the source.
func codes(t *testing.T) map[string]string {
	file, err := parser.ParseFile(token.NewFileSet(), "../finding/codes.go", nil, parser.ParseComments)
	if err != nil {
		t.Fatal(err)
	}
	list := map[string]string{}
	for _, d := range file.Decls {
		if g, ok := d.(*ast.GenDecl); ok && g.Tok == token.CONST {
			for _, spec := range g.Specs {
				v := spec.(*ast.ValueSpec)
				code, err := strconv.Unquote(v.Values[0].(*ast.BasicLit).Value)
				if err != nil || v.Doc == nil || !strings.HasPrefix(v.Doc.Text(), v.Names[0].Name+" occurs when ") {
					t.Errorf("%s does not say when it occurs", v.Names[0].Name)
					continue
				}
				list[code] = v.Doc.Text()
			}
		}
	}
	return list
}

// example makes a document of an example: a line with machine, needles and technique, rows
// of the chart, and changes, each a path and its value.
func example(t *testing.T, text string) *edit.Document {
	lines := strings.Split(strings.TrimSpace(text), "\n")
	head := strings.Fields(lines[0])
	from, to, _ := strings.Cut(head[1], "-")
	tech := technique.Find(head[2])
	changes := edit.Set("/sections/0/technique", head[2])
	switch mark := tech.Mark; {
	case mark != 0:
		changes = append(changes, edit.Set("/charts/c/legend",
			map[string]any{".": map[string]any{}, "#": map[string]any{"stitch": mark.String()}})...)
	case tech == &technique.Lace:
		changes = append(changes, append(edit.Set("/charts/c/legend", map[string]any{}),
			edit.Set("/charts/c/side", "knit")...)...)
	}
	if tech.Weft {
		changes = append(changes, edit.Set("/sections/0/weft", "D")...)
	}
	var rows []string
	if tech.Loops { // a text of its own
		var text []string
		for len(lines) > 1 && !strings.HasPrefix(strings.TrimSpace(lines[1]), "/") {
			text, lines = append(text, strings.TrimSpace(lines[1])), slices.Delete(lines, 1, 2)
		}
		rows = []string{"#"}
		changes = append(changes, edit.Drop("/sections/0/areas")...)
		changes = append(changes, edit.Set("/sections/0/recipe", strings.Join(text, "\n"))...)
	}
	for _, line := range lines[1:] {
		line = strings.TrimSpace(line)
		path, value, isChange := strings.Cut(line, " ")
		if !isChange {
			rows = append(rows, line)
			continue
		}
		var v any
		if err := json.Unmarshal([]byte(value), &v); err != nil {
			t.Fatalf("%s: %v", line, err)
		}
		changes = append(changes, edit.Set(edit.Path(path), v)...)
	}
	if len(rows) == 1 && tech.Mark != 0 {
		changes = append(changes, edit.Set("/sections/0/rows", 20)...)
	}
	return piecetest.Document(t, head[0], from, to, rows, changes...)
}

// TestCodeExamples: every code's example gives that code; codes that only the simulated bed
// sees are found in spoilt plans (TestSpoilt of package technique).
func TestCodeExamples(t *testing.T) {
	all := codes(t)
	if len(all) < 40 {
		t.Fatalf("%d codes are read", len(all))
	}
	for code, doc := range all {
		_, text, ok := strings.Cut(doc, "Example:\n")
		if !ok {
			if !strings.Contains(strings.ReplaceAll(doc, "\n", " "), "Only the simulated bed sees it.") {
				t.Errorf("%s has no example", code)
			}
			continue
		}
		p, err := technique.Piece(example(t, text))
		if err != nil {
			t.Errorf("%s: %v", code, err)
			continue
		}
		if r := check.Run(p); len(find(r, code)) == 0 {
			t.Errorf("%s: its example gives %v", code, r.Findings)
		}
	}
}
