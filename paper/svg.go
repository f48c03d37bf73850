package paper

import (
	"encoding/xml"
	"fmt"
	"image/color"
	"strings"
)

// svgPen writes an SVG whose user unit is a millimetre.
type svgPen struct{ b strings.Builder }

func newSVG(w, h float64) *svgPen {
	s := &svgPen{}
	fmt.Fprintf(&s.b, `<svg xmlns="http://www.w3.org/2000/svg" width="%smm" height="%smm" viewBox="0 0 %s %s">`+"\n",
		number(w), number(h), number(w), number(h))
	return s
}

// newStretchedSVG is a picture that is shown taller than it is drawn.
func newStretchedSVG(w, h, by float64) *svgPen {
	if by == 1 {
		return newSVG(w, h)
	}
	s := &svgPen{}
	fmt.Fprintf(&s.b, `<svg xmlns="http://www.w3.org/2000/svg" width="%smm" height="%smm" viewBox="0 0 %s %s" `+
		`preserveAspectRatio="none">`+"\n",
		number(w), number(h*by), number(w), number(h))
	return s
}

func (s *svgPen) bytes() []byte { return []byte(s.b.String() + "</svg>\n") }

func hex(c color.RGBA) string { return fmt.Sprintf("#%02x%02x%02x", c.R, c.G, c.B) }

func (s *svgPen) d(p *path) {
	s.b.WriteString(`<path d="`)
	p.each(func(op byte, at []float64) {
		s.b.WriteByte(op)
		for i, v := range at {
			if i > 0 {
				s.b.WriteByte(' ')
			}
			s.b.WriteString(number(v))
		}
	})
	s.b.WriteByte('"')
}

func (s *svgPen) fill(p *path, c color.RGBA) {
	s.d(p)
	fmt.Fprintf(&s.b, ` fill="%s"/>`+"\n", hex(c))
}

func (s *svgPen) stroke(p *path, c color.RGBA, width float64) {
	s.d(p)
	fmt.Fprintf(&s.b, ` fill="none" stroke="%s" stroke-width="%s" stroke-linecap="round"/>`+"\n", hex(c),
		number(width))
}

func (s *svgPen) text(x, y, size float64, align int, mono bool, c color.RGBA, t string) {
	family := "sans-serif"
	if mono {
		family = "monospace"
	}
	fmt.Fprintf(&s.b, `<text x="%s" y="%s" font-size="%s" font-family="%s" text-anchor="%s" fill="%s">`, number(x),
		number(y), number(size), family, [...]string{"start", "middle", "end"}[align+1], hex(c))
	xml.EscapeText(&s.b, []byte(t))
	s.b.WriteString("</text>\n")
}
