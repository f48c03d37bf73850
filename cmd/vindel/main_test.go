package main

import (
	"bytes"
	"encoding/json"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"vindel/store"
)

const cushion = "../../demo/pieces/3-cushion.json"
const faulty = "../../demo/pieces/1-flag.json"

// vindel runs a command line as the process would.
func vindel(t *testing.T, stdin string, args ...string) (code int, out, errs string) {
	t.Helper()
	var o, e bytes.Buffer
	code = run(args, strings.NewReader(stdin), &o, &e)
	return code, o.String(), e.String()
}

// TestContract: the exit codes, streams and names that outside tools rely on.
func TestContract(t *testing.T) {
	good, err := os.ReadFile(cushion)
	if err != nil {
		t.Fatal(err)
	}
	bad := strings.Replace(string(good), `"first": "L48"`, `"first": "L140"`, 1)
	for _, c := range []struct {
		args      string
		stdin     string
		code      int
		out, errs string // how each begins
	}{
		{"plan -", string(good), 0, "{\n \"vindel\": 1,", ""},
		{"plan --format csv " + cushion, "", 0, "n,section,carriage,dir,row,line,counter", ""},
		{"plan " + cushion + " --format text", "", 0, "Hide bench cushion", ""},
		{"plan " + faulty, "", 1, "{\n \"vindel\": 1,", ""},
		{"plan -", bad, 2, "", `sections[1].areas[0].first: "L140": the bed ends at L100` + "\n"},
		{"plan -", "{", 2, "", "line 1, column 2: not JSON"},
		{"plan nowhere.json", "", 2, "", "open nowhere.json"},
		{"plan --format xml " + cushion, "", 2, "", `--format: "xml": json, csv, text`},
		{"check " + cushion, "", 0, "", ""},
		{"check " + faulty, "", 1, "stop\twidth-tile\t2\t1-24\tL30-R30\t", ""},
		{"fabric " + cushion, "", 0, "{\n \"matches\": true,\n \"differences\": 0,", ""},
		{"fabric --format png --side purl " + cushion, "", 0, "\x89PNG", ""},
		{"fabric --format svg " + cushion, "", 0, "<svg ", ""},
		{"card " + cushion, "", 0, "...#.#...#.....#.#...#..\t31\t\n", ""},
		{"card --section 3 --format pdf " + cushion, "", 0, "%PDF-", ""},
		{"card --section 9 " + cushion, "", 2, "", "--section: 9: the piece has sections 1 to 4"},
		{"card " + faulty, "", 1, "", ""},
		{"card ../../demo/pieces/2-cap.json", "", 2, "", `machine.profile: "hand-mid" has no punch card`},
		{"program " + cushion, "", 2, "", `machine.profile: "card-preselect" has no electronic program`},
		{"program ../../demo/pieces/5-mitten.json", "", 0,
			"drawing 1: feathers, 6 columns, 8 lines; mirrored already, which the panel does not do for it\narea 1: " +
				"above repeat, anchor L24, columns 1 to 6, drawing 1, from L24, rows 1 to 8, switches none, " +
				"to R24\n", ""},
		{"sheet --kind grid --chart plover " + cushion, "", 0, "%PDF-", ""},
		{"sheet --kind grid --chart none " + cushion, "", 2, "", `--chart: "none": no such chart`},
		{"sheet --kind song " + cushion, "", 2, "", `--kind: "song": cheat, grid, lace, laying`},
		{"sheet --kind lace --section 2 ../../demo/pieces/9-screen.json", "", 0, "%PDF-", ""},
		{"program --format csv ../../demo/pieces/5-mitten.json", "", 0, "line,bits,memo,runs\n8,", ""},
		{"program --format png ../../demo/pieces/5-mitten.json", "", 0, "\x89PNG", ""},
		{"serve --addr 0.0.0.0:0 --data " + t.TempDir(), "", 2, "",
			`--addr: "0.0.0.0:0": other machines can reach this address; set a passphrase first`},
	} {
		code, out, errs := vindel(t, c.stdin, strings.Fields(c.args)...)
		if code != c.code || !strings.HasPrefix(out, c.out) && c.out != "" || !strings.HasPrefix(errs, c.errs) ||
			(c.errs == "") != (errs == "") || code == 2 && out != "" || strings.Count(errs, "\n") > 1 {
			t.Errorf("vindel %s: exit %d\n%.300s\n%s\nwant %d, %q, %q", c.args, code, out, errs, c.code, c.out, c.errs)
		}
	}
	_, out, _ := vindel(t, "", "plan", cushion)
	var plan struct {
		Totals map[string]int
		Passes []struct {
			N, Section, Row, Line, Counter int
			Carriage, Dir, Select, Sets    string
			Feeders                        []string
			Cams                           map[string]string
			Before                         []struct{ Do, Yarn string }
			Second                         any
		}
	}
	if err := json.Unmarshal([]byte(out), &plan); err != nil {
		t.Fatal(err)
	}
	p := plan.Passes[13]
	if plan.Totals["passes"] != 84 || plan.Totals["threadings"] != 5 || p.N != 14 || p.Section != 2 || p.Row != 2 ||
		p.Line != 3 || p.Dir != "right" || p.Cams["held"] != "hold" || strings.Join(p.Feeders, "") != "AB" {
		t.Errorf("pass 14: %+v of %v", p, plan.Totals)
	}
}

