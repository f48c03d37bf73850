package web_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"reflect"
	"strconv"
	"strings"
	"testing"

	"vindel/knit/piecetest"
	"vindel/web"
)

// TestOnlyWhatChanged: a desk that says what it has is answered what has changed since, which together come to the
// chart as it stands, whatever is done; a stroke on 200 × 1000 is answered in a hundredth.
func TestOnlyWhatChanged(t *testing.T) {
	t.Parallel()
	srv, st := site(t, false, web.Options{})
	rows := make([]string, 1000)
	for y := range rows {
		rows[y] = strings.Repeat([]string{"..##", "##..", ".#.#"}[y%3], 50)
	}
	if _, err := st.Add(t.Context(), piecetest.Document(t, "program-preselect", "L100", "R100", rows).JSON()); err != nil {
		t.Fatal(err)
	}
	ask := func(method, path string, body any, has string) (map[string]any, int) {
		t.Helper()
		data, _ := json.Marshal(body)
		req, _ := http.NewRequest(method, srv.URL+"/pieces/1/"+path, bytes.NewReader(data))
		req.Header.Set("Content-Type", "application/json")
		req.Header.Set("Accept", "application/json")
		req.Header.Set("Vindel-Rev", has)
		if has != "" {
			req.Header.Set("Vindel-Has", has)
		}
		for {
			res, err := http.DefaultClient.Do(req)
			if err != nil {
				t.Fatal(err)
			}
			data, _ := io.ReadAll(res.Body)
			res.Body.Close()
			if res.StatusCode == http.StatusAccepted { // it is being worked out
				req, _ = http.NewRequest("GET", srv.URL+"/pieces/1/state?chart=c", nil)
				req.Header.Set("Vindel-Has", has)
				continue
			}
			var got map[string]any
			if err := json.Unmarshal(data, &got); err != nil || res.StatusCode != 200 {
				t.Fatalf("%s %s: %d %v %.200s", method, path, res.StatusCode, err, data)
			}
			return got, len(data)
		}
	}
	last, all := ask("GET", "state?chart=c", nil, "")
	for i, do := range []struct {
		path string
		body any
		most int
	}{
		{"edit", map[string]any{"label": "stroke", "changes": []any{map[string]any{"op": "replace", "path": "/charts/c/rows/7",
			"value": strings.Repeat("#...", 50)}}}, all / 100},
		{"edit", map[string]any{"label": "three colours", "changes": []any{map[string]any{"op": "replace",
			"path": "/charts/c/rows/990", "value": strings.Repeat("#+..", 50)}}}, all},
		{"undo", nil, all},
		{"edit", map[string]any{"label": "a row more", "changes": []any{map[string]any{"op": "add", "path": "/charts/c/rows/3",
			"value": strings.Repeat(".", 200)}}}, 2 * all},
	} {
		has := strconv.Itoa(int(last["rev"].(float64)))
		got, size := ask("POST", do.path+"?chart=c", do.body, has)
		if got["since"] == nil || fmt.Sprint(got["since"]) != has || size > do.most {
			t.Errorf("%d: %d bytes since %v, of %d; at most %d", i, size, got["since"], all, do.most)
		}
		for name, v := range got {
			some, _ := v.(map[string]any)
			if some = mapOf(some["~"]); some == nil {
				last[name] = v
				continue
			}
			for key, v := range some {
				if at, err := strconv.Atoi(key); err == nil && reflect.TypeOf(last[name]).Kind() == reflect.Slice {
					last[name].([]any)[at] = v
				} else {
					last[name].(map[string]any)[key] = v
				}
			}
		}
		delete(last, "since")
		if whole, _ := ask("GET", "state?chart=c", nil, ""); !reflect.DeepEqual(whole, last) {
			for name := range whole {
				if !reflect.DeepEqual(whole[name], last[name]) {
					t.Errorf("%d: %s comes to something else", i, name)
				}
			}
		}
	}
	if got, _ := ask("GET", "state?chart=c", nil, "999"); got["since"] != nil {
		t.Error("what nobody was sent is the base of an answer")
	}
}

func mapOf(v any) map[string]any { m, _ := v.(map[string]any); return m }
