// Package pieces is the piece files of Larkmoor, "N-name.json" in the order of the shelf.
package pieces

import (
	"embed"

	"vindel/knit/recipe"
)

// Files are the files themselves.
//
//go:embed *.json
var Files embed.FS

// All is every piece of Larkmoor, and the recipes that ship, by name.
func All() map[string][]byte {
	all := map[string][]byte{}
	list, _ := Files.ReadDir(".") // it is embedded
	for _, f := range list {
		all[f.Name()], _ = Files.ReadFile(f.Name())
	}
	for _, e := range recipe.Examples {
		all[e.Name] = e.File
	}
	return all
}