// TestConvert: a chart goes from form to form and comes back as it was.
func TestConvert(t *testing.T) {
	dir := t.TempDir()
	at := func(name string) string { return filepath.Join(dir, name) }
	const text = "..#+\n##..\n#..#\n"
	if err := os.WriteFile(at("a.txt"), []byte("; drawn by hand\n"+text), 0o600); err != nil {
		t.Fatal(err)
	}
	for _, step := range [][2]string{{"a.txt", "b.png"}, {"b.png", "c.csv"}, {"c.csv", "d.vindel.json"},
		{"d.vindel.json", "e.png"}, {"e.png", "f.vindel.json"}, {"f.vindel.json", "g.txt"}} {
		if code, _, errs := vindel(t, "", "convert", at(step[0]), at(step[1])); code != 0 {
			t.Fatalf("convert %v: %s", step, errs)
		}
	}
	if got, _ := os.ReadFile(at("g.txt")); string(got) != text {
		t.Errorf("came back as\n%s", got)
	}
	if code, _, errs := vindel(t, "", "check", at("d.vindel.json")); code == 2 {
		t.Errorf("the piece made of it: %s", errs)
	}
	for _, c := range [][3]string{{at("a.txt"), at("x.bmp"), "an extension"},
		{cushion, at("x.txt"), "charts: several; choose with --chart: plover, ripple"},
		{at("b.png"), at("no/x.txt"), "open"}} {
		if code, _, errs := vindel(t, "", "convert", c[0], c[1]); code != 2 || !strings.Contains(errs, c[2]) {
			t.Errorf("convert %s %s: %d %s", c[0], c[1], code, errs)
		}
	}
	if code, out, errs := vindel(t, ".;#\n#;.\n", "convert", "--from", "csv", "--to", "txt", "-", "-"); code != 0 ||
		out != ".#\n#.\n" {
		t.Errorf("through pipes: %d %q %s", code, out, errs)
	}
	if code, out, _ := vindel(t, "", "--version"); code != 0 || !strings.HasPrefix(out, "vindel ") ||
		!strings.Contains(out, "go1.") {
		t.Errorf("--version: %q", out)
	}
	busy, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer busy.Close()
	if code, _, errs := vindel(t, "", "serve", "--addr", busy.Addr().String(), "--data", t.TempDir()); code != 2 ||
		!strings.Contains(errs, "is in use, perhaps by another Vindel; try --addr 127.0.0.1:") {
		t.Errorf("an address in use: %d %s", code, errs)
	}
	if code, out, _ := vindel(t, "", "completion", "bash"); code != 0 || !strings.Contains(out, "vindel") {
		t.Errorf("completion: %.60q", out)
	}
	if code, _, errs := vindel(t, "", "convert", "--card", "24x0", at("b.png"), at("y.txt")); code != 2 ||
		!strings.Contains(errs, "0 rows") {
		t.Errorf("a card of no rows: %d %s", code, errs)
	}
	if code, _, _ := vindel(t, "", "convert", "--chart", "ripple", cushion, at("r.txt")); code != 0 {
		t.Error("a chart chosen by name")
	}
}

// TestKilled: the process is killed with -9 between passes, and the place is found again.
func TestKilled(t *testing.T) {
	dir := t.TempDir()
	start := func() (*exec.Cmd, string) { return started(t, "demo", dir) }
	client := &http.Client{Timeout: 10 * time.Second}
	body := func(status int, res *http.Response, err error) string {
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		var b bytes.Buffer
		if _, err := b.ReadFrom(res.Body); err != nil || res.StatusCode != status {
			t.Fatalf("%s: %v", res.Status, err)
		}
		return b.String()
	}
	place := regexp.MustCompile(`name="(place|rev)" value="(\d+)"`)
	shown := func(at string) url.Values { // where the page stands that is pressed on
		res, err := client.Get(at + "pieces/2/knit")
		values := url.Values{}
		for _, m := range place.FindAllStringSubmatch(body(200, res, err), -1) {
			values.Set(m[1], m[2])
		}
		return values
	}
	counter := regexp.MustCompile(`id="counter">(\d+)<`)
	cmd, at := start()
	var page url.Values
	for i, from := range []string{"23", "24", "25", "25"} { // the last press comes twice
		status := 200
		if i == 3 {
			status = http.StatusConflict
		} else {
			page = shown(at)
		}
		page["do"], page["from"] = []string{"knitted"}, []string{from}
		res, err := client.PostForm(at+"pieces/2/knit", page)
		if said := body(status, res, err); i == 3 && !strings.Contains(said,
			"You are at pass 27; your press was not counted") {
			t.Errorf("the press that came twice: %s", said)
		}
		kill(cmd)
		cmd, at = start()
	}
	res, err := client.Get(at + "pieces/2/knit")
	got := counter.FindStringSubmatch(body(200, res, err))
	kill(cmd)
	if got == nil || got[1] != "26" {
		t.Errorf("after 26 passes and four kills the counter reads %v, want 26", got)
	}
}

