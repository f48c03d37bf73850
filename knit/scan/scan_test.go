package scan_test

import (
	"bytes"
	"context"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"math"
	"math/rand/v2"
	"testing"

	"vindel/chance"
	"vindel/knit/chart"
	"vindel/knit/scan"
)

// photograph renders a card as a camera might see it: holes 0.75 of the pitch wide in a sheet on a ground that shows
// through them, turned by so many degrees, lit from one corner, out of focus, with noise.
func photograph(holes chart.Grid, pitch, ratio, degrees, blur float64, light, under uint8, rng *rand.Rand) []byte {
	w, h := int(float64(holes.W+6)*pitch), int(float64(holes.H+6)*pitch*ratio)
	c, s := math.Cos(degrees*math.Pi/180), math.Sin(degrees*math.Pi/180)
	at := make([]float64, w*h)
	for y := range h {
		for x := range w {
			sum := 0.0
			for k := range 4 {
				dx, dy := float64(x)+0.25+0.5*float64(k%2)-float64(w)/2, float64(y)+0.25+0.5*float64(k/2)-float64(h)/2
				u, v := (dx*c+dy*s)/pitch+float64(holes.W)/2, (dy*c-dx*s)/(pitch*ratio)+float64(holes.H)/2
				value := float64(light)
				i, j := int(math.Floor(u)), int(math.Floor(v))
				switch {
				case u < -1.5 || v < -1.5 || u > float64(holes.W)+1.5 || v > float64(holes.H)+1.5:
					value = float64(under)
				case i >= 0 && j >= 0 && i < holes.W && j < holes.H && holes.At(i, holes.H-1-j) == 1:
					if math.Hypot(u-float64(i)-0.5, (v-float64(j)-0.5)*ratio) < 0.375 {
						value = float64(under)
					}
				}
				sum += value / 4
			}
			at[y*w+x] = sum
		}
	}
	r := int(blur)
	for range 2 { // two box blurs each way
		for _, step := range [2]int{1, w} {
			out := make([]float64, len(at))
			for i := range at {
				n := 0.0
				for k := -r; k <= r; k++ {
					if j := i + k*step; j >= 0 && j < len(at) {
						out[i], n = out[i]+at[j], n+1
					}
				}
				out[i] /= n
			}
			at = out
		}
	}
	img := image.NewGray(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			lit := 0.45 + 0.55*(float64(x)/float64(w)+float64(y)/float64(h))/2
			img.Pix[y*w+x] = uint8(max(0, min(255, at[y*w+x]*lit+rng.NormFloat64()*3)))
		}
	}
	var b bytes.Buffer
	jpeg.Encode(&b, img, &jpeg.Options{Quality: 80})
	return b.Bytes()
}

func punched(rng *rand.Rand, w, h int, share float64) chart.Grid {
	g := chart.NewMat[uint8](w, h)
	for i := range g.Cells {
		if rng.Float64() < share {
			g.Cells[i] = 1
		}
	}
	for x := range w { // its ends are seen
		g.Set(x, 0, 1)
		g.Set(x, h-1, 1)
	}
	return g
}

