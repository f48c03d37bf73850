package web_test

import (
	"net/url"
	"strings"
	"testing"

	"vindel/web"
)

// TestMeasurePage: the Prepare page says what a piece measures and takes, as typed swatch and balls have it; what a
// swatch gives is not typed over on Place.
func TestMeasurePage(t *testing.T) {
	srv, _ := site(t, true, web.Options{})
	at := "/pieces/2"
	shows := func(page string, words ...string) {
		t.Helper()
		got := strings.Join(strings.Fields(tags.ReplaceAllString(get(t, srv.URL+at+page), " ")), " ")
		for _, w := range words {
			if !strings.Contains(got, w) {
				t.Errorf("%s does not say %q:\n%.900s", page, w, got)
			}
		}
	}
	shows("/prepare", "481 × 260 mm , as it lies on the needles", "Weigh a swatch")
	set := func(path, value string) {
		t.Helper()
		send(t, srv, at+"/field", url.Values{"path": {path}, "value": {value}, "kind": {"measure"}})
	}
	set("/swatch/stitches", "40")
	set("/swatch/width_mm", "160")
	set("/swatch/rows", "50")
	set("/swatch/height_mm", "125")
	set("/swatch/grams", "20") // a hundredth of a gram a stitch
	shows("/prepare", "296 × 135 mm , by the swatch", "It gives 25 stitches and 40 rows in 10 cm", "35.5 g", "4.5 g")
	shows("/place", "By the swatch, 25 stitches and 40 rows in 10 cm. Measure anew")
	set("/yarns/0/ball/grams", "25")
	set("/yarns/0/ball/metres", "100")
	send(t, srv, at+"/field", url.Values{"path": {"/yarns/0/have"}, "value": {"1"}, "kind": {"number"}})
	shows("/prepare", "35.5 g 142 m", "2 balls; 1 in hand, 1 missing", "What is in hand is used up in row")
	if strings.Contains(get(t, srv.URL+"/pieces/2/place"), "/gauge/stitches") {
		t.Error("a gauge can be typed that does not count")
	}
	send(t, srv, at+"/field", url.Values{"path": {"/swatch/technique"}, "value": {"lace"}, "kind": {""}})
	shows("/prepare", "The swatch was knitted in lace")
}
