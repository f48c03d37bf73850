package main_test

import (
	"go/ast"
	"go/doc"
	"go/parser"
	"go/scanner"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
)

// TestDocs holds docs/ to the code: every file and test that is named is there, and every
// rule that a comment cites has its heading, or its row in bold, in docs/rules.md.
func TestDocs(t *testing.T) {
	root := filepath.Join("..", "..")
	var code strings.Builder
	var files []string
	err := filepath.WalkDir(root, func(path string, d fs.DirEntry, err error) error {
		rel, _ := filepath.Rel(root, path)
		files = append(files, filepath.ToSlash(rel))
		if err == nil && filepath.Ext(path) == ".go" {
			text, err := os.ReadFile(path)
			code.Write(text)
			return err
		}
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
	var rules string
	for _, name := range []string{"rules.md", "core.md", "techniques.md", "safety.md"} {
		text, err := os.ReadFile(filepath.Join(root, "docs", name))
		if err != nil {
			t.Fatal(err)
		}
		if name == "rules.md" {
			rules = string(text)
		}
		for _, m := range regexp.MustCompile("`([\\w/.]+\\.go)`").FindAllStringSubmatch(string(text), -1) {
			if !slices.Contains(files, m[1]) && !slices.Contains(files, "knit/"+m[1]) {
				t.Errorf("%s names %s, which is not there", name, m[1])
			}
		}
		for _, m := range regexp.MustCompile(`\bTest[A-Z]\w+`).FindAllString(string(text), -1) {
			if !strings.Contains(code.String(), "func "+m+"(") {
				t.Errorf("%s names %s, which is not there", name, m)
			}
		}
	}
	cites := regexp.MustCompile(`[( ]rules (\d(?:\.\d+)?)(?:, ([A-Z][a-z ]+[a-z]))?[);]`).FindAllStringSubmatch(
		code.String(), -1)
	if len(cites) < 20 {
		t.Errorf("%d comments cite a rule", len(cites))
	}
	for _, m := range cites {
		if !regexp.MustCompile(`(?m)^##+ `+regexp.QuoteMeta(m[1])+`[. ]`).MatchString(rules) ||
			m[2] != "" && !strings.Contains(rules, "**"+m[2]+"**") {
			t.Errorf("%q: docs/rules.md has no such heading, or row", m[0])
		}
	}
}

// TestOneMeaning: a word of the table in docs/core.md is the name of what its row says, and of nothing else that the
// core hands on.
func TestOneMeaning(t *testing.T) {
	text, err := os.ReadFile("../../docs/core.md")
	if err != nil {
		t.Fatal(err)
	}
	_, table, _ := strings.Cut(string(text), "## One meaning a word")
	means := map[string]string{} // name → its row
	for _, m := range regexp.MustCompile(`(?m)^\| (\w+) \| (.+) \|$`).FindAllStringSubmatch(table, -1) {
		if m[1] == "word" {
			continue // the head of the table
		}
		means[strings.ToUpper(m[1][:1])+m[1][1:]] = m[2]
	}
	if len(means) < 15 {
		t.Fatalf("%d words are read", len(means))
	}
	found := map[string]bool{}
	err = filepath.WalkDir("../../knit", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(name, ".go") || strings.HasSuffix(name, "_test.go") {
			return err
		}
		file, err := parser.ParseFile(token.NewFileSet(), name, nil, parser.SkipObjectResolution)
		if err != nil {
			return err
		}
		declared := func(id string) {
			row, ours := means[strings.TrimSuffix(id, "s")]
			if !ours {
				return
			}
			if found[file.Name.Name+"."+id] = true; !strings.Contains(row, "`"+file.Name.Name+"."+id+"`") {
				t.Errorf("%s: %s.%s, but the word means: %s", name, file.Name.Name, id, row)
			}
		}
		for _, d := range file.Decls {
			switch d := d.(type) {
			case *ast.FuncDecl:
				if d.Recv == nil {
					declared(d.Name.Name)
				}
			case *ast.GenDecl:
				for _, s := range d.Specs {
					if s, ok := s.(*ast.TypeSpec); ok {
						declared(s.Name.Name)
					}
				}
			}
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
	for word, row := range means {
		for _, m := range regexp.MustCompile("`(\\w+\\."+word+"s?)`").FindAllStringSubmatch(row, -1) {
			if !found[m[1]] {
				t.Errorf("%s: there is no %s", word, m[1])
			}
		}
	}
}

// TestWidth: no statement is wider than 120 columns; what a line may carry beyond is the rest of one text.
func TestWidth(t *testing.T) {
	err := filepath.WalkDir("../..", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(name, ".go") {
			return err
		}
		text, err := os.ReadFile(name)
		if err != nil {
			return err
		}
		var s scanner.Scanner
		set := token.NewFileSet()
		file := set.AddFile(name, -1, len(text))
		s.Init(file, text, nil, 0)
		for {
			pos, tok, lit := s.Scan()
			if tok == token.EOF {
				return nil
			}
			at := set.Position(pos)
			line := string(text[at.Offset-at.Column+1 : at.Offset])
			width := len([]rune(line)) + 3*strings.Count(line, "\t")
			if (tok.IsKeyword() || tok == token.IDENT || tok == token.STRING) && width >= 120 {
				t.Errorf("%s:%d: %q begins at column %d", name, at.Line, lit, width+1)
			}
		}
	})
	if err != nil {
		t.Fatal(err)
	}
}

// TestTour: every package of the core has an example; docs/tour.md says what the examples print, and the README links
// every picture.
func TestTour(t *testing.T) {
	root := filepath.Join("..", "..")
	read := func(name string) string {
		text, err := os.ReadFile(filepath.Join(root, name))
		if err != nil {
			t.Fatal(err)
		}
		return string(text)
	}
	tour, readme := read("docs/tour.md"), read("README.md")
	prints := map[string]string{}
	dirs, _ := os.ReadDir(filepath.Join(root, "knit"))
	for _, d := range dirs {
		files, _ := filepath.Glob(filepath.Join(root, "knit", d.Name(), "*_test.go"))
		for _, name := range files {
			file, err := parser.ParseFile(token.NewFileSet(), name, nil, parser.ParseComments)
			if err != nil {
				t.Fatal(err)
			}
			for _, e := range doc.Examples(file) {
				prints[d.Name()] = e.Output
			}
		}
		if d.Name() != "pins" && d.Name() != "piecetest" && prints[d.Name()] == "" {
			t.Errorf("knit/%s has no example", d.Name())
		}
	}
	stops := regexp.MustCompile("(?s)\n## [^\n]*`knit/(\\w+)`\n.*?```text\n(.*?)```").FindAllStringSubmatch(tour, -1)
	if len(stops) < 15 || len(stops) != strings.Count(tour, "\n## ") {
		t.Errorf("%d stops", len(stops))
	}
	for _, s := range stops {
		if s[2] != prints[s[1]] {
			t.Errorf("the tour at knit/%s:\n%s\nthe example prints:\n%s", s[1], s[2], prints[s[1]])
		}
	}
	pictures, _ := filepath.Glob(filepath.Join(root, "docs", "screenshots", "*.png"))
	for _, name := range pictures {
		if !strings.Contains(readme, "docs/screenshots/"+filepath.Base(name)) {
			t.Errorf("the README does not show %s", filepath.Base(name))
		}
	}
	_, about, _ := strings.Cut(readme, "\n## A tour\n")
	about, _, _ = strings.Cut(about, "\n## ")
	if n := strings.Count(about, "\n"); n > 80 {
		t.Errorf("the README's tour has %d lines", n)
	}
}