// TestPhotographedCard: a card that was photographed turned, out of focus and unevenly lit comes in cell by cell; holes
// that are dark or light, dense or sparse, short or long; and it knows of no cell that it would not swear to.
func TestPhotographedCard(t *testing.T) {
	rng := chance.Rand(t, 6, 1)
	for _, c := range []struct {
		h                    int
		pitch, ratio         float64
		degrees, blur, share float64
		light, under         uint8
	}{
		{36, 18, 1.1, 3, 2, 0.3, 225, 60}, {36, 18, 1.1, -3, 2, 0.5, 200, 30}, {60, 16, 1.1, 3, 3, 0.15, 70, 230},
		{24, 24, 1, 0, 1, 0.4, 240, 90}, {80, 15, 1.1, 1.5, 2, 0.25, 180, 40}, {20, 20, 1.2, -5, 2, 0.6, 230, 70},
		{68, 12, 1.11, 0, 2, 0.4, 212, 40},
	} {
		want := punched(rng, 24, c.h, c.share)
		switch c.h {
		case 24, 68: // every second column and row only, but for one cell
			for i := range want.Cells {
				want.Cells[i] = uint8((1 - i%24%2) * (1 - i/24%2))
			}
			want.Set(23, c.h-1, 1)
		case 60: // a stretch without any
			clear(want.Cells[38*24 : 52*24])
		}
		data := photograph(want, c.pitch, c.ratio, c.degrees, c.blur, c.light, c.under, rng)
		got, err := scan.Read(context.Background(), data, scan.Options{Columns: 24, Hole: 0.75})
		if err != nil {
			t.Errorf("%+v: %v", c, err)
			continue
		}
		if got.Holes.W != 24 || got.Holes.H != c.h {
			t.Errorf("%+v: %d × %d", c, got.Holes.W, got.Holes.H)
			continue
		}
		wrong, doubtful := 0, 0
		for i := range want.Cells {
			if want.Cells[i] != got.Holes.Cells[i] {
				wrong++
			}
			if got.Sure[i] < scan.Doubtful {
				doubtful++
			}
		}
		if wrong > 0 || doubtful > len(want.Cells)/50 || math.Abs(got.Tilt-c.degrees) > 0.5 {
			t.Errorf("%+v: %d cells wrong, %d doubtful, tilt %.2f", c, wrong, doubtful, got.Tilt)
		}
	}
}

// TestDoubt: a hole that is half covered is said to be doubtful, and the others are not.
func TestDoubt(t *testing.T) {
	rng := chance.Rand(t, 6, 2)
	holes := punched(rng, 12, 12, 0.4)
	holes.Set(5, 5, 0)
	data := photograph(holes, 20, 1.1, 2, 1, 220, 60, rng)
	img, err := jpeg.Decode(bytes.NewReader(data))
	if err != nil {
		t.Fatal(err)
	}
	// A speck of middling grey on the place of column 6, row 6: the middle of the picture, half a pitch off.
	b := img.Bounds()
	grey := image.NewGray(b)
	for y := range b.Dy() {
		for x := range b.Dx() {
			v := color.GrayModel.Convert(img.At(x, y)).(color.Gray)
			if math.Hypot(float64(x)-float64(b.Dx())/2+10, float64(y)-float64(b.Dy())/2-11) < 7 {
				v.Y = v.Y/3*2 - 10
			}
			grey.SetGray(x, y, v)
		}
	}
	var out bytes.Buffer
	png.Encode(&out, grey)
	got, err := scan.Read(context.Background(), out.Bytes(), scan.Options{Columns: 12, Hole: 0.75})
	if err != nil {
		t.Fatal(err)
	}
	for i, sure := range got.Sure {
		if (sure < scan.Doubtful) != (i == 5*12+5) {
			t.Errorf("column %d, row %d: certainty %.2f", i%12+1, i/12+1, sure)
		}
	}
}

// TestEvenCells: a picture of known pitch is read by its cells.
func TestEvenCells(t *testing.T) {
	rng := chance.Rand(t, 6, 3)
	want := punched(rng, 24, 40, 0.3)
	img := image.NewGray(image.Rect(0, 0, 24*7, 40*9))
	for y := range img.Rect.Dy() {
		for x := range img.Rect.Dx() {
			img.SetGray(x, y, color.Gray{230 - 200*want.At(x/7, 39-y/9)})
		}
	}
	var b bytes.Buffer
	png.Encode(&b, img)
	got, err := scan.Read(context.Background(), b.Bytes(), scan.Options{Columns: 24, Rows: 40, Even: true})
	if err != nil || !bytes.Equal(got.Holes.Cells, want.Cells) {
		t.Errorf("%v", err)
	}
	for _, o := range []scan.Options{{Columns: 1}, {Columns: 24, Even: true}, {Columns: 24, Crop: image.Rect(0, 0, 1,
		1)}} {
		if _, err := scan.Read(context.Background(), b.Bytes(), o); err == nil {
			t.Errorf("%+v is read", o)
		}
	}
	blank := image.NewGray(image.Rect(0, 0, 200, 200))
	b.Reset()
	png.Encode(&b, blank)
	if _, err := scan.Read(context.Background(), b.Bytes(), scan.Options{Columns: 24}); err == nil {
		t.Error("a blank picture has a grid of holes")
	}
}
