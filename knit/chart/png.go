package chart

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"hash/crc32"
	"image"
	"image/color"
	"image/png"
	"slices"
	"strings"
)

// Bounds on a picture, checked before it is decoded.
const (
	MaxPictureBytes  = 16 << 20
	MaxPicturePixels = 24_000_000
)

// letters are the characters given to a picture's colours, in palette order.
const letters = ".#ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnpqrstuvwyz"

// keysChunk is the keyword of the PNG text chunk in which we note a chart's characters.
const keysChunk = "vindel-keys\x00"

// FromPNG reads a chart of one pixel a stitch and the colour of each key. An
// indexed picture keeps its palette's order; another has its colours sorted,
// the commonest first, and may have as many as there are letters to draw with.
func FromPNG(data []byte) (*Chart, []color.RGBA, error) {
	if len(data) > MaxPictureBytes {
		return nil, nil, fmt.Errorf("%d bytes: a picture has at most %d", len(data), MaxPictureBytes)
	}
	conf, err := png.DecodeConfig(bytes.NewReader(data))
	if err != nil {
		return nil, nil, fmt.Errorf("not a PNG picture: %w", err)
	}
	if conf.Width > MaxWidth || conf.Height > MaxHeight || conf.Width*conf.Height > MaxCells {
		return nil, nil,
			fmt.Errorf("%d × %d pixels: one pixel a stitch, and a chart has at most %d × %d and %d stitches in all",
				conf.Width, conf.Height, MaxWidth, MaxHeight, MaxCells)
	}
	img, err := png.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, nil, fmt.Errorf("not a PNG picture: %w", err)
	}
	return FromImage(img, pngKeys(data))
}

// FromImage makes a chart of a small picture, one pixel a stitch, and gives the colour of
// each key; keys, where given, name its colours in order.
func FromImage(img image.Image, keys []rune) (*Chart, []color.RGBA, error) {
	b := img.Bounds()
	c := &Chart{Grid: NewMat[uint8](b.Dx(), b.Dy())}
	var colours []color.RGBA
	if p, ok := img.(*image.Paletted); ok {
		for _, col := range p.Palette {
			colours = append(colours, rgba(col))
		}
		for y := range c.H {
			copy(c.Row(c.H-1-y), p.Pix[y*p.Stride:y*p.Stride+c.W])
		}
		colours = colours[:max(1, min(len(colours), int(slices.Max(c.Cells))+1))]
		// what shines through is the ground
		if i := slices.IndexFunc(p.Palette[:len(colours)], clear); i > 0 && keys == nil {
			colours[0], colours[i] = colours[i], colours[0]
			for k, key := range c.Cells {
				switch int(key) {
				case 0:
					c.Cells[k] = uint8(i)
				case i:
					c.Cells[k] = 0
				}
			}
		}
	} else {
		count := map[color.RGBA]int{}
		for y := b.Min.Y; y < b.Max.Y; y++ {
			for x := b.Min.X; x < b.Max.X; x++ {
				count[rgba(img.At(x, y))]++
			}
		}
		if len(count) > len(letters) {
			return nil, nil,
				fmt.Errorf("%d colours: a chart of one pixel a stitch has at most %d; bring it in as a picture to "+
					"choose the number of yarns", len(count), len(letters))
		}
		for col := range count {
			colours = append(colours, col)
		}
		ground := color.RGBA{}
		if through(img) {
			ground = shines
		}
		slices.SortFunc(colours, func(p, q color.RGBA) int {
			if ground.A > 0 && p != q && (p == ground || q == ground) { // what shines through comes first
				return map[bool]int{true: -1, false: 1}[p == ground]
			}
			if count[p] != count[q] {
				return count[q] - count[p]
			}
			return int(number(p)) - int(number(q))
		})
		index := map[color.RGBA]uint8{}
		for i, col := range colours {
			index[col] = uint8(i)
		}
		for y := range c.H {
			for x := range c.W {
				c.Set(x, c.H-1-y, index[rgba(img.At(b.Min.X+x, b.Min.Y+y))])
			}
		}
	}
	if len(colours) > len(letters) {
		return nil, nil, fmt.Errorf("%d colours in the palette: a chart has at most %d", len(colours), len(letters))
	}
	if len(keys) < len(colours) {
		keys = []rune(letters)
	}
	c.Keys = slices.Clone(keys[:len(colours)])
	return c, colours, nil
}

// CarriesKeys says that a PNG notes the characters of the chart it was made from.
func CarriesKeys(data []byte) bool { return pngKeys(data) != nil }

// shines is the colour of pixels that are not there: the ground, as bare paper.
var shines = color.RGBA{255, 255, 255, 255}

// clear says that a pixel is more air than colour.
func clear(c color.Color) bool { _, _, _, a := c.RGBA(); return a < 0x8000 }

// through says that something of a picture is not there.
func through(img image.Image) bool {
	b := img.Bounds()
	for y := b.Min.Y; y < b.Max.Y; y++ {
		for x := b.Min.X; x < b.Max.X; x++ {
			if clear(img.At(x, y)) {
				return true
			}
		}
	}
	return false
}

func rgba(c color.Color) color.RGBA {
	if clear(c) {
		return shines
	}
	n := color.NRGBAModel.Convert(c).(color.NRGBA)
	return color.RGBA{n.R, n.G, n.B, 255} // yarn has no transparency
}

func number(c color.RGBA) uint32 { return uint32(c.R)<<16 | uint32(c.G)<<8 | uint32(c.B) }

// PNG writes the chart as an indexed picture, one pixel a stitch, with the colour
// given for each key; the characters are noted beside it, so that nothing is lost.
func (c *Chart) PNG(colours []color.RGBA) ([]byte, error) {
	img := image.NewPaletted(image.Rect(0, 0, c.W, c.H), nil)
	for _, col := range colours {
		img.Palette = append(img.Palette, col)
	}
	for y := range c.H {
		copy(img.Pix[(c.H-1-y)*img.Stride:], c.Row(y))
	}
	var b bytes.Buffer
	if err := png.Encode(&b, img); err != nil {
		return nil, err
	}
	return withKeys(b.Bytes(), string(c.Keys)), nil
}

// headerEnd is where a PNG's IHDR chunk ends and further chunks may stand.
const headerEnd = 8 + 12 + 13

func withKeys(data []byte, keys string) []byte {
	body := []byte("iTXt" + keysChunk + "\x00\x00\x00\x00" + keys)
	chunk := binary.BigEndian.AppendUint32(nil, uint32(len(body)-4))
	chunk = binary.BigEndian.AppendUint32(append(chunk, body...), crc32.ChecksumIEEE(body))
	return slices.Concat(data[:headerEnd], chunk, data[headerEnd:])
}

func pngKeys(data []byte) []rune {
	if len(data) < headerEnd+8 {
		return nil
	}
	rest := data[headerEnd:]
	n := int(binary.BigEndian.Uint32(rest))
	if n < 0 || n > len(rest)-12 {
		return nil
	}
	keys, ok := strings.CutPrefix(string(rest[4:8+n]), "iTXt"+keysChunk+"\x00\x00\x00\x00")
	if !ok || strings.ContainsRune(keys, 0xFFFD) {
		return nil
	}
	out := []rune(keys)
	for i, r := range out {
		if r < ' ' || slices.Contains(out[:i], r) {
			return nil
		}
	}
	return out
}
