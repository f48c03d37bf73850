package web_test

import (
	"bytes"
	"image"
	"image/png"
	"net/url"
	"strings"
	"testing"

	"vindel/web"
)

// TestOwnFace: she places a lever, names it and its positions, says what they make; the page beside
// the machine shows it as it must stand, pieces that were on the machine get it when she says so, and
// the machine goes out as a file and comes back the same. The form of measures leaves it alone.
func TestOwnFace(t *testing.T) {
	t.Parallel()
	srv, st := site(t, true, web.Options{})
	face := func(form url.Values) { t.Helper(); send(t, srv, "/machines/1/face", form) }
	face(url.Values{"do": {"add"}, "shape": {"slide"}, "on": {""}})
	face(url.Values{"do": {"change"}, "control": {"7"}, "name": {"thread slide"}, "shape": {"slide"}, "on": {""},
		"positions": {"near, far"}})
	face(url.Values{"do": {"set"}, "control": {"7"}, "key": {"two-colour"}, "value": {"far"}})
	face(url.Values{"do": {"set"}, "control": {"7"}, "key": {"plain"}, "value": {"near"}})
	face(url.Values{"do": {"move"}, "control": {"7"}, "x": {"0.25"}, "y": {"9"}})
	face(url.Values{"do": {"change"}, "control": {"7"}, "name": {"thread slide"}, "shape": {"slide"}, "on": {""},
		"positions": {"close, away"}})
	m, err := st.Machine(t.Context(), 1)
	if err != nil {
		t.Fatal(err)
	}
	for _, want := range []string{`"two-colour":"away"`, `"plain":"close"`, `"at":[0.25,1]`} {
		if !strings.Contains(string(m.Doc), want) {
			t.Errorf("no %s in %s", want, m.Doc)
		}
	}
	if page := get(t, srv.URL+"/pieces/21/knit"); strings.Contains(page, "thread slide") || !strings.Contains(page,
		`aria-label="left lever: down`) {
		t.Error("the piece has the new control before she says so, or none at all")
	}
	passes := get(t, srv.URL+"/pieces/21/plan/plan.csv")
	if page := get(t, srv.URL+"/machines/1/face"); !strings.Contains(page, "2 pieces") {
		t.Error("the page does not say which pieces have other controls")
	}
	send(t, srv, "/machines/1/reach", nil)
	if page := get(t, srv.URL+"/pieces/21/knit"); !strings.Contains(page, `aria-label="thread slide: away"`) {
		t.Error("the piece has it not")
	}
	if now := get(t, srv.URL+"/pieces/21/plan/plan.csv"); now != passes {
		t.Error("words and controls change the plan")
	}
	form := url.Values{"name": {"Larkmoor's card machine"}, "word-plain": {"levers up"}, "needles": {"200"},
		"home-lace": {"right"}, "kit-lace": {"left: put the rails on\r\nalways: oil the channel\r\n"}}
	send(t, srv, "/machines/1", form)
	file := get(t, srv.URL+"/machines/1/machine.json")
	if !strings.Contains(file, "thread slide") || !strings.Contains(file, "levers up") {
		t.Errorf("the form of measures loses her controls: %s", file)
	}
	for _, want := range []string{`"homes":{"lace":"right"}`, `{"carriage":"lace","side":"left","text":"put the rails on"}`,
		`{"always":true,"carriage":"lace","text":"oil the channel"}`} {
		if !strings.Contains(strings.Join(strings.Fields(file), ""), strings.ReplaceAll(want, " ", "")) {
			t.Errorf("%s is not kept: %s", want, file)
		}
	}
	if page := get(t, srv.URL+"/machines/1"); !strings.Contains(page, "left: put the rails on\nalways: oil the channel<") {
		t.Error("the form does not show what has to be there")
	}
	form.Del("home-lace")
	form.Del("kit-lace")
	send(t, srv, "/machines/1", form)
	if now := get(t, srv.URL+"/machines/1/machine.json"); now != file {
		t.Errorf("a form without carriages loses where they live: %s", now)
	}
	uploadAs(t, srv, "/machines/import", "file", "m.json", []byte(file), nil)
	if back := get(t, srv.URL+"/machines/2/machine.json"); back != file {
		t.Errorf("taken out and brought in: %s, was %s", back, file)
	}
	var photo bytes.Buffer
	if err := png.Encode(&photo, image.NewGray(image.Rect(0, 0, 40, 10))); err != nil {
		t.Fatal(err)
	}
	uploadAs(t, srv, "/machines/1/face", "photo", "p.png", photo.Bytes(), map[string]string{"do": "photo"})
	if page := get(t, srv.URL+"/pieces/21/knit"); !strings.Contains(page, "/machines/1/photo.jpg") ||
		!strings.HasPrefix(get(t, srv.URL+"/machines/1/photo.jpg"), "\xff\xd8") {
		t.Error("her photograph is not behind the carriage")
	}
	uploadAs(t, srv, "/machines/1/face", "none", "p.png", nil, map[string]string{"do": "photo"})
	if page := get(t, srv.URL+"/pieces/21/knit"); strings.Contains(page, "photo.jpg") {
		t.Error("taken away the photograph is still there")
	}
	face(url.Values{"do": {"drop"}, "control": {"7"}})
	if file := get(t, srv.URL+"/machines/1/machine.json"); strings.Contains(file, "thread slide") {
		t.Error("taken away it is still there")
	}
}
