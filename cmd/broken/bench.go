package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"
)

// switches is the package that the copy imports.
const switches = `// Package broken has a switch for every rule that is broken on purpose.
package broken

import (
	"os"
	"strconv"
	"sync"
)

var (
	thrown, _ = strconv.Atoi(os.Getenv("BROKEN_RULE"))
	reached   = os.Getenv("BROKEN_REACHED")
	seen      sync.Map
)

// Is says that a switch is thrown.
func Is(n int) bool {
	if reached != "" {
		if _, known := seen.LoadOrStore(n, true); !known {
			if f, err := os.OpenFile(reached, os.O_APPEND|os.O_CREATE|os.O_WRONLY, 0o600); err == nil {
				f.WriteString(strconv.Itoa(n) + "\n")
				f.Close()
			}
		}
	}
	return n == thrown
}

// By is b where the switch is thrown, else a.
func By[T any](n int, a, b T) T {
	if Is(n) {
		return b
	}
	return a
}
`

// Bench is the copy with its switches, built once.
type Bench struct {
	dir   string
	tests []*test
	far   map[string]map[string]bool // package → what it imports, directly or not
}

// test is a test function of a package.
type test struct {
	pkg, dir, binary, name string
	reaches                map[int]bool
	took                   time.Duration
}

// Close removes what was built.
func (b *Bench) Close() { os.RemoveAll(b.dir) }

// Build makes the copy and builds the tests of every package that could reach a place.
func Build(ctx context.Context, drawn []*Place, skip []string) (b *Bench, err error) {
	b = &Bench{far: map[string]map[string]bool{}}
	if b.dir, err = os.MkdirTemp("", "broken-"); err != nil {
		return nil, err
	}
	overlay, err := b.copy(drawn)
	if err != nil {
		return nil, err
	}
	out, err := exec.CommandContext(ctx, "go", "list",
		"-json=ImportPath,Dir,Deps,TestImports,XTestImports,TestGoFiles,XTestGoFiles", "./...").Output()
	if err != nil {
		return nil, err
	}
	touched := map[string]bool{}
	for _, p := range drawn {
		touched[p.Package] = true
	}
	type listed struct {
		ImportPath, Dir                                            string
		Deps, TestImports, XTestImports, TestGoFiles, XTestGoFiles []string
	}
	var all []listed
	deps := map[string][]string{}
	for dec := json.NewDecoder(bytes.NewReader(out)); dec.More(); {
		var p listed
		if err := dec.Decode(&p); err != nil {
			return nil, err
		}
		all, deps[p.ImportPath] = append(all, p), p.Deps
	}
	for _, p := range all {
		reach := map[string]bool{p.ImportPath: true}
		for _, d := range slices.Concat(p.Deps, p.TestImports, p.XTestImports) {
			reach[d] = true
			for _, dd := range deps[d] {
				reach[dd] = true
			}
		}
		hits := slices.ContainsFunc(drawn, func(d *Place) bool { return reach[d.Package] })
		if len(p.TestGoFiles)+len(p.XTestGoFiles) == 0 || !hits || skipped(p.ImportPath, skip) {
			continue
		}
		binary := filepath.Join(b.dir, strings.ReplaceAll(p.ImportPath, "/", "-")+".test")
		cmd := exec.CommandContext(ctx, "go", "test", "-vet=off", "-c", "-overlay", overlay, "-o", binary, p.ImportPath)
		if out, err := cmd.CombinedOutput(); err != nil {
			return nil, fmt.Errorf("%s: %w\n%s", p.ImportPath, err, out)
		}
		list := exec.CommandContext(ctx, binary, "-test.list", ".")
		list.Dir = p.Dir
		names, err := list.Output()
		if err != nil {
			return nil, fmt.Errorf("%s: %w", p.ImportPath, err)
		}
		for _, name := range strings.Fields(string(names)) {
			if !strings.HasPrefix(name, "Benchmark") {
				b.tests = append(b.tests, &test{pkg: p.ImportPath, dir: p.Dir, binary: binary, name: name})
			}
		}
	}
	return b, nil
}

func skipped(pkg string, skip []string) bool {
	return slices.ContainsFunc(skip, func(s string) bool { return s != "" && strings.HasSuffix(pkg, s) })
}

// copy writes the files with switches, and the overlay that puts them in the place of the source.
func (b *Bench) copy(drawn []*Place) (overlay string, err error) {
	root, err := os.Getwd()
	if err != nil {
		return "", err
	}
	replace := map[string]string{}
	put := func(name string, text []byte) error {
		to := filepath.Join(b.dir, fmt.Sprintf("%d.go", len(replace)))
		replace[filepath.Join(root, name)] = to
		return os.WriteFile(to, text, 0o600)
	}
	if err := put("broken/broken.go", []byte(switches)); err != nil {
		return "", err
	}
	by := map[string][]*Place{}
	for _, p := range drawn {
		by[p.File] = append(by[p.File], p)
	}
	for name, list := range by {
		text, err := os.ReadFile(name)
		if err != nil {
			return "", err
		}
		slices.SortFunc(list, func(a, b *Place) int { return b.Start - a.Start }) // from the end of the file
		for _, p := range list {
			text = slices.Concat(text[:p.Start], fmt.Appendf(nil, p.Text, p.No), text[p.End:])
		}
		at := regexp.MustCompile(`(?m)^package \w+`).FindIndex(text)
		text = slices.Concat(text[:at[1]], []byte(`; import broken__ "vindel/broken"`), text[at[1]:])
		if err := put(name, text); err != nil {
			return "", err
		}
	}
	data, err := json.Marshal(map[string]any{"Replace": replace})
	if err != nil {
		return "", err
	}
	overlay = filepath.Join(b.dir, "overlay.json")
	return overlay, os.WriteFile(overlay, data, 0o600)
}

