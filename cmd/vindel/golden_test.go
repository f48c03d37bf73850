package main

import (
	"flag"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

var update = flag.Bool("update", false, "write the golden files anew")

// TestGolden holds what the command line prints to what it has printed before: other
// tools rely on it. A change here is a change of a promise; read the diff.
func TestGolden(t *testing.T) {
	for _, args := range []string{
		"plan --format text ../../demo/pieces/2-cap.json", "plan --format csv ../../demo/pieces/8-flag.json",
		"plan --format json ../../demo/pieces/11-pouch.json",
		"card --section 2 ../../demo/pieces/3-cushion.json", "card --section 2 ../../demo/pieces/9-screen.json",
		"card ../../demo/pieces/4-curtain.json",
		"program ../../demo/pieces/5-mitten.json", "program --section 2 ../../demo/pieces/10-mitts.json",
		"check ../../demo/pieces/1-flag.json", "fabric ../../demo/pieces/6-runner.json",
	} {
		words := strings.Fields(args)
		name := filepath.Join("testdata", words[0]+"-"+strings.TrimSuffix(filepath.Base(words[len(words)-1]),
			".json")+".golden")
		_, out, errs := vindel(t, "", words...)
		if errs != "" {
			t.Errorf("%s: %s", args, errs)
		}
		if *update {
			if err := os.WriteFile(name, []byte(out), 0o644); err != nil {
				t.Fatal(err)
			}
			continue
		}
		want, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		if out == string(want) {
			continue
		}
		got, old := strings.Split(out, "\n"), strings.Split(string(want), "\n")
		for i := range got {
			if i >= len(old) || got[i] != old[i] {
				t.Errorf("%s, line %d:\n got %.200s\nwant %.200s", args, i+1, got[i],
					strings.Join(old[min(i, len(old)):min(i+1, len(old))], ""))
				break
			}
		}
	}
}
