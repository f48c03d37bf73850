package web_test

import (
	"encoding/json"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"vindel/web"
)

// TestOneFileEach: a page loads one script and one style sheet, in which all of ours are, with a map to each.
func TestOneFileEach(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	page := get(t, srv.URL+"/pieces/2/draw")
	loads := regexp.MustCompile(`<(?:script|link rel="stylesheet")[^>]* (?:src|href)="([^"]+)"`).FindAllStringSubmatch(page, -1)
	if len(loads) != 2 {
		t.Fatalf("it loads %v", loads)
	}
	had := map[string]bool{}
	for _, l := range loads {
		text := get(t, srv.URL+l[1])
		at := strings.LastIndex(text, "sourceMappingURL=")
		if at < 0 {
			t.Fatalf("%s has no map", l[1])
		}
		to, _, _ := strings.Cut(strings.TrimRight(text[at+len("sourceMappingURL="):], " */\n"), "\n")
		var m struct{ Sources, SourcesContent []string }
		if err := json.Unmarshal([]byte(get(t, srv.URL+l[1][:strings.LastIndex(l[1], "/")+1]+to)), &m); err != nil {
			t.Fatal(err)
		}
		for i, name := range m.Sources {
			had[name[strings.LastIndex(name, ":")+1:]] = m.SourcesContent[i] != ""
		}
	}
	missing := []string{}
	filepath.WalkDir("static", func(name string, d fs.DirEntry, err error) error {
		if data, _ := os.ReadFile(name); slices.Contains([]string{".js", ".css"}, filepath.Ext(name)) && len(data) > 0 &&
			!had[strings.TrimPrefix(filepath.ToSlash(name), "static")] {
			missing = append(missing, name)
		}
		return err
	})
	if len(missing) > 0 {
		t.Errorf("no page loads %v", missing)
	}
}
