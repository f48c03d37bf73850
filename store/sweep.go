package store

import (
	"errors"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

// leftBehind are what a process that was killed leaves in the folder of the data: what it was making, taking in or
// bringing back.
var leftBehind = []string{"archive-*", "restore-*", "upload-*", "*.part", CopiesDir + "/*.part"}

// KeptReplaced is how many copies are kept of what was replaced by another, and how many of those before an update.
const KeptReplaced = 5

// Sweep removes what killed processes have left in the folder of the data, where it is older than age, and of what was
// replaced all but the latest. It gives how many files and folders that were.
func (s *Store) Sweep(age time.Duration) (swept int, err error) {
	dir := s.Folder()
	var old []string
	for _, what := range leftBehind {
		list, err := filepath.Glob(filepath.Join(dir, what))
		if err != nil {
			return 0, err
		}
		for _, name := range list {
			if at, err := os.Lstat(name); err == nil && s.now().Sub(at.ModTime()) >= age {
				old = append(old, name)
			}
		}
	}
	for _, what := range []string{"-before-*.db", "-replaced-*.db"} {
		list, err := filepath.Glob(strings.TrimSuffix(s.path, ".db") + what)
		if err != nil {
			return 0, err
		}
		slices.Sort(list) // by their dates
		for _, name := range list[:max(0, len(list)-KeptReplaced)] {
			old = append(old, name, name+"-wal", name+"-shm")
		}
	}
	var errs []error
	for _, name := range old {
		if _, err := os.Lstat(name); err != nil {
			continue
		}
		if err := os.RemoveAll(name); err != nil {
			errs = append(errs, err)
			continue
		}
		swept++
	}
	return swept, errors.Join(errs...)
}
