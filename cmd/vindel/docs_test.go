package main_test

import (
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
