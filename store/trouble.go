package store

import (
	"context"
	"errors"
	"os"

	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"
)

// Trouble is what keeps data from the disk, or the disk from giving them. Unsure says that a
// change may be kept all the same; else it is known not to be.
type Trouble struct {
	Unsure bool
	Words  string // what is the matter and what can be done
	Err    error
}

func (t *Trouble) Error() string { return t.Words + ": " + t.Err.Error() }

// Unwrap gives the error beneath.
func (t *Trouble) Unwrap() error { return t.Err }

// Say is the trouble in words for the one whose change it was.
func (t *Trouble) Say() string {
	if t.Unsure {
		return t.Words + " Whether that was kept is not known: load the page again to see."
	}
	return t.Words + " That was not kept."
}

// errGone is that the file of the data is no longer where it was.
var errGone = errors.New("the file of the data has been moved or deleted")

// words for what SQLite says, by its primary code.
var troubles = map[int]string{
	sqlite3.SQLITE_FULL:     "The disk is full. Make room on it, and do it again.",
	sqlite3.SQLITE_READONLY: "The folder of the data cannot be written to. Make it writable, and do it again.",
	sqlite3.SQLITE_PERM:     "The folder of the data cannot be written to. Make it writable, and do it again.",
	sqlite3.SQLITE_CANTOPEN: "The file of the data cannot be opened. See that its folder is there and can be " +
		"written to.",
	sqlite3.SQLITE_IOERR: "The disk fails. Keep a copy of the data's folder elsewhere before anything else.",
	sqlite3.SQLITE_CORRUPT: "The file of the data is damaged. End Vindel and start it again: it then shows what can " +
		"be saved.",
	sqlite3.SQLITE_NOTADB: "The file of the data is damaged. End Vindel and start it again: it then shows what can " +
		"be saved.",
	sqlite3.SQLITE_BUSY:   "Another program holds the data. Close it, and do it again.",
	sqlite3.SQLITE_LOCKED: "Another program holds the data. Close it, and do it again.",
}

// Explain finds the trouble in an error, nil where it is another error.
func Explain(err error) *Trouble {
	var known *Trouble
	if errors.As(err, &known) {
		return known
	}
	if errors.Is(err, errGone) {
		return &Trouble{Words: "The folder of the data is gone: it has been moved or deleted while Vindel runs. Take " +
			"your pieces out as files, then start Vindel anew.", Err: err}
	}
	var lite *sqlite.Error
	if errors.As(err, &lite) {
		if words := troubles[lite.Code()&0xff]; words != "" {
			return &Trouble{Words: words, Err: err}
		}
	}
	return nil
}

// committed is the error of a commit: one that was cut short may be on the disk, or not.
func committed(err error) error {
	t := Explain(err)
	if t == nil {
		if !errors.Is(err, context.DeadlineExceeded) {
			return err
		}
		t = &Trouble{Words: "The disk did not answer in time.", Err: err}
	}
	var lite *sqlite.Error
	t.Unsure = !errors.As(err, &lite) || lite.Code()&0xff == sqlite3.SQLITE_IOERR
	return t
}

// there says that the file of the data is still where it was opened: what is written into a
// deleted file is kept as long as it is open, and no longer.
func (s *Store) there() error {
	now, err := os.Stat(s.path)
	if err != nil || !os.SameFile(now, s.file) {
		return errGone
	}
	return nil
}
