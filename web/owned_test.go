package web_test

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"

	"vindel/knit/chart"
	"vindel/web"
)

// TestOwnedCard: a card comes in from a picture, one of its cells is put right by pressing it, and it becomes the
// chart that the card knits; and on a lace piece the lines of its lace carriage.
func TestOwnedCard(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	rows := []string{"#...##..#...##..#...##..", ".#.#..#..#.#..#..#.#..#.", "..#....#..#....#..#....#",
		"........................", "#.#.#.#.#.#.#.#.#.#.#.#."}
	img := image.NewGray(image.Rect(0, 0, 24*6, len(rows)*8))
	for y := range img.Rect.Dy() {
		for x := range img.Rect.Dx() {
			v := uint8(220)
			if rows[y/8][x/6] == '#' {
				v = 40
			}
			img.SetGray(x, y, color.Gray{v})
		}
	}
	var data bytes.Buffer
	png.Encode(&data, img)
	b := newTab(t, 1280, 800)
	b.do(chromedp.Navigate(srv.URL + "/pieces/1/owned"))
	ask[any](b, fmt.Sprintf(`(() => {
		const bytes = Uint8Array.from(atob("%s"), c => c.charCodeAt(0)), list = new DataTransfer();
		list.items.add(new File([bytes], "card.png", { type: "image/png" }));
		document.querySelector("input[type=file]").files = list.files;
		document.querySelector("[value=even]").checked = true;
		document.querySelector("[name=rows]").value = "5";
		document.querySelector(".owned-form button").click();
	})()`, base64.StdEncoding.EncodeToString(data.Bytes())))
	b.do(chromedp.WaitVisible(chromedp.CSS("#owned-cells")))
	if got := strings.TrimSpace(ask[string](b, `document.getElementById("owned-text").value`)); got != strings.Join(
		rows, "\n") {
		t.Errorf("read:\n%s", got)
	}
	ask[any](b, `document.querySelector('circle[data-cell="2 3"]').dispatchEvent(new MouseEvent("click", { bubbles: `+
		`true }))`)
	ask[any](b, `document.querySelector("button[value=chart]").click()`)
	b.do(chromedp.WaitVisible(chromedp.CSS("#board")))
	p := pieceOf(t, srv, 1)
	c := p.Charts[p.Sections[1].Areas[0].Chart.Name]
	want := strings.Replace(strings.Join(rows, "\n"), "........................", "..#.....................", 1)
	if got := strings.Join(c.Rows(), "\n"); got != want || c.Face != chart.PurlSide {
		t.Errorf("the chart, drawn for the %v side:\n%s", c.Face, got)
	}

	// As lines: those of the card, with two rows wherever the lace carriage can be left.
	lines := "......\n.#....\n......\n..#...\n......\n.#....\n"
	page := upload(t, srv, "/pieces/9/owned", "card.txt", []byte(lines), map[string]string{"columns": "6"})
	if !strings.Contains(page, "6 columns, 6 rows") || !strings.Contains(page, "Take it as lines of lace") {
		t.Error("the text of a card is not read")
	}
	send(t, srv, "/pieces/9/owned/take", url.Values{"as": {"lines"}, "text": {lines}, "overlap": {"1"}})
	p = pieceOf(t, srv, 9)
	given := p.Sections[1].Areas[0].Chart
	res, err := http.PostForm(srv.URL+"/pieces/9/owned/take", url.Values{"as": {"chart"}, "chart": {given.Name},
		"text": {"#.\n.#"}})
	if err != nil || res.StatusCode != http.StatusUnprocessableEntity {
		t.Errorf("a chart in place of lines: %v %v", res.Status, err)
	}
	res.Body.Close()
	if !given.IsLines() || given.H != 4 || given.Lines[1].Knit != 2 || given.Lines[0].Knit != 0 ||
		given.Lines[3].Knit != 2 {
		t.Errorf("lines: %+v", given.Lines)
	}
}
