package store

import (
	"bytes"
	"context"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strconv"
	"testing"

	"vindel/knit/edit"
	"vindel/knit/piecetest"
)

// rounds is how often what is left to chance is tried: few here, hundreds with `make crash`.
func rounds(few int) int {
	if n, err := strconv.Atoi(os.Getenv("VINDEL_ROUNDS")); err == nil {
		return n
	}
	return few
}

// disk is what lies on a disk: the database and its log.
type disk struct{ db, log []byte }

func onDisk(dir string) (d disk) {
	d.db, _ = os.ReadFile(filepath.Join(dir, FileName))
	d.log, _ = os.ReadFile(filepath.Join(dir, FileName+"-wal"))
	return d
}

// torn is a file after a power cut: of what changed since it was last known to be on the disk,
// any of the sectors, in any order, may have reached it. firm sectors have for certain.
func torn(rng *rand.Rand, then, now []byte, firm int) []byte {
	const sector = 512
	out := bytes.Clone(now)
	if len(now) > len(then) { // as long as any of it was
		out = out[:len(then)+rng.IntN(len(now)-len(then)+1)]
	}
	share := rng.Float64()
	for i := firm * sector; i < len(out); i += sector {
		if rng.Float64() < share {
			end := min(i+sector, len(out))
			clear(out[i:end])
			if i < len(then) {
				copy(out[i:end], then[i:])
			}
		}
	}
	return out
}

// TestPowerCuts: the power fails at some moment of some change. Every change that had been
// answered is there, once; the one on its way is there whole or not at all; nothing is damaged.
//
// What the database writes is not known to be on the disk until it has waited for it. It waits
// for the log before a change is answered and before it copies the log into the file, and for
// the log's head where that begins anew (TestDurable holds it to waiting); here everything
// written since is torn to pieces.
func TestPowerCuts(t *testing.T) {
	doc := piecetest.Document(t, "card-direct", "L20", "R20",
		[]string{"#.##............#.##............#.##...."}).JSON()
	rng := rand.New(rand.NewPCG(11, 11))
	dir := t.TempDir()
	s := open(t, dir)
	if _, err := s.db.Exec("PRAGMA wal_autocheckpoint = 12"); err != nil { // so that the log begins anew often
		t.Fatal(err)
	}
	s.db.SetMaxOpenConns(1)
	id, err := s.Add(t.Context(), doc)
	if err != nil {
		t.Fatal(err)
	}
	last, cut, anew, copied := int64(0), t.TempDir(), 0, 0
	for round := range rounds(60) {
		before, then := dump(t, s), onDisk(dir)
		switch rng.IntN(3) {
		case 0:
			row := []byte("#.##............#.##............#.##....")
			row[rng.IntN(len(row))], row[rng.IntN(len(row))] = '+', '*'
			row[round%len(row)] = '#'
			err = editNow(t.Context(), s, id, edit.Edit{Kind: edit.Draws, Label: fmt.Sprint("stroke ", round),
				Changes: edit.Put("/charts/c/rows/0", string(row))})
		case 1:
			last, err = s.Write(t.Context(), id, last, Entry{Kind: "knitted", Done: round})
		default:
			_, err = s.Add(t.Context(), doc)
		}
		if err != nil {
			t.Fatal(err)
		}
		after, now := dump(t, s), onDisk(dir)
		left, firm := now, 0
		if len(then.log) >= 32 && !bytes.Equal(then.log[16:24], now.log[16:24]) { // its salts: the log began anew
			firm = 1
			anew++
		}
		if !bytes.Equal(then.db, now.db) {
			left.db = torn(rng, then.db, now.db, 0)
			copied++
		} else {
			left.log = torn(rng, then.log, now.log, firm)
		}
		for name, data := range map[string][]byte{FileName: left.db, FileName + "-wal": left.log} {
			if err := os.WriteFile(filepath.Join(cut, name), data, 0o600); err != nil {
				t.Fatal(err)
			}
		}
		os.Remove(filepath.Join(cut, FileName+"-shm")) // it lies in memory
		again, err := Open(context.Background(), cut)
		if err != nil {
			t.Fatalf("round %d: %v", round, err)
		}
		if got := dump(t, again); got != before && got != after {
			t.Fatalf("round %d, after the power cut:\n%s\nbefore the change:\n%s\nafter it:\n%s", round, got, before,
				after)
		}
		again.Close()
	}
	s.Close()
	if least := rounds(60) / 40; anew < least || copied < least {
		t.Errorf("in %d rounds the log began anew %d times, and was copied %d times", rounds(60), anew, copied)
	}
}
