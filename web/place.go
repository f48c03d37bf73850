package web

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/bed"
	"vindel/knit/chart"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

type placeView struct {
	Page     Page
	Piece    *piece.Piece
	ID       int64
	Machines []machineChoice
	About    string
	From, To string
	Out      string
	Width    int
	WidthMM  int
	Start    string
	Bed      bedView
	Sections []sectionView
	Widths   []widthOffer
	Charts   []string
	Findings findingList
	Options  []choice
	Yarns    []yarnState
}

// choice is a setting with the words a knitter reads.
type choice struct {
	Path, Label, Value string
	Words              [][2]string // value, words
}

type widthOffer struct {
	N    int
	Text string
	Mine bool
}

// sectionView is one section on the Place page, the topmost first as the piece grows.
type sectionView struct {
	Index     int
	Name      string
	Technique string
	Choices   [][2]string // techniques that a chart can be knitted in, and their words
	Weft      string
	Yarns     string
	Rows      int
	Written   string // rows as the file has them; "" where left out
	Size      string
	Yarn      string
	Areas     []areaView
}

type areaView struct {
	Index                  int
	Path                   string
	Chart                  string
	First, From, To        string
	Sentence               string
	Above                  string
	Drop                   int
	Transforms             []toggle
	X0, X1                 float64
	Repeats                []float64 // where repeats begin, along the drawing
	Cut                    bool
	Colour, Side, SidePath string
	ChartW, ChartH, Index1 int
}

type toggle struct {
	Word, Label string
	On          bool
}

// bedView is the bed drawn to scale: X runs from 0 to 1000.
type bedView struct {
	Ticks  []tick
	Centre float64
	From   float64
	To     float64
}

type tick struct {
	X      float64
	Label  string
	Major  bool
	Anchor string // end or start where the label is not centred
}

func (s *Server) place(c *gin.Context) {
	s.withDesk(c, func(d *desk) {
		p := d.piece
		v := placeView{Page: s.piecePage(c, d, "place"), Piece: p, ID: d.stored.ID, Machines: machineChoices(), About: about(&p.Machine),
			From: p.From.String(), To: p.To.String(), Out: p.Out.String(), Width: int(p.To-p.From) + 1, Start: p.Start.String(), Charts: chartNames(p)}
		v.WidthMM = int(float64(v.Width)*p.Machine.PitchMM + 0.5)
		v.Findings = d.listed()
		x := func(n machine.Needle) float64 { // the left edge of a needle's place
			return 1000 * float64(n-p.Machine.Bed.First()) / float64(p.Machine.Bed)
		}
		v.Bed = bedView{Centre: x(0), From: x(p.From), To: x(p.To + 1)}
		for n := p.Machine.Bed.First(); n <= p.Machine.Bed.Last(); n++ {
			k := n.String()[1:]
			num, _ := strconv.Atoi(k)
			if num%5 == 0 || num == 1 {
				t := tick{X: (x(n) + x(n+1)) / 2, Major: num%20 == 0 || num == 1}
				if t.Major {
					t.Label = n.String()
				}
				if num == 1 { // side by side, so they stand back from the middle
					t.Anchor = "end"
					if n >= 0 {
						t.Anchor = "start"
					}
				}
				v.Bed.Ticks = append(v.Bed.Ticks, t)
			}
		}
		for _, y := range p.Yarns {
			v.Yarns = append(v.Yarns, yarnState{ID: string(y.ID), Name: y.Name, Colour: y.Colour})
		}
		for i := range slices.Backward(p.Sections) {
			v.Sections = append(v.Sections, d.sectionView(i, x))
		}
		v.Widths = d.widths()
		v.Options = options(p)
		s.render(c, "place", v)
	})
}

