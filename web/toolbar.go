package web

// button is one of the chart desk's: what it does by its kind, its key, what it is called,
// and its icon.
type button struct {
	Kind  string // tool: taken in hand; history: undo and redo; flag: on or off; do: done at once; open: a dialog
	Do    string
	Key   string // "" for those with a chord of their own, which the label names
	Label string
	Icon  string
}

// bar is a group of buttons that belong together.
type bar struct {
	Title   string
	Buttons []button
}

var drawTools = []button{
	{"tool", "pencil", "b", "Pencil", "pencil"},
	{"tool", "line", "l", "Line", "line"},
	{"tool", "rectangle", "r", "Rectangle; again: filled", "rectangle"},
	{"tool", "ellipse", "o", "Ellipse; again: filled", "ellipse"},
	{"tool", "fill", "f", "Fill", "fill"},
	{"tool", "replace", "x", "Replace one yarn or stitch by another, everywhere or in the selection", "replace"},
	{"tool", "erase", "e", "Erase", "erase"},
	{"tool", "pick", "i", "Pick the yarn or stitch under the pointer", "pick"},
	{"tool", "select", "s", "Select; drag the selection to move it", "select"},
	{"tool", "stamp", "p", "Stamp what was copied", "stamp"},
	{"history", "undo", "z", "Undo", "undo"},
	{"history", "redo", "y", "Redo", "redo"},
}

var drawBars = []bar{
	{"While drawing", []button{
		{"flag", "flipX", "m", "Draw the same on the other side, left and right", "flip-x"},
		{"flag", "flipY", "n", "Draw the same on the other side, bottom and top", "flip-y"},
		{"flag", "wrap", "w", "Strokes run round the edge of the repeat", "wrap"},
	}},
	{"Selection or chart", []button{
		{"do", "mirror", "h", "Mirror left to right", "mirror"},
		{"do", "upside-down", "v", "Upside down", "upside"},
		{"do", "turn", "[", "Turn left", "turn"},
		{"do", "turn-right", "]", "Turn right", "turn-right"},
		{"open", "more", ",", "More changes", "more"},
	}},
	{"", []button{
		{"do", "left", "", "Shift left, round the edge (Ctrl+Shift+←)", "to-left"},
		{"do", "right", "", "Shift right, round the edge (Ctrl+Shift+→)", "to-right"},
		{"do", "up", "", "Shift up, round the edge (Ctrl+Shift+↑)", "up"},
		{"do", "down", "", "Shift down, round the edge (Ctrl+Shift+↓)", "down"},
	}},
	{"", []button{
		{"do", "copy", "c", "Copy (Ctrl+C too)", "copy"},
		{"do", "cut", "", "Cut (Ctrl+X)", "cut"},
	}},
	{"", []button{
		{"do", "row+", "Insert", "Insert rows below the cursor", "row+"},
		{"do", "row-", "Delete", "Delete rows", "row-"},
		{"do", "col+", "shift+Insert", "Insert columns left of the cursor", "col+"},
		{"do", "col-", "shift+Delete", "Delete columns", "col-"},
	}},
	{"", []button{
		{"open", "letters", "a", "Lettering", "letters"},
		{"open", "size", "d", "Another size", "size"},
	}},
}

// viewBar is how the drawing is looked at; the ordinary marks only differ in lace.
func viewBar(lace bool) (b bar) {
	b.Buttons = []button{
		{"flag", "repeat", "g", "Repeat view", "repeat"},
		{"flag", "square", "q", "Square cells", "square"},
	}
	if lace {
		b.Buttons = append(b.Buttons, button{"flag", "plainMarks", "u", "Ordinary hand-knitting marks", "marks"})
	}
	if !lace { // whose stitches have their own marks
		b.Buttons = append(b.Buttons, button{"flag", "letters", ".", "Yarns told by their letters", "yarn-letter"},
			button{"flag", "yarnMarks", ";", "Yarns told by marks", "yarn-mark"})
	}
	b.Buttons = append(b.Buttons, button{"do", "less", "-", "Smaller cells", "less"},
		button{"do", "bigger", "+", "Larger cells", "bigger"}, button{"do", "fit", "0", "As large as fits", "fit"})
	return b
}

// moreChanges are those without a button of their own.
var moreChanges = []button{
	{Do: "bounce", Label: "Up and back: the rows again from the top down"},
	{Do: "double-width", Label: "Double width"},
	{Do: "double-length", Label: "Double length"},
	{Do: "invert", Label: "Exchange the two characters"},
	{Do: "to-area", Label: "Knit only the selection: the area shows these columns and rows"},
	{Do: "to-chart", Label: "A chart of its own from the selection"},
}
