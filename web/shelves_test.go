package web_test

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"net/http"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"testing"

	"vindel/web"
)

// TestGlossary: the words stand by the alphabet, each once with what it means, and the sheet of keys leads to them.
func TestGlossary(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	page := get(t, srv.URL+"/words")
	var words []string
	for _, m := range regexp.MustCompile(`<dt>([^<]+)</dt><dd>[A-Z][^<]{10,}\.</dd>`).FindAllStringSubmatch(page, -1) {
		words = append(words, strings.ToLower(m[1]))
	}
	if len(words) < 60 || len(words) != strings.Count(page, "<dt>") || !slices.IsSorted(words) ||
		len(slices.Compact(slices.Clone(words))) != len(words) {
		t.Errorf("%d words of %d, sorted: %v", len(words), strings.Count(page, "<dt>"), slices.IsSorted(words))
	}
	if !strings.Contains(get(t, srv.URL+"/pieces/3/knit"), `href="/words"`) {
		t.Error("no way leads to the words")
	}
}

// TestShelves: a yarn and a swatch that are kept are taken by a piece, which measures by them; a swatch of a piece is
// kept for others; and a drawing that is keyed stands under its number among what the console keeps, with what is left.
func TestShelves(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	refused := func(path string, form url.Values, want string) {
		t.Helper()
		res, err := http.PostForm(srv.URL+path, form)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		var b bytes.Buffer
		b.ReadFrom(res.Body)
		if res.StatusCode < 400 || !strings.Contains(b.String(), want) {
			t.Errorf("%s %v: %s, without %q", path, form, res.Status, want)
		}
	}
	yarn := url.Values{"name": {"lichen"}, "colour": {"#8a9a5b"}, "grams": {"50"}, "metres": {"212,5"}, "balls": {"3"}}
	if page := send(t, srv, "/yarns", yarn); !strings.Contains(page, "150 g, 638 m") {
		t.Error("the shelf does not say what is in hand")
	}
	yarn.Set("grams", "fifty")
	refused("/yarns", yarn, "a ball weighs")
	refused("/yarns", url.Values{"name": {""}, "colour": {"#8a9a5b"}}, "the yarn&#39;s name")
	refused("/yarns", url.Values{"name": {"x"}, "colour": {"green"}}, "six digits")
	send(t, srv, "/pieces/5/shelf-yarn", url.Values{"yarn": {"1"}, "shelf": {"1"}})
	if y := pieceOf(t, srv, 5).Yarns[0]; y.Name != "lichen" || y.Ball.Metres != 212.5 || y.Have != 3 {
		t.Errorf("the piece's yarn: %+v", y)
	}
	refused("/pieces/5/shelf-yarn", url.Values{"yarn": {"1"}, "shelf": {"9"}}, "there is none")

	photo := image.NewRGBA(image.Rect(0, 0, 1800, 900))
	for i := range photo.Pix {
		photo.Pix[i] = 200
	}
	photo.Set(5, 5, color.Black)
	var data bytes.Buffer
	png.Encode(&data, photo)
	fields := map[string]string{"yarn": "lichen", "machine": "Electronic, small memory", "size": "7",
		"technique": "two-colour", "stitches": "40", "width_mm": "125",
		"rows": "60", "height_mm": "150", "grams": "11,5"}
	page := uploadAs(t, srv, "/swatches", "photo", "swatch.png", data.Bytes(), fields)
	if !strings.Contains(page, "32 stitches, 40 rows in 10 cm") || !strings.Contains(page, "/swatches/1.jpg") {
		t.Error("the swatch is not among those that are kept")
	}
	kept, _, err := image.DecodeConfig(strings.NewReader(get(t, srv.URL+"/swatches/1.jpg")))
	if err != nil || kept.Width != 900 || kept.Height != 450 {
		t.Errorf("the photograph: %+v, %v", kept, err)
	}
	refused("/swatches", url.Values{"yarn": {"lichen"}, "machine": {"x"}, "stitches": {"0"}}, "stitches counted")
	send(t, srv, "/pieces/5/shelf-swatch", url.Values{"swatch": {"1"}})
	if sw := pieceOf(t, srv, 5).Swatch; sw.Stitches != 40 || sw.WidthMM != 125 || sw.Grams != 11.5 ||
		sw.Technique != "two-colour" {
		t.Errorf("the piece's swatch: %+v", sw)
	}
	if page := send(t, srv, "/pieces/5/shelf-swatch", url.Values{"do": {"keep"}}); strings.Count(page,
		`class="swatch-none"`) != 1 {
		t.Error("the piece's swatch is not kept")
	}
	send(t, srv, "/swatches", url.Values{"do": {"drop"}, "id": {"2"}})

	page = send(t, srv, "/pieces/5/remember", url.Values{"section": {"2"}, "drawing": {"1"}, "number": {"17"}})
	if !strings.Contains(page, "48 of 9600 cells are taken; 9552 are left") || !strings.Contains(page, ">17<") {
		t.Errorf("the console keeps: %s", page)
	}
	refused("/pieces/5/remember", url.Values{"section": {"2"}, "drawing": {"2"}, "number": {"18"}}, "")
	if page = send(t, srv, "/memory", url.Values{"machine": {"Electronic, small memory"},
		"number": {"17"}}); strings.Contains(page, ">17<") {
		t.Error("what is gone stands there still")
	}
	send(t, srv, "/yarns", url.Values{"do": {"drop"}, "id": {"1"}})
	if page = get(t, srv.URL+"/yarns"); strings.Contains(page, "lichen") {
		t.Error("the yarn stands there still")
	}
}
