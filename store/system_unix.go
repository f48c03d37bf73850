//go:build unix

package store

import (
	"fmt"
	"os"
	"path/filepath"
	"syscall"
)

// free is the room, in bytes, that is left for this user on the disk of a folder.
func free(dir string) (int64, error) {
	var fs syscall.Statfs_t
	if err := syscall.Statfs(dir, &fs); err != nil {
		return 0, err
	}
	return int64(fs.Bavail) * int64(fs.Bsize), nil
}

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
