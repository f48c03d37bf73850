package piece

// Swatch is what was counted and measured on a sample of the fabric, after resting or washing;
// 0 and "" where it is not known. Of a recipe Rounds of its outermost repeat stand beside the rows.
type Swatch struct {
	Stitches  float64
	WidthMM   float64
	Rows      float64
	Rounds    float64
	HeightMM  float64
	Grams     float64
	Technique string
	Size      string
	Yarn      YarnNo
}

// Gauge is stitches and rows over 10 cm by the swatch, 0 where it does not say.
func (s *Swatch) Gauge() (g Gauge) {
	if s.Stitches > 0 && s.WidthMM > 0 {
		g.Stitches = 100 * s.Stitches / s.WidthMM
	}
	if s.Rows > 0 && s.HeightMM > 0 {
		g.Rows = 100 * s.Rows / s.HeightMM
	}
	return g
}

// Measures is how wide and how tall, in mm, so many stitches and rows come out; 0 where it does not say.
func (s *Swatch) Measures(stitches, rows int) (wide, tall float64) {
	g := s.Gauge()
	if g.Stitches > 0 {
		wide = 100 * float64(stitches) / g.Stitches
	}
	if g.Rows > 0 {
		tall = 100 * float64(rows) / g.Rows
	}
	return wide, tall
}

// StitchGrams is what one stitch weighs in a row, or in a round where rounds were counted (recipes 8,
// Yarn); 0 where it does not say.
func (s *Swatch) StitchGrams() (grams float64, round bool) {
	times := s.Rows
	if round = s.Rounds > 0; round {
		times = s.Rounds
	}
	if times == 0 || s.Stitches == 0 {
		return 0, round
	}
	return s.Grams / (times * s.Stitches), round
}

// Known says that something of the swatch is known.
func (s *Swatch) Known() bool { return *s != Swatch{} }

func (r *reader) swatch(n node) (s Swatch) {
	if n.missing() || !n.object("stitches", "width_mm", "rows", "rounds", "height_mm", "grams", "technique", "size",
		"yarn") {
		return s
	}
	s.Stitches, s.WidthMM = n.amount("stitches", 1000), n.amount("width_mm", 10000)
	s.Rows, s.Rounds, s.HeightMM = n.amount("rows", 10000), n.amount("rounds", 10000), n.amount("height_mm", 10000)
	s.Grams = n.amount("grams", 10000)
	if at := n.at("technique"); !at.missing() {
		s.Technique = at.word(r.techniques.Names()...)
	}
	s.Size, s.Yarn = n.at("size").size(), r.yarnAt(n.at("yarn"))
	if g := s.Gauge(); g.Stitches > 200 || g.Rows > 200 || g.Stitches > 0 && g.Stitches < 1 || g.Rows > 0 &&
		g.Rows < 1 {
		n.fail("%.1f stitches and %.1f rows over 10 cm: 1 to 200", g.Stitches, g.Rows)
	}
	return s
}