func (d *desk) sectionView(i int, x func(machine.Needle) float64) sectionView {
	p := d.piece
	sec := &p.Sections[i]
	v := sectionView{Index: i, Name: sec.Name, Technique: sec.Technique, Rows: d.result.Plan.Placed[i].Rows, Size: sec.Size, Yarn: p.YarnID(sec.Yarn)}
	if len(sec.Areas) > 0 {
		v.Choices = [][2]string{{"two-colour", "two-colour"}, {"slip", "slip"}, {"tuck", "tuck"}, {"lace", "lace"}, {"weave", "weaving"}, {"texture", "knit and purl"}, {"intarsia", "intarsia"}}
	}
	v.Weft = p.YarnID(sec.Weft)
	if sec.Rows > 0 {
		v.Written = strconv.Itoa(sec.Rows)
	}
	for k := range sec.Areas {
		a := &sec.Areas[k]
		g := bed.Lie(a)
		av := areaView{Index: k, Index1: k + 1, Path: fmt.Sprintf("/sections/%d/areas/%d", i, k), Chart: a.Chart.Name, First: a.First.String(), From: a.From.String(), To: a.To.String(),
			Sentence: bed.Sentence(a, g.W), Above: "repeat", Drop: a.Drop, X0: x(a.From), X1: x(a.To + 1), ChartW: g.W, ChartH: g.H}
		if a.Blank {
			av.Above = "blank"
		}
		for n := a.From; n <= a.To; n++ {
			if (int(n-a.First)%g.W+g.W)%g.W == 0 {
				av.Repeats = append(av.Repeats, x(n))
			}
		}
		av.Cut = len(av.Repeats) == 0 || av.Repeats[0] != av.X0 || (int(a.To+1-a.First)%g.W+g.W)%g.W != 0
		av.Side, av.SidePath = a.Chart.Side.String(), "/charts/"+piece.Escape(a.Chart.Name)+"/side"
		av.Colour = p.Yarns[len(p.Yarns)-1].Colour
		words := map[string]string{"turn": "turn left", "turn-right": "turn right", "mirror": "mirror", "upside-down": "upside down", "bounce": "up and back", "double-width": "double width", "double-length": "double length", "invert": "swap colours"}
		for _, t := range chart.Transforms {
			if t == "invert" && len(a.Chart.Keys) != 2 {
				continue
			}
			av.Transforms = append(av.Transforms, toggle{t, words[t], slices.Contains(a.Transform, t)})
		}
		v.Areas = append(v.Areas, av)
	}
	return v
}

// widths offers stitch counts that make whole repeats, and one stitch more, where both
// edges are alike; on a machine with one feeder two seam stitches more.
func (d *desk) widths() (list []widthOffer) {
	p := d.piece
	for i := range p.Sections {
		sec := &p.Sections[i]
		if len(sec.Areas) != 1 {
			continue
		}
		w, now := bed.Lie(&sec.Areas[0]).W, int(p.To-p.From)+1
		extra, words := 1, "both edges alike, for a seam"
		if p.Machine.Feeders == 1 && sec.Technique == "two-colour" {
			extra, words = 2, "whole repeats and two seam stitches"
		}
		for _, k := range []int{0, extra} {
			say := "whole repeats"
			if k > 0 {
				say = words
			}
			for _, n := range bed.Widths(now, w, k, int(p.Machine.Bed))[:min(2, len(bed.Widths(now, w, k, int(p.Machine.Bed))))] {
				list = append(list, widthOffer{n, fmt.Sprintf("%s (%d × %d%s), %.0f cm on the needles", say, (n-k)/w, w, plus(k), float64(n)*p.Machine.PitchMM/10), n == now})
			}
		}
		return list
	}
	return nil
}

func plus(k int) string {
	if k == 0 {
		return ""
	}
	return fmt.Sprintf(" + %d", k)
}

func options(p *piece.Piece) []choice {
	o := &p.Options
	or := func(v, other string) string {
		if v == "" {
			return other
		}
		return v
	}
	list := []choice{
		{"/options/counter", "Row counter", or(o.Counter, "run"), [][2]string{{"run", "runs on through the piece"}, {"section", "back to 0 at each section"}, {"repeat", "back to 0 at each repeat"}}},
	}
	if p.Machine.School == machine.Preselect {
		list = append(list, choice{"/options/selecting", "Selecting pass", or(o.Selecting, "knit"), [][2]string{{"knit", "knits a plain row"}, {"free", "free, without yarn"}}})
	}
	if p.Machine.Feeders > 1 {
		list = append(list, choice{"/options/end_needles", "End needles", or(o.EndNeedles, "off"), [][2]string{{"off", "follow the chart"}, {"auto", "always knit, by the machine's switch"}, {"hand", "always knit, brought forward by hand"}}})
	} else {
		c := choice{"/options/first_yarn", "First yarn of two-colour rows", p.YarnID(o.FirstYarn), [][2]string{{"", "whichever needs fewest cuts"}}}
		for _, y := range p.Yarns {
			c.Words = append(c.Words, [2]string{string(y.ID), y.Name})
		}
		list = append(list, c)
	}
	return list
}

// field sets one value of the piece: its path, its new text, and how to read that.
func (s *Server) field(c *gin.Context) {
	s.withDesk(c, func(d *desk) {
		path, value, kind := c.PostForm("path"), strings.TrimSpace(c.PostForm("value")), c.PostForm("kind")
		changes, err := fieldChanges(d.stored.Doc, path, value, kind)
		if err == nil {
			err = s.store.Edit(c.Request.Context(), d.stored.ID, "set "+path[strings.LastIndexByte(path, '/')+1:], changes)
		}
		if err != nil {
			s.fail(c, editError(err))
			return
		}
		s.answer(c, d.stored.ID)
	})
}

