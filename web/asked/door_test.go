package asked_test

import (
	"bytes"
	"context"
	"encoding/csv"
	"fmt"
	"io"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"vindel/store"
	"vindel/web"
)

// counted counts what is read of a body.
type counted struct {
	io.Reader
	n int
}

func (c *counted) Read(b []byte) (int, error) {
	n, err := c.Reader.Read(b)
	c.n += n
	return n, err
}

// line is a small piece.
const line = `{"vindel":1,"name":"line","machine":{"profile":"hand-mid"},"yarns":[{"id":"A"}],
	"needles":{"from":"L5","to":"R5"},"sections":[{"technique":"plain","yarn":"A","rows":6}]}`

// upload is a form with a large file.
func upload(field string) (body *bytes.Buffer, kind string) {
	body = &bytes.Buffer{}
	w := multipart.NewWriter(body)
	f, _ := w.CreateFormFile(field, "edge.jpg")
	f.Write(make([]byte, 6<<20))
	w.Close()
	return body, w.FormDataContentType()
}

// TestDoorFirst: of somebody who may not come in no byte is read, whatever is sent where.
func TestDoorFirst(t *testing.T) {
	h := larkmoor(t, web.Options{Guard: true})
	for _, at := range []string{"/pieces", "/backup", "/theme", "/pieces/1/knit/photo", "/pieces/1/knit", "/machines/1"} {
		sent, kind := upload("photo")
		body := &counted{Reader: sent}
		r := httptest.NewRequest("POST", "http://localhost"+at, body)
		r.Header.Set("Content-Type", kind)
		w := httptest.NewRecorder()
		h.ServeHTTP(w, r)
		if body.n > 0 || w.Code != http.StatusSeeOther {
			t.Errorf("%s: %d bytes are read, then %d", at, body.n, w.Code)
		}
	}
}

// TestUploadsLeaveNothing: what an upload puts on the disk goes with its request.
func TestUploadsLeaveNothing(t *testing.T) {
	dir := t.TempDir()
	t.Setenv("TMPDIR", dir)
	h := larkmoor(t, web.Options{})
	for _, at := range []string{"/pieces/1/knit/photo", "/pieces", "/backup"} {
		body, kind := upload("file")
		r := httptest.NewRequest("POST", "http://localhost"+at, body)
		r.Header.Set("Content-Type", kind)
		h.ServeHTTP(httptest.NewRecorder(), r)
		if left, _ := filepath.Glob(filepath.Join(dir, "multipart-*")); len(left) > 0 {
			t.Errorf("%s leaves %v", at, left)
			os.Remove(left[0])
		}
	}
}

// TestEndedSessionHearsNothing: with its session a listener ends.
func TestEndedSessionHearsNothing(t *testing.T) {
	st, err := store.Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer st.Close()
	if err := web.SetPassphrase(t.Context(), st, "nine wet stones"); err != nil {
		t.Fatal(err)
	}
	if _, err := st.Add(t.Context(), []byte(line)); err != nil {
		t.Fatal(err)
	}
	app, err := web.New(st, web.Options{Guard: true})
	if err != nil {
		t.Fatal(err)
	}
	defer app.Close()
	h := app.Handler()
	in := ask(h, "POST", "/login", url.Values{"passphrase": {"nine wet stones"}})
	cookies := in.Result().Cookies()
	if len(cookies) == 0 {
		t.Fatalf("not let in: %d", in.Code)
	}
	with := func(method, at string) *http.Request {
		r := httptest.NewRequest(method, "http://localhost"+at, nil)
		for _, c := range cookies {
			r.AddCookie(c)
		}
		return r
	}
	heard := make(chan bool)
	ctx, stop := context.WithTimeout(t.Context(), time.Minute)
	defer stop()
	go func() {
		h.ServeHTTP(httptest.NewRecorder(), with("GET", "/events?piece=1").WithContext(ctx))
		close(heard)
	}()
	select {
	case <-heard:
		t.Fatal("it does not listen at all")
	case <-time.After(300 * time.Millisecond):
	}
	h.ServeHTTP(httptest.NewRecorder(), with("POST", "/sessions/end"))
	<-heard
	if ctx.Err() != nil {
		t.Error("it listens on")
	}
}

// TestJournalWhole: the journal is sent whole, the oldest first, however long it is.
func TestJournalWhole(t *testing.T) {
	st, err := store.Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer st.Close()
	id, err := st.Add(t.Context(), []byte(line))
	if err != nil {
		t.Fatal(err)
	}
	const entries = 2100 // more than one of the portions in which they are taken
	for n := range entries {
		at, _ := st.Reached(t.Context(), id)
		e := store.Entry{Kind: "note", Note: fmt.Sprint("remark ", n)}
		if _, err := st.Write(t.Context(), id, at.ID, e); err != nil {
			t.Fatal(err)
		}
	}
	app, err := web.New(st, web.Options{})
	if err != nil {
		t.Fatal(err)
	}
	defer app.Close()
	rows, err := csv.NewReader(strings.NewReader(ask(app.Handler(), "GET", "/journal.csv", nil).Body.String())).ReadAll()
	if err != nil || len(rows) != entries+1 {
		t.Fatalf("%d rows: %v", len(rows), err)
	}
	for n, row := range rows[1:] {
		if row[8] != fmt.Sprint("remark ", n) || row[2] != "line" {
			t.Fatalf("row %d: %v", n+1, row)
		}
	}
}

