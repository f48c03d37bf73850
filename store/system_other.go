//go:build !unix

package store

import "errors"

// free says nothing where the room on a disk is not known.
func free(string) (int64, error) { return 0, errors.ErrUnsupported }

// Lock makes a folder of data, and does no more where a file cannot be locked so.
func Lock(dir string) (free func() error, err error) {
	return func() error { return nil }, MakeFolder(dir)
}