// fieldChanges turns a form's field into an edit: text, a whole number, a word toggled
// in a list, or, where the value is empty, the member taken away.
func fieldChanges(file []byte, path, value, kind string) ([]finding.Change, error) {
	doc, err := piece.ParseDocument(file)
	if err != nil {
		return nil, err
	}
	old, had := doc.Get(path)
	var changes []finding.Change
	if i := strings.LastIndexByte(path, '/'); i > 0 {
		if _, ok := doc.Get(path[:i]); !ok { // such as the first option of a piece
			changes = append(changes, finding.Change{Op: "add", Path: path[:i], Value: map[string]any{}})
		}
	}
	set := finding.Change{Op: "add", Path: path, Value: value}
	if _, isList := strconv.Atoi(path[strings.LastIndexByte(path, '/')+1:]); isList == nil {
		set.Op = "replace"
	}
	switch {
	case kind == "toggle":
		list, _ := old.([]any)
		list = slices.Clone(list)
		if i := slices.Index(list, any(value)); i >= 0 {
			list = slices.Delete(list, i, i+1)
		} else {
			list = append(list, value)
		}
		set.Value = list
	case value == "" && had:
		set = finding.Change{Op: "remove", Path: path}
	case value == "":
		return changes, nil
	case kind == "number":
		n, err := strconv.Atoi(value)
		if err != nil {
			return nil, inputError{fmt.Errorf("%q: a whole number is needed", value)}
		}
		set.Value = n
	}
	return append(changes, set), nil
}

// centre puts a number of stitches on the middle of the bed, and an area that lay on
// all the needles with them.
func (s *Server) centre(c *gin.Context) {
	s.withDesk(c, func(d *desk) {
		p := d.piece
		w := number(c.PostForm("width"), 0)
		if w < 1 || w > int(p.Machine.Bed) {
			s.fail(c, inputError{fmt.Errorf("%q: 1 to %d stitches", c.PostForm("width"), p.Machine.Bed)})
			return
		}
		odd := machine.Right
		if p.Options.Odd == "left" {
			odd = machine.Left
		}
		from, to := machine.Centre(w, odd)
		changes := []finding.Change{{Op: "replace", Path: "/needles", Value: map[string]any{"from": from.String(), "to": to.String(), "out": p.Out.And(machine.Range(from, to)).String()}}}
		for i, sec := range p.Sections {
			for k, a := range sec.Areas {
				at := fmt.Sprintf("/sections/%d/areas/%d/", i, k)
				if a.From == p.From && a.To == p.To {
					changes = append(changes, finding.Change{Op: "add", Path: at + "from", Value: from.String()}, finding.Change{Op: "add", Path: at + "to", Value: to.String()},
						finding.Change{Op: "add", Path: at + "first", Value: (a.First + from - a.From).String()})
				}
			}
		}
		if err := s.store.Edit(c.Request.Context(), d.stored.ID, fmt.Sprintf("%d stitches in the middle", w), changes); err != nil {
			s.fail(c, err)
			return
		}
		s.answer(c, d.stored.ID)
	})
}

// newBand is the edit that adds an empty chart and a two-colour section of it.
func (d *desk) newBand(at int) []finding.Change {
	name := ""
	for n := len(d.piece.Charts) + 1; name == "" || d.piece.Charts[name] != nil; n++ {
		name = fmt.Sprintf("chart %d", n)
	}
	legend := map[string]any{".": map[string]any{"yarn": string(d.piece.Yarns[0].ID)}}
	rows := slices.Repeat([]string{strings.Repeat(".", 12)}, 8)
	section := map[string]any{"name": name, "technique": "two-colour", "areas": []any{map[string]any{"chart": name}}}
	changes := []finding.Change{}
	if len(d.piece.Charts) == 0 {
		changes = append(changes, finding.Change{Op: "add", Path: "/charts", Value: map[string]any{}})
	}
	return append(changes, finding.Change{Op: "add", Path: "/charts/" + piece.Escape(name), Value: map[string]any{"side": "knit", "legend": legend, "rows": rows}},
		finding.Change{Op: "add", Path: fmt.Sprintf("/sections/%d", at), Value: section})
}

