//go:build unix

package store

import (
	"fmt"
	"os"
	"path/filepath"
	"syscall"
)

// Lock makes a folder of data, and keeps it for one server: another is told who has it. It
// holds until the lock is given free, or the process ends, however that is.
func Lock(dir string) (free func() error, err error) {
	if err := MakeFolder(dir); err != nil {
		return nil, err
	}
	f, err := os.OpenFile(filepath.Join(dir, "vindel.lock"), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, fmt.Errorf("%s: the data cannot be written there: %w", dir, plain(err))
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		f.Close()
		return nil, fmt.Errorf("%s: another Vindel is running with these data. Use that one, or end it first", dir)
	}
	return f.Close, nil
}
