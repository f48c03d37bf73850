package web

import (
	"bytes"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"maps"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"golang.org/x/net/html"

	"vindel/knit/repeats"
)

// The catalogue of all English texts is gathered from where they are made: templates, scripts, and the
// sentences of the core that pages show.
const catalogue = "texts/en.txt"

// coreTexts are the packages whose words reach the pages.
var coreTexts = strings.Fields("acts bed beside card chart check edit finding lines loom lost machine measure " +
	"outline pass step " +
	"piece plan project recipe repeats scan sketch technique weigh words")

var (
	action   = regexp.MustCompile(`(?s)\{\{.*?\}\}`)
	control  = regexp.MustCompile(`^\{\{-?\s*(if|else|end|range|with|template|define|block|/\*|\$\w+\s*:?=)`)
	verb     = regexp.MustCompile(`%[-+# 0]*[\d.]*([a-zA-Z])`)
	inScript = regexp.MustCompile("\"((?:[^\"\\\\\n]|\\\\.)*)\"|`((?:[^`\\\\]|\\\\.)*)`")
	inner    = regexp.MustCompile(`\$\{[^}]*\}`)
	twoWords = regexp.MustCompile(`\pL{2,}[^\pL]*\s[^\pL]*\pL`)
	oneWord  = regexp.MustCompile(`^\p{Lu}\p{Ll}{2,}[.?:!…]?$`)
	noText   = regexp.MustCompile(`[<>{}=\\]|^[./#]|\(\?|://|^\w+/\w+|[a-z]\(|SELECT |INSERT ` +
		`|no-store|charset|immutable|#\w+\s|\.\w+\s+\w*[.#:\[]|\[\w|:not|^M[\d ]|filename`)
)

// isText says that a literal is words for a reader, and not of a program.
func isText(s string) bool {
	return (twoWords.MatchString(s) || oneWord.MatchString(s)) && !noText.MatchString(s)
}

// gathered is every text, with places {n}, {x}, {x2} … where something is put in.
func gathered(t *testing.T) []string {
	all := map[string]bool{}
	add := func(s string, from *regexp.Regexp, number func(m string) bool) {
		n := 0
		parts := from.FindAllString(s, -1)
		words := from.ReplaceAllString(s, "\x00")
		if words = strings.Join(strings.Fields(words), " "); !isText(strings.ReplaceAll(words, "\x00", "7")) {
			return
		}
		for _, m := range parts {
			name := "{x"
			if number(m) {
				name = "{n"
			}
			if n++; n > 1 {
				name += strconv.Itoa(n)
			}
			words = strings.Replace(words, "\x00", name+"}", 1)
		}
		all[words] = true
	}
	read := func(name string) string {
		data, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		return string(data)
	}
	each := func(dir, end string, do func(name string)) {
		filepath.WalkDir(dir, func(name string, d fs.DirEntry, err error) error {
			if err == nil && !d.IsDir() && strings.HasSuffix(name, end) && !strings.HasSuffix(name, "_test.go") {
				do(name)
			}
			return err
		})
	}
	each("templates", ".html", func(name string) { // what decides parts a text; what is put in is a place
		source := action.ReplaceAllStringFunc(read(name), func(a string) string {
			if control.MatchString(a) {
				return "\x01"
			}
			return "\x02"
		})
		texts := func(s string) {
			for part := range strings.SplitSeq(s, "\x01") {
				add(part, regexp.MustCompile("\x02"), func(string) bool { return false })
			}
		}
		z := html.NewTokenizer(bytes.NewReader([]byte(source)))
		for kind := z.Next(); kind != html.ErrorToken; kind = z.Next() {
			tok := z.Token()
			if kind == html.TextToken {
				texts(tok.Data)
			}
			for _, a := range tok.Attr {
				if slices.Contains(readOut, a.Key) {
					texts(a.Val)
				}
			}
		}
	})
	for line := range strings.Lines(read("templates/glossary.txt")) {
		if word, meaning, ok := strings.Cut(strings.TrimSpace(line), ": "); ok {
			all[word], all[meaning] = true, true
		}
	}
	for _, r := range repeats.All() {
		all[r.Name], all[r.About] = true, true
	}
	each("static/js", ".js", func(name string) {
		for _, m := range inScript.FindAllStringSubmatch(read(name), -1) {
			add(m[1]+m[2], inner, func(string) bool { return false })
		}
	})
	dirs := []string{"."}
	for _, p := range coreTexts {
		dirs = append(dirs, "../knit/"+p)
	}
	for _, dir := range dirs {
		names, _ := filepath.Glob(dir + "/*.go")
		for _, name := range names {
			if strings.HasSuffix(name, "_test.go") {
				continue
			}
			file, err := parser.ParseFile(token.NewFileSet(), name, nil, parser.SkipObjectResolution)
			if err != nil {
				t.Fatal(err)
			}
			ast.Inspect(file, func(n ast.Node) bool {
				switch n := n.(type) {
				case *ast.ImportSpec:
					return false
				case *ast.Field:
					n.Tag = nil
				case *ast.BinaryExpr: // a sentence that is written over several lines is one
					if s, ok := joined(n); ok {
						add(s, verb, isNumber)
						return false
					}
				case *ast.BasicLit:
					if s, err := strconv.Unquote(n.Value); err == nil && n.Kind == token.STRING {
						add(s, verb, isNumber)
					}
				}
				return true
			})
		}
	}
	return slices.Sorted(maps.Keys(all))
}

func isNumber(verb string) bool {
	return strings.HasSuffix(verb, "d") || strings.HasSuffix(verb, "g") || strings.HasSuffix(verb, "f")
}

// joined is what literals come to that are added up.
func joined(e ast.Expr) (string, bool) {
	switch e := e.(type) {
	case *ast.BasicLit:
		s, err := strconv.Unquote(e.Value)
		return s, err == nil && e.Kind == token.STRING
	case *ast.BinaryExpr:
		a, ok := joined(e.X)
		b, ok2 := joined(e.Y)
		return a + b, ok && ok2 && e.Op == token.ADD
	}
	return "", false
}

// TestCatalogue: the catalogue holds every text of templates, scripts and sentences, and no other; `make texts`
// gathers it anew.
func TestCatalogue(t *testing.T) {
	t.Parallel()
	now := gathered(t)
	var out strings.Builder
	out.WriteString("; English\n; Every text of the pages, gathered from where it is made by `make texts`; a " +
		"language is a copy with right sides.\n")
	for _, s := range now {
		fmt.Fprintf(&out, "%s =\n", s)
	}
	if os.Getenv("VINDEL_LANGUAGE") != "" {
		if err := os.WriteFile(catalogue, []byte(out.String()), 0o644); err != nil {
			t.Fatal(err)
		}
		t.Logf("%d texts in web/%s", len(now), catalogue)
	}
	had, err := os.ReadFile(catalogue)
	if err != nil {
		t.Fatal(err)
	}
	if string(had) != out.String() {
		old := strings.Split(string(had), "\n")
		for _, s := range now {
			if !slices.Contains(old, s+" =") {
				t.Errorf("not in the catalogue: %q", s)
				break
			}
		}
		t.Error("the catalogue is not that of the sources; `make texts` gathers it anew")
	}
	if _, err := readLanguage("sv", string(had)); err != nil {
		t.Errorf("a copy of it is no catalogue: %v", err)
	}
	for _, want := range []string{"Knitted to the last pass", "row {n} of {n2}, to the {x3}",
		"Keys of one letter work", "It is {x} now.", "Float"} {
		if !slices.Contains(now, want) {
			t.Errorf("no %q is gathered", want)
		}
	}
}
