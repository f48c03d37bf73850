package piece

// ShapeToBegin is a shape of our own to begin from: what is measured, in millimetres, and what comes of it.
type ShapeToBegin struct {
	Name, Label string
	Measures    []MeasureAsked
	Outline     func(m []float64) *Outline
	Neck        bool // its middle is left out at the top: the last two measures are how wide and how deep
}

// MeasureAsked is one measure of a shape to begin from, and what it is where nothing is typed.
type MeasureAsked struct {
	Label string
	MM    float64
}

// ShapesToBegin are the shapes to begin from, the plainest first.
var ShapesToBegin = []ShapeToBegin{
	{Name: "rectangle", Label: "Rectangle", Measures: []MeasureAsked{{"width", 200}, {"height", 200}},
		Outline: func(m []float64) *Outline { return even([2]float64{m[0], 0}, [2]float64{m[0], m[1]}) }},
	{Name: "trapezium", Label: "Trapezium", Measures: []MeasureAsked{{"width below", 260}, {"width above", 180},
		{"height", 200}},
		Outline: func(m []float64) *Outline { return even([2]float64{m[0], 0}, [2]float64{m[1], m[2]}) }},
	{Name: "cap", Label: "Cap, one wedge", Measures: []MeasureAsked{{"width", 140}, {"straight up to", 110},
		{"height", 200}, {"width at the crown", 20}},
		Outline: func(m []float64) *Outline {
			return even([2]float64{m[0], 0}, [2]float64{m[0], m[1]}, [2]float64{m[0] + (m[3]-m[0])/3,
				(m[1] + m[2]) / 2}, [2]float64{m[3], m[2]})
		}},
	{Name: "mitten-back", Label: "Mitten back", Measures: []MeasureAsked{{"width at the wrist", 90}, {"cuff", 60},
		{"width of the hand", 110}, {"straight up to", 170}, {"height", 220}, {"width at the tip", 30}},
		Outline: func(m []float64) *Outline {
			return even([2]float64{m[0], 0}, [2]float64{m[0], m[1]}, [2]float64{m[2], m[1] + (m[3]-m[1])/3},
				[2]float64{m[2], m[3]}, [2]float64{m[5], m[4]})
		}},
	{Name: "neckline", Label: "With a neck", Measures: []MeasureAsked{{"width below", 260}, {"width above", 220},
		{"height", 240}, {"neck, wide", 80}, {"neck, deep", 70}},
		Outline: func(m []float64) *Outline { return even([2]float64{m[0], 0}, [2]float64{m[1], m[2]}) }, Neck: true},
}

// even is an outline whose edges are each other's mirror, from its widths at heights.
func even(corners ...[2]float64) *Outline {
	o := &Outline{}
	for _, c := range corners {
		o.Left, o.Right = append(o.Left, [2]float64{-c[0] / 2, c[1]}), append(o.Right, [2]float64{c[0] / 2, c[1]})
	}
	return o
}
