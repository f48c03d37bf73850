package recipe

import (
	"embed"
	"io/fs"
	"strings"
)

//go:embed examples small
var examples embed.FS

// Example is a recipe to begin from: a whole piece file with one recipe section.
type Example struct {
	Name string // "lichen-kneeler"
	File []byte
}

// Examples lists the recipes to begin from, in the order in which they are offered.
var Examples = func() (list []Example) {
	files, _ := fs.Glob(examples, "examples/*.json") // the pattern is right, and the files are embedded
	for _, file := range files {
		data, _ := examples.ReadFile(file)
		name := strings.TrimSuffix(strings.TrimPrefix(file, "examples/"), ".vindel.json")
		_, name, _ = strings.Cut(name, "-")
		list = append(list, Example{name, data})
	}
	return list
}()

// Shipped is the example with a name; one without a file where there is none.
func Shipped(name string) Example {
	for _, e := range Examples {
		if e.Name == name {
			return e
		}
	}
	return Example{}
}

// Small is texts for parts of a piece, by name: "hem".
var Small = func() map[string]string {
	small := map[string]string{}
	files, _ := fs.Glob(examples, "small/*.txt")
	for _, file := range files {
		data, _ := examples.ReadFile(file)
		small[strings.TrimSuffix(strings.TrimPrefix(file, "small/"), ".txt")] = strings.TrimRight(string(data), "\n")
	}
	return small
}()