// newTechnique is the edit that knits section i in another technique. A chart that marks
// none of its stitches yet, or names no yarns where those are knitted, gets a legend for it.
func (d *desk) newTechnique(i int, technique string) []finding.Change {
	at := fmt.Sprintf("/sections/%d/", i)
	changes := []finding.Change{{Op: "add", Path: at + "technique", Value: technique}}
	sec := &d.piece.Sections[i]
	stitch := map[string]string{"slip": "slip", "tuck": "tuck", "weave": "weave", "texture": "purl"}[technique]
	last := string(d.piece.Yarns[len(d.piece.Yarns)-1].ID)
	if technique == "weave" && sec.Weft == 0 {
		changes = append(changes, finding.Change{Op: "add", Path: at + "weft", Value: last})
	}
	for _, a := range sec.Areas {
		if technique == "lace" {
			changes = append(changes, d.laceChart(a.Chart)...)
			continue
		}
		fits := true
		for _, m := range a.Chart.Means {
			if stitch == "" {
				fits = fits && m.Stitch == chart.Knit
			} else {
				fits = fits && m.Yarn == 0 && (m.Stitch == chart.Knit || m.Stitch.String() == stitch)
			}
		}
		if fits && (stitch == "" || len(a.Chart.Legend) > 1) {
			continue
		}
		legend := map[string]any{}
		for k, key := range a.Chart.Keys {
			mark := map[string]any{}
			if k > 0 && stitch != "" {
				mark["stitch"] = stitch
			} else if stitch == "" {
				mark["yarn"] = string(d.piece.Yarns[min(k, len(d.piece.Yarns)-1)].ID)
			}
			legend[string(key)] = mark
		}
		if len(legend) == 1 && stitch != "" {
			legend["#"] = map[string]any{"stitch": stitch}
		}
		changes = append(changes, finding.Change{Op: "add", Path: "/charts/" + piece.Escape(a.Chart.Name) + "/legend", Value: legend})
	}
	return changes
}

// laceChart is the edit that makes a chart one of lace: marks of lace stay, and whatever
// else it was drawn with becomes plain knit. Lace needs no legend.
func (d *desk) laceChart(c *piece.Chart) []finding.Change {
	rows := c.Rows()
	lace := true
	for i, row := range rows {
		rows[i] = strings.Map(func(r rune) rune {
			if _, ok := chart.LaceMark(r); ok {
				return r
			}
			lace = false
			return '.'
		}, row)
	}
	at := "/charts/" + piece.Escape(c.Name)
	changes := []finding.Change{{Op: "add", Path: at + "/legend", Value: map[string]any{}}}
	if !lace {
		changes = append(changes, finding.Change{Op: "replace", Path: at + "/rows", Value: rows})
	}
	return changes
}

// newYarn is the edit that adds a yarn with the next letter.
func (d *desk) newYarn() (finding.Change, error) {
	for i := range plainLetters {
		id := plainLetters[i : i+1]
		if !slices.ContainsFunc(d.piece.Yarns, func(y piece.Yarn) bool { return string(y.ID) == id }) {
			col, name := piece.DefaultColour(len(d.piece.Yarns))
			return finding.Change{Op: "add", Path: "/yarns/-", Value: map[string]any{"id": id, "name": name, "colour": fmt.Sprintf("#%02x%02x%02x", col.R, col.G, col.B)}}, nil
		}
	}
	return finding.Change{}, fmt.Errorf("a piece has at most %d yarns", len(plainLetters))
}

// section adds plain rows, a new chart or a yarn, or takes a section away.
func (s *Server) section(c *gin.Context) {
	s.withDesk(c, func(d *desk) {
		i, do := number(c.PostForm("index"), 0), c.PostForm("do")
		at := func(i int) string { return fmt.Sprintf("/sections/%d", i) }
		var changes []finding.Change
		plain := map[string]any{"name": "plain rows", "technique": "plain", "rows": 10, "yarn": string(d.piece.Yarns[0].ID)}
		switch do {
		case "below":
			changes = []finding.Change{{Op: "add", Path: at(i), Value: plain}}
		case "above":
			changes = []finding.Change{{Op: "add", Path: at(i + 1), Value: plain}}
		case "band":
			changes = d.newBand(i + 1)
		case "technique":
			changes = d.newTechnique(i, c.PostForm("value"))
		case "yarn":
			yarn, err := d.newYarn()
			if err != nil {
				s.fail(c, inputError{err})
				return
			}
			changes = []finding.Change{yarn}
		case "remove":
			changes = []finding.Change{{Op: "remove", Path: at(i)}}
		default:
			s.fail(c, inputError{fmt.Errorf("%q: below, above or remove", do)})
			return
		}
		if err := s.store.Edit(c.Request.Context(), d.stored.ID, do+" section", changes); err != nil {
			s.fail(c, editError(err))
			return
		}
		s.answer(c, d.stored.ID)
	})
}
