package store

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
)

// Room is what the folder of the data takes on its disk, and what is left there, in bytes.
type Room struct {
	Data   int64 // the database and its log
	Copies int64 // those by the clock
	Kept   int64 // what was replaced, or copied before an update
	Free   int64 // left on the disk for this user
}

// least is the room, in bytes, below which a disk is nearly full, whatever the data take.
const least = 200 << 20

// Warning says that little is left, before anything fails: less than a copy of all data, a restore and the growth of
// a while need. "": there is enough.
func (r Room) Warning() string {
	if r.Free >= max(least, 4*r.Data) {
		return ""
	}
	return fmt.Sprintf("Only %d MB are left on the disk where Vindel keeps your data. Make room there, or save everything "+
		"on another disk, before a row cannot be written down.", r.Free>>20)
}

// Room measures the folder of the data.
func (s *Store) Room() (r Room, err error) {
	if r.Free, err = s.free(s.Folder()); err != nil {
		return r, err
	}
	sum := func(pattern string) (n int64) {
		list, _ := filepath.Glob(pattern)
		for _, name := range list {
			if at, err := os.Stat(name); err == nil {
				n += at.Size()
			}
		}
		return n
	}
	base := strings.TrimSuffix(s.path, ".db")
	r.Data = sum(s.path + "*")
	r.Kept = sum(base + "-*")
	r.Copies = sum(filepath.Join(s.Folder(), CopiesDir, "*"))
	return r, nil
}
