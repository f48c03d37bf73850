package chart

// LaceMark is the stitch that a character stands for in a lace chart, legend or not:
// the marks of hand-knitting charts, as seen on the knit side (rules 5.5).
func LaceMark(r rune) (Stitch, bool) {
	switch r {
	case '.':
		return Knit, true
	case '-':
		return Purl, true
	case 'o':
		return YarnOver, true
	case '/':
		return LeanRight, true
	case '\\':
		return LeanLeft, true
	case '^':
		return Centre, true
	case 'x':
		return NoStitch, true
	}
	return Knit, false
}

// Mark is the character that stands for a stitch of lace.
func (s Stitch) Mark() rune {
	for _, r := range ".-o/\\^x" {
		if st, _ := LaceMark(r); st == s {
			return r
		}
	}
	return '.'
}

// Uses is how many stitches of the row below the stitch is made of.
func (s Stitch) Uses() int {
	switch s {
	case YarnOver, NoStitch:
		return 0
	case LeanRight, LeanLeft:
		return 2
	case Centre:
		return 3
	}
	return 1
}

// Makes is how many stitches it leaves: one, but for padding.
func (s Stitch) Makes() int {
	if s == NoStitch {
		return 0
	}
	return 1
}

// Mirrored is the stitch as a mirror shows it: the leans change places.
func (s Stitch) Mirrored() Stitch {
	switch s {
	case LeanRight:
		return LeanLeft
	case LeanLeft:
		return LeanRight
	}
	return s
}

// IsLace says that a drawing can only be lace: its characters are the marks of lace, both
// a yarn-over and a decrease among them.
func IsLace(c *Chart) bool {
	over, decrease := false, false
	for _, r := range c.Keys {
		st, ok := LaceMark(r)
		if !ok {
			return false
		}
		over, decrease = over || st == YarnOver, decrease || st.Uses() > 1
	}
	return over && decrease
}