// Learn runs every test function once as the source is.
func (b *Bench) Learn(ctx context.Context) error {
	var mu sync.Mutex
	var fails []error
	each(b.tests, func(t *test) {
		reached := filepath.Join(b.dir, filepath.Base(t.binary)+"."+t.name)
		begun := time.Now()
		out, err := t.run(ctx, 10*time.Minute, []string{t.name}, "BROKEN_REACHED="+reached)
		if err != nil { // the machine may have been busy with other work: once more, before all that was learnt is lost
			out, err = t.run(ctx, 10*time.Minute, []string{t.name}, "BROKEN_REACHED="+reached)
		}
		t.took, t.reaches = time.Since(begun), map[int]bool{}
		if err != nil {
			mu.Lock()
			defer mu.Unlock()
			fails = append(fails, fmt.Errorf("%s %s fails unbroken: %w\n%s", t.pkg, t.name, err, out))
			return
		}
		text, _ := os.ReadFile(reached) // none where nothing is reached
		for _, n := range strings.Fields(string(text)) {
			no, _ := strconv.Atoi(n)
			t.reaches[no] = true
		}
	})
	return errors.Join(fails...)
}

func each[T any](list []T, do func(T)) {
	var wait sync.WaitGroup
	next := make(chan T)
	for range runtime.NumCPU() {
		wait.Go(func() {
			for v := range next {
				do(v)
			}
		})
	}
	for _, v := range list {
		next <- v
	}
	close(next)
	wait.Wait()
}

// run runs some functions of a test binary, which ends with the first that fails.
func (t *test) run(ctx context.Context, limit time.Duration, names []string, env ...string) (string, error) {
	ctx, cancel := context.WithTimeout(ctx, limit)
	defer cancel()
	cmd := exec.CommandContext(ctx, t.binary, "-test.failfast", "-test.run", "^("+strings.Join(names, "|")+")$")
	cmd.Dir, cmd.WaitDelay = t.dir, time.Second
	cmd.Env = append(os.Environ(), env...)
	out, err := cmd.CombinedOutput()
	return string(out), err
}

// Break breaks each place in turn; said is told of each, with the test that noticed.
func (b *Bench) Break(ctx context.Context, drawn []*Place, budget time.Duration, said func(p *Place,
	by string)) (unnoticed []*Place) {
	var mu sync.Mutex
	each(drawn, func(p *Place) {
		by := b.noticed(ctx, p, budget)
		mu.Lock()
		defer mu.Unlock()
		if said(p, by); by == "" {
			unnoticed = append(unnoticed, p)
		}
	})
	return unnoticed
}

var failed = regexp.MustCompile(`--- FAIL: (\w+)`)

// noticed is the test that fails where a place is broken; "" where none does within the budget. Those of the place's
// own package come first, then the quickest; a package's are run together while they are quick.
func (b *Bench) noticed(ctx context.Context, p *Place, budget time.Duration) string {
	var list []*test
	for _, t := range b.tests {
		if t.reaches[p.No] {
			list = append(list, t)
		}
	}
	slices.SortStableFunc(list, func(x, y *test) int {
		if own := x.pkg == p.Package; own != (y.pkg == p.Package) {
			if own {
				return -1
			}
			return 1
		}
		return int(x.took - y.took)
	})
	used := time.Duration(0)
	for len(list) > 0 && ctx.Err() == nil {
		first, names, took := list[0], []string{}, time.Duration(0)
		list = slices.DeleteFunc(list, func(t *test) bool {
			if t.pkg != first.pkg || len(names) > 0 && took+t.took > 5*time.Second {
				return false
			}
			names, took = append(names, t.name), took+t.took
			return true
		})
		if used += took; used > budget && used > took {
			break
		}
		if out, err := first.run(ctx, 5*took+20*time.Second, names, "BROKEN_RULE="+strconv.Itoa(p.No)); err != nil {
			name := "it did not end, or broke down"
			if m := failed.FindStringSubmatch(out); m != nil {
				name = m[1]
			}
			return strings.TrimPrefix(first.pkg, "vindel/") + " " + name
		}
	}
	return b.said(ctx, p)
}

// said asks all pins, not only the slice that `make test` looks at, whether a place that nobody has noticed changes
// anything that is said.
func (b *Bench) said(ctx context.Context, p *Place) string {
	env := []string{"BROKEN_RULE=" + strconv.Itoa(p.No), "VINDEL_SOAK=1"}
	for _, t := range b.tests {
		if strings.HasSuffix(t.pkg, "/pins") && (t.name == "TestOdd" || t.name == "TestSaid") {
			if _, err := t.run(ctx, 10*time.Minute, []string{t.name}, env...); err != nil {
				return "knit/pins " + t.name + ", of all pieces"
			}
		}
	}
	return ""
}
