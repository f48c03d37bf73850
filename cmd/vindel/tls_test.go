package main

import (
	"os"
	"path/filepath"
	"testing"
	"time"
)

// TestCertificate: one is made, kept as long as it serves, and made anew before it ends or when the machine has
// another name; what cannot be read is not overwritten.
func TestCertificate(t *testing.T) {
	dir, now := t.TempDir(), time.Now()
	print := func(names []string, at time.Time) string {
		t.Helper()
		c, fingerprint, err := certificate(dir, names, at)
		if err != nil {
			t.Fatal(err)
		}
		for _, n := range names {
			if err := c.Leaf.VerifyHostname(n); err != nil {
				t.Error(err)
			}
		}
		if len(fingerprint) != 32*3-1 {
			t.Errorf("%q", fingerprint)
		}
		return fingerprint
	}
	first := print([]string{"localhost", "127.0.0.1"}, now)
	for _, c := range []struct {
		what  string
		names []string
		at    time.Time
		same  bool
	}{{"an hour on", []string{"localhost"}, now.Add(time.Hour), true}, {"a day before it is made anew",
		[]string{"localhost"}, now.Add(certGood - certAnew - 24*time.Hour), true},
		{"two weeks before its end", []string{"localhost"}, now.Add(certGood - certAnew + time.Minute), false}} {
		if again := print(c.names, c.at); again == first != c.same {
			t.Errorf("%s: the same: %v", c.what, again == first)
		}
	}
	second := print([]string{"localhost"}, now)
	if print([]string{"localhost", "192.0.2.7"}, now) == second {
		t.Error("another name, and the same certificate")
	}
	if info, err := os.Stat(filepath.Join(dir, keyFile)); err != nil || info.Mode().Perm() != onlyMine {
		t.Errorf("%v %v", info, err)
	}
	if err := os.WriteFile(filepath.Join(dir, certFile), []byte("torn"), onlyMine); err != nil {
		t.Fatal(err)
	}
	if _, _, err := certificate(dir, []string{"localhost"}, now); err == nil {
		t.Error("a certificate that cannot be read is replaced")
	}
}