// TestDamaged: data that are damaged are served to be read only; a backup taken while Vindel
// serves puts them right, and not before it has ended.
func TestDamaged(t *testing.T) {
	dir := t.TempDir()
	out, file := filepath.Join(t.TempDir(), "copy.db"), filepath.Join(dir, store.FileName)
	cmd, _ := started(t, "demo", dir)
	if code, _, errs := vindel(t, "", "backup", out, "--data", dir); code != 0 {
		t.Fatal(errs)
	}
	if code, _, errs := vindel(t, "", "restore", out, "--data", dir); code != 2 || !strings.Contains(errs,
		"another Vindel is running") {
		t.Errorf("restored under a running one: %d %s", code, errs)
	}
	cmd.Process.Signal(os.Interrupt) // it writes its log into the file when it ends
	cmd.Wait()
	data, err := os.ReadFile(file)
	if err != nil {
		t.Fatal(err)
	}
	if at := bytes.Index(data, []byte("Draught curtain")) &^ 4095; at > 0 { // the page that it lies on
		copy(data[at:], bytes.Repeat([]byte("ravel"), 800))
	}
	if err := os.WriteFile(file, data, 0o600); err != nil {
		t.Fatal(err)
	}
	cmd, at := started(t, "serve", dir)
	res, err := http.PostForm(at+"pieces/3/undo", url.Values{"rev": {"1"}})
	if err != nil {
		t.Fatal(err)
	}
	var b bytes.Buffer
	b.ReadFrom(res.Body)
	res.Body.Close()
	if res.StatusCode != 503 || !strings.Contains(b.String(), "The file of your data is damaged") ||
		!strings.Contains(b.String(), "vindel restore") {
		t.Errorf("%s: %s", res.Status, b.String())
	}
	link := regexp.MustCompile(`/(saved/\d+/piece.vindel.json)`).FindStringSubmatch(b.String())
	if link == nil {
		t.Fatal("nothing could be read")
	}
	if res, err = http.Get(at + link[1]); err != nil || res.StatusCode != 200 ||
		res.Header.Get("Content-Type") != "application/json" {
		t.Errorf("%s: %v %v", link[1], res, err)
	}
	res.Body.Close()
	kill(cmd)
	if now, _ := os.ReadFile(file); !bytes.Equal(now, data) {
		t.Error("the damaged file has been changed")
	}
	if code, said, errs := vindel(t, "", "restore", out, "--data", dir); code != 0 || !strings.HasPrefix(said,
		"What was there is kept as ") {
		t.Errorf("%d %s%s", code, said, errs)
	}
	cmd, at = started(t, "serve", dir)
	defer kill(cmd)
	if res, err = http.Get(at + "pieces/3/prove"); err != nil || res.StatusCode != 200 {
		t.Errorf("after that: %v %v", res, err)
	}
	res.Body.Close()
}

// TestReport: a report holds the piece without her notes, the plan with its findings, and by which Vindel;
// of a piece that cannot be read, where and why.
func TestReport(t *testing.T) {
	good, err := os.ReadFile(faulty)
	if err != nil {
		t.Fatal(err)
	}
	noted := strings.Replace(string(good), `"sections": [ {`, `"sections": [ { "notes": { "1": "for my aunt" },`, 1)
	if noted == string(good) {
		t.Fatal("the piece has other sections")
	}
	for _, c := range []struct{ in, has, hasNot string }{
		{noted, `"width-tile"`, "my aunt"}, {noted, `"vindel": "`, `"error"`},
		{strings.Replace(noted, `"profile"`, `"prifile"`, 1), `"error": "machine`, "my aunt"},
		{strings.Replace(string(good), `"yarns": [ {`, `"remark": "for my aunt", "yarns": [ { "have": 3, "shop": "aunt", `, 1),
			`"yarns"`, "aunt"},
		{strings.Replace(string(good), `"name": "`, `"name": "my aunt's `, 1), `"a piece"`, "my aunt"},
		{"{", `"error": "line 1, column 2`, `"piece"`},
	} {
		code, out, errs := vindel(t, c.in, "report", "-")
		if code != 0 || errs != "" || !json.Valid([]byte(out)) || !strings.Contains(out, c.has) ||
			strings.Contains(out, c.hasNot) {
			t.Errorf("%d %s: no %q, or %q, in %.300s", code, errs, c.has, c.hasNot, out)
		}
	}
}
