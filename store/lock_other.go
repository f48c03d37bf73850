//go:build !unix

package store

// Lock does nothing where a file cannot be locked so.
func Lock(string) (free func() error, err error) { return func() error { return nil }, nil }