// notes is an answer that says when its first part is sent.
type notes struct {
	*httptest.ResponseRecorder
	sent chan bool
}

func (n *notes) Flush() {
	select {
	case n.sent <- true:
	default:
	}
}

// TestListenersBounded: two hundred may listen at once, to forty pieces each; one more is told so, until one leaves.
func TestListenersBounded(t *testing.T) {
	h := larkmoor(t, web.Options{})
	listen := func(ctx context.Context, query string) (sent, ended chan bool, code func() int) {
		w := &notes{httptest.NewRecorder(), make(chan bool, 1)}
		ended = make(chan bool)
		go func() {
			h.ServeHTTP(w, httptest.NewRequest("GET", "http://localhost/events?"+query, nil).WithContext(ctx))
			close(ended)
		}()
		return w.sent, ended, func() int { return w.Code }
	}
	var leave []context.CancelFunc
	var left []chan bool
	for n := range 200 {
		ctx, stop := context.WithCancel(t.Context())
		sent, ended, code := listen(ctx, fmt.Sprint("piece=", 1+n%20))
		select {
		case <-sent:
		case <-ended:
			t.Fatalf("listener %d: %d", n+1, code())
		}
		leave, left = append(leave, stop), append(left, ended)
	}
	if w := ask(h, "GET", "/events?piece=1", nil); w.Code != http.StatusServiceUnavailable {
		t.Errorf("one more: %d", w.Code)
	}
	leave[7]()
	<-left[7]
	ctx, stop := context.WithCancel(t.Context())
	sent, ended, code := listen(ctx, "piece=1")
	select {
	case <-sent:
	case <-ended:
		t.Errorf("when one has left: %d", code())
	}
	stop()
	for i := range leave {
		leave[i]()
		<-left[i]
	}
	<-ended
	// A piece that is gone does not silence those that are listened to on the same line.
	if w := ask(h, "GET", "/events?piece=9999", nil); w.Code != http.StatusNotFound {
		t.Errorf("a piece that is gone: %d", w.Code)
	}
	ctx, stop = context.WithCancel(t.Context())
	sent, ended, code = listen(ctx, "piece=9999&piece=1")
	select {
	case <-sent:
	case <-ended:
		t.Errorf("one that is there beside one that is gone: %d", code())
	}
	stop()
	<-ended
	for n, bad := range map[int]bool{0: true, 1: false, 40: false, 41: true} {
		ctx, stop := context.WithCancel(t.Context())
		query := url.Values{}
		for i := range n {
			query.Add("piece", fmt.Sprint(1+i%25))
		}
		if n > 25 { // the same piece twice is one: these are begun here
			query = url.Values{}
			for i := range n {
				if i >= 25 {
					ask(h, "POST", fmt.Sprintf("/pieces/%d/copy", 1), nil)
				}
				query.Add("piece", fmt.Sprint(1+i))
			}
		}
		sent, ended, code := listen(ctx, query.Encode())
		select {
		case <-sent:
			if bad {
				t.Errorf("%d pieces are listened to", n)
			}
		case <-ended:
			if !bad || code() != http.StatusUnprocessableEntity {
				t.Errorf("%d pieces: %d", n, code())
			}
		}
		stop()
		<-ended
	}
}

// TestUploadsBounded: eight large bodies are taken in at once; the ninth is told to wait, and small forms go on.
func TestUploadsBounded(t *testing.T) {
	h := larkmoor(t, web.Options{})
	begin := func() (w *io.PipeWriter, reading chan bool, code chan int) {
		r, w := io.Pipe()
		reading, code = make(chan bool, 1), make(chan int, 1)
		go func() {
			req := httptest.NewRequest("POST", "http://localhost/pieces", &told{r, reading})
			req.ContentLength = 2 << 20
			req.Header.Set("Content-Type", "multipart/form-data; boundary=x")
			rec := httptest.NewRecorder()
			h.ServeHTTP(rec, req)
			code <- rec.Code
		}()
		return w, reading, code
	}
	var sending []*io.PipeWriter
	var codes []chan int
	for n := range 8 {
		w, reading, code := begin()
		select {
		case <-reading:
		case got := <-code:
			t.Fatalf("upload %d: %d", n+1, got)
		}
		sending, codes = append(sending, w), append(codes, code)
	}
	if _, _, code := begin(); <-code != http.StatusTooManyRequests {
		t.Error("a ninth is taken in")
	}
	if w := ask(h, "POST", "/theme", url.Values{"theme": {"dark"}}); w.Code >= 400 {
		t.Errorf("a small form meanwhile: %d", w.Code)
	}
	sending[0].Close()
	<-codes[0]
	w, reading, code := begin()
	select {
	case <-reading:
	case got := <-code:
		t.Errorf("when one is through: %d", got)
	}
	for _, w := range append(sending, w) {
		w.Close()
	}
	for _, c := range append(codes[1:], code) {
		<-c
	}
}

// told says when it is begun to be read.
type told struct {
	io.Reader
	reading chan bool
}

func (r *told) Read(b []byte) (int, error) {
	select {
	case r.reading <- true:
	default:
	}
	return r.Reader.Read(b)
}
