//go:build !unix

package store

// Lock makes a folder of data, and does no more where a file cannot be locked so.
func Lock(dir string) (free func() error, err error) {
	return func() error { return nil }, MakeFolder(dir)
}
