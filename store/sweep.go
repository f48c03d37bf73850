package store

import (
	"errors"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"time"
)

// leftBehind says that a name in the folder of the data is what a process that was killed leaves there: a folder in
// which it was making an archive or bringing one back, with nothing of anybody else's in it, or a file that it was
// taking in.
func leftBehind(dir, name string) bool {
	m := made.FindStringSubmatch(name)
	at, err := os.Lstat(filepath.Join(dir, name))
	if m == nil || err != nil {
		return false
	}
	if m[1] != "archive" && m[1] != "restore" {
		return at.Mode().IsRegular()
	}
	inside, err := os.ReadDir(filepath.Join(dir, name))
	return err == nil && at.IsDir() && !slices.ContainsFunc(inside, func(e os.DirEntry) bool {
		return !strings.HasPrefix(e.Name(), "vindel")
	})
}

// made is the names that are given: those of the system's for what is temporary, and those of a copy that is half made.
var made = regexp.MustCompile(`^(archive|restore|upload)-\d+$|^vindel[\w-]*\.(?:db|zip)\.part$`)

// KeptReplaced is how many copies are kept of what was replaced by another, and how many of those before an update.
const KeptReplaced = 5

// Sweep removes what killed processes have left in the folder of the data, where it is older than age, and of what was
// replaced all but the latest. It gives how many files and folders that were.
func (s *Store) Sweep(age time.Duration) (swept int, err error) {
	dir := s.Folder()
	var old []string
	for _, in := range []string{dir, filepath.Join(dir, CopiesDir)} {
		list, err := os.ReadDir(in)
		if err != nil && !errors.Is(err, fs.ErrNotExist) {
			return 0, err
		}
		for _, e := range list {
			if at, err := e.Info(); err == nil && s.now().Sub(at.ModTime()) >= age && leftBehind(in, e.Name()) {
				old = append(old, filepath.Join(in, e.Name()))
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
