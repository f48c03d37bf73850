//go:build unix

package store

import (
	"fmt"
	"os"
	"path/filepath"
	"syscall"
)

// Lock keeps a folder of data for one server: another is told who has it. It holds until the
// process ends, however that is.
func Lock(dir string) error {
	f, err := os.OpenFile(filepath.Join(dir, "vindel.lock"), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return fmt.Errorf("%s: the data cannot be written there: %w", dir, plain(err))
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		f.Close()
		return fmt.Errorf("%s: another Vindel is running with these data. Use that one, or end it first", dir)
	}
	locks = append(locks, f) // kept open: closing it would give the folder free
	return nil
}

var locks []*os.File
