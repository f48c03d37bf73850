package main

import (
	"bufio"
	"crypto/sha256"
	"crypto/tls"
	"fmt"
	"net/http"
	"os/exec"
	"regexp"
	"strings"
	"testing"
	"time"

	"vindel/knit/beside"
	"vindel/knit/plan"
	"vindel/knit/technique"
	"vindel/link"
)

// process starts the program and gives what it prints, line by line.
func process(t *testing.T, args ...string) *bufio.Scanner {
	t.Helper()
	binary, err := built()
	if err != nil {
		t.Fatal(err)
	}
	cmd := exec.Command(binary, args...)
	pipe, err := cmd.StdoutPipe()
	if err == nil {
		err = cmd.Start()
	}
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { kill(cmd) })
	return bufio.NewScanner(pipe)
}

// TestMachineProcess: the simulated machine is a process of its own; it takes a piece over the wire, makes its
// passes when it is let, and misbehaves where it is told to. What it cannot be told is refused.
func TestMachineProcess(t *testing.T) {
	out := process(t, "machine", "--addr", "127.0.0.1:0", "--pace", "1ms", "--fault", "miss@90", "wrong-way@3")
	if !out.Scan() {
		t.Fatal("it says nothing")
	}
	addr := regexp.MustCompile(`127\.0\.0\.1:\d+`).FindString(out.Text())
	p, err := technique.Read([]byte(longPiece))
	if err != nil {
		t.Fatal(err)
	}
	pl := plan.Make(p)
	k, err := link.Dial(t.Context(), addr, p.Machine.Bed, nil)
	if err != nil {
		t.Fatal(err)
	}
	defer k.Close()
	if err := k.Send(t.Context(), pl, []byte(longPiece)); err != nil {
		t.Fatal(err)
	}
	if err := k.Go(0, beside.UpTo(pl, 0)); err != nil {
		t.Fatal(err)
	}
	for i := range 3 {
		select {
		case m := <-k.Reports():
			r, _ := k.Report(m)
			if v := link.Judge(pl, i, r); (v.What == link.WrongWay) != (i == 2) {
				t.Errorf("pass %d: %+v", i+1, v)
			}
			k.Heard(m)
		case <-time.After(10 * time.Second):
			t.Fatal("no report")
		}
	}
	for args, words := range map[string]string{"--fault miss": "a fault is miss", "--fault fly@3": "a fault is miss",
		"--fault miss@0": "a fault is miss", "--fault miss@4 fly": "a fault is miss",
		"--addr 192.0.2.1:7070": "answers on this computer only", "--addr here": "--addr"} {
		var printed, errs strings.Builder
		if code := run(append([]string{"machine"}, strings.Fields(args)...), strings.NewReader(""), &printed,
			&errs); code != 2 || !strings.Contains(errs.String(), words) || printed.String() != "" {
			t.Errorf("%s: %d %q", args, code, errs.String())
		}
	}
}

// TestServedOverTLS: with --tls Vindel is reached over TLS alone, under the certificate whose fingerprint it prints.
func TestServedOverTLS(t *testing.T) {
	out := process(t, "serve", "--tls", "--addr", "127.0.0.1:0", "--data", t.TempDir())
	address, fingerprint := "", ""
	for fingerprint == "" && out.Scan() {
		if at := regexp.MustCompile(`https://\S+/`).FindString(out.Text()); at != "" {
			address = at
		}
		fingerprint = regexp.MustCompile(`^[0-9A-F:]{95}$`).FindString(out.Text())
	}
	client := &http.Client{Transport: &http.Transport{TLSClientConfig: &tls.Config{InsecureSkipVerify: true}}}
	res, err := client.Get(address)
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close()
	sum := sha256.Sum256(res.TLS.PeerCertificates[0].Raw)
	if shown := strings.ReplaceAll(fmt.Sprintf("% X", sum[:]), " ", ":"); res.StatusCode != 200 ||
		shown != fingerprint || fingerprint == "" {
		t.Errorf("%s %s, printed %s", res.Status, shown, fingerprint)
	}
}
