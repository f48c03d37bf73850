package main

import (
	"fmt"
	"os"
	"path"
	"regexp"
	"strings"
)

// Rule is a row of docs/rules.md: a file that decides, and the function in it, "" for all of it.
type Rule struct{ File, Func string }

var quoted = regexp.MustCompile("`([^`]+)`")

// Rules reads the rows of docs/rules.md: in the second column stand files, from knit/ or from the root, each with
// the functions of it that are meant.
func Rules(name string) (list []Rule, err error) {
	text, err := os.ReadFile(name)
	if err != nil {
		return nil, err
	}
	for _, row := range strings.Split(string(text), "\n") {
		cells := strings.Split(row, "|")
		if len(cells) < 4 || strings.HasPrefix(cells[1], " --") {
			continue
		}
		file, funcs := "", 0
		close := func() {
			if file != "" && funcs == 0 {
				list = append(list, Rule{File: file})
			}
		}
		for _, m := range quoted.FindAllStringSubmatch(cells[2], -1) {
			switch word := m[1]; {
			case path.Ext(word) == ".go":
				close()
				if file, funcs = "knit/"+word, 0; !exists(file) {
					file = word
				}
				if !exists(file) {
					return nil, fmt.Errorf("%s: %q is no file", name, word)
				}
			case path.Ext(word) == "" && file != "":
				list, funcs = append(list, Rule{file, word}), funcs+1
			}
		}
		close()
	}
	if len(list) == 0 {
		return nil, fmt.Errorf("%s: no rows", name)
	}
	return list, nil
}

func exists(name string) bool {
	_, err := os.Stat(name)
	return err == nil
}

// Known reads the changes that change nothing: lines "key: reason", by Place.Key.
func Known(name string) (map[string]bool, error) {
	text, err := os.ReadFile(name)
	if err != nil {
		return nil, err
	}
	known := map[string]bool{}
	for _, line := range strings.Split(string(text), "\n") {
		if key, _, ok := strings.Cut(line, " :: "); ok && !strings.HasPrefix(line, "#") {
			known[key] = true
		}
	}
	return known, nil
}
