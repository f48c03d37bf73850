package pass

import (
	"bufio"
	"bytes"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"io"
	"strconv"
	"strings"

	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/step"
	"vindel/knit/words"
)

type layJSON struct {
	Bobbin string `json:"bobbin"`
	Thread string `json:"thread"`
	Yarn   string `json:"yarn"`
	From   string `json:"from"`
	To     string `json:"to"`
	Twist  bool   `json:"twist"` // picked up from beneath the last
}

type passJSON struct {
	N        int              `json:"n"`
	Section  int              `json:"section"`
	Part     string           `json:"part"`
	School   string           `json:"school"`
	Carriage machine.Carriage `json:"carriage"`
	Dir      machine.Side     `json:"dir"`
	Row      int              `json:"row"`
	Line     int              `json:"line"`
	Window   int              `json:"window"`
	Counter  int              `json:"counter"`
	Run      int              `json:"run"`
	Select   machine.Set      `json:"select"`
	Comes    machine.Set      `json:"comes"` // by card or program, and the end-needle switch
	Sets     machine.Set      `json:"sets"`
	Hold     machine.Set      `json:"hold"`
	Exempt   machine.Set      `json:"exempt"` // does not follow the chart
	Feeders  []string         `json:"feeders"`
	Threads  []string         `json:"threads"`
	Cams     machine.Cams     `json:"cams"`
	Setting  string           `json:"setting"`
	Size     string           `json:"size"`
	Rack     int              `json:"rack"`
	Pitch    string           `json:"pitch"`
	Second   *secondJSON      `json:"second"`
	Lays     []layJSON        `json:"lays"`
	Why      string           `json:"why,omitempty"` // lace: what the line is for
	Comb     *combJSON        `json:"comb,omitempty"`
	Takes    *takesJSON       `json:"takes,omitempty"`
	Round    []finding.Round  `json:"round,omitzero"`
	Source   int              `json:"source,omitempty"`
	Before   []step.JSON      `json:"before"`
}

// combJSON is one choice of the comb.
type combJSON struct {
	At    string `json:"at"`
	Picks []int  `json:"picks"`
}

// secondJSON is the second bed's part in a pass.
type secondJSON struct {
	Needles machine.Set  `json:"needles"`
	Select  machine.Set  `json:"select"`
	Hold    machine.Set  `json:"hold"`
	Cams    machine.Cams `json:"cams"`
	Setting string       `json:"setting"`
	Size    string       `json:"size"`
	Takes   *takesJSON   `json:"takes,omitempty"`
}

// takesJSON is the yarn of each group of a bed, where both feeders are full.
type takesJSON struct {
	Selected   string `json:"selected"`
	Unselected string `json:"unselected"`
	Held       string `json:"held"`
}

func (pl *Plan) takesJSON(h *Half) *takesJSON {
	if !h.Named || len(h.Yarns) < 2 || h.Yarns[0] == 0 || h.Yarns[1] == 0 {
		return nil
	}
	said := func(feeders uint8) string {
		y := h.From(feeders)
		if y[1] != 0 {
			return pl.Piece.YarnID(y[0]) + "+" + pl.Piece.YarnID(y[1])
		}
		return pl.Piece.YarnID(y[0])
	}
	return &takesJSON{said(h.Takes.Selected), said(h.Takes.Unselected), said(h.Takes.Held)}
}

// planHead and planTail are what `vindel plan --format json` prints before and after the passes.
type planHead struct {
	Vindel  int    `json:"vindel"`
	Name    string `json:"name"`
	Machine string `json:"machine"`
	School  string `json:"school"`
	Totals  Totals `json:"totals"`
}

type planTail struct {
	After    []step.JSON       `json:"after"`
	Findings []finding.Finding `json:"findings"`
}

func (pl *Plan) stepJSON(st *Step) step.JSON {
	j := step.JSON{Do: st.Do(), Text: st.Say(pl.Piece)}
	if st.JSON(pl.Piece, &j); st.Recipe > 0 && pl.Recipes[st.Recipe-1].Section > 0 {
		j.Source = st.Source
	}
	return j
}

func (pl *Plan) steps(list []Step) []step.JSON {
	out := make([]step.JSON, len(list))
	for i := range list {
		out[i] = pl.stepJSON(&list[i])
	}
	return out
}

func (pl *Plan) passJSON(p *Pass) passJSON {
	h, m := p.Main(), &pl.Piece.Machine
	j := passJSON{N: p.N, Section: p.Section, Part: p.ID.Part, School: m.School.String(), Carriage: p.Carriage,
		Dir: p.Dir,
		Row: p.Row(), Line: p.Line, Window: p.Window, Counter: p.Counter, Run: p.Run,
		Select: h.Select, Comes: pl.comes(p), Sets: pl.sets(p), Hold: h.Hold.Or(p.Waits), Exempt: p.Exempt, Cams: p.Cams(),
		Setting: h.Setting.Key, Size: h.Size, Rack: p.Rack, Pitch: p.Pitch.String(), Lays: []layJSON{}, Why: p.Lace.Why,
		Before: pl.steps(p.Before)}
	if second := p.Second(); p.Recipe > 0 && second.Named || p.Recipe == 0 && second.Works(p.Dir) {
		j.Second = &secondJSON{second.AtWork, second.Select, second.Hold, second.Setting.Cams(p.Dir),
			second.Setting.Key, second.Size, pl.takesJSON(second)}
	}
	j.Takes = pl.takesJSON(h)
	if p.Recipe > 0 && p.Section > 0 {
		if j.Round, j.Source = p.Round, p.Source; j.Round == nil {
			j.Round = []finding.Round{}
		}
	}
	if len(p.Comb.Picks) > 0 {
		j.Comb = &combJSON{p.Comb.At.String(), p.Comb.Picks}
	}
	for f := range m.Feeders {
		j.Feeders = append(j.Feeders, pl.Piece.YarnID(p.Yarn(f+1)))
		j.Threads = append(j.Threads, p.Threads[f])
	}
	for _, l := range p.Lays {
		j.Lays = append(j.Lays, layJSON{l.Bobbin, l.Thread, pl.Piece.YarnID(l.Yarn), l.From.String(), l.To.String(),
			!l.First && h.Setting.Lays})
	}
	return j
}

// comes is what card or program, and the switch, have brought forward by themselves for a pass: what stands forward
// without what fingers bring, and with what they push back.
func (pl *Plan) comes(p *Pass) machine.Set {
	if pl.Piece.Machine.School == machine.ByHand || p.Carriage == machine.SecondCarriage {
		return machine.Set{}
	}
	on := p.Main().Select.Minus(p.Main().ByHand)
	for i := range p.Before {
		switch st := &p.Before[i]; st.Do() {
		case step.DoBringForward:
			on = on.Minus(st.Needles())
		case step.DoPushBack:
			on = on.Or(st.Needles())
		}
	}
	return on
}

// sets is what the next pass of a plan selects, where a carriage selects a pass ahead.
func (pl *Plan) sets(p *Pass) machine.Set {
	if p.Line == 0 || pl.Piece.Machine.School != machine.Preselect || p.N >= len(pl.Passes) {
		return p.Main().Sets
	}
	next := &pl.Passes[p.N]
	if next.Carriage == machine.SecondCarriage || p.Main().Sets.Empty() && p.Lace.InProgram {
		return p.Main().Sets
	}
	return next.Main().Select
}

// WriteJSON writes the plan with the findings given, which may be more than its own.
func (pl *Plan) WriteJSON(w io.Writer, findings []finding.Finding) error {
	if findings == nil {
		findings = []finding.Finding{}
	}
	out := bufio.NewWriter(w)
	head, err := indented("", planHead{1, pl.Piece.Name, pl.Piece.Machine.ID, pl.Piece.Machine.School.String(),
		pl.Totals})
	if err != nil {
		return err
	}
	tail, err := indented("", planTail{pl.steps(pl.After), findings})
	if err != nil {
		return err
	}
	out.Write(bytes.TrimSuffix(head, []byte("\n}")))
	out.WriteString(",\n \"passes\": [")
	for i := range pl.Passes { // one after another: a long plan is a hundred megabytes
		one, err := indented("  ", pl.passJSON(&pl.Passes[i]))
		if err != nil {
			return err
		}
		if i > 0 {
			out.WriteByte(',')
		}
		out.WriteString("\n  ")
		if _, err := out.Write(one); err != nil {
			return err
		}
	}
	if len(pl.Passes) > 0 {
		out.WriteString("\n ")
	}
	out.WriteString("],")
	out.Write(bytes.TrimPrefix(tail, []byte("{")))
	out.WriteByte('\n')
	return out.Flush()
}

// indented is a value as JSON, its lines after the first behind the prefix.
func indented(prefix string, v any) ([]byte, error) {
	var b bytes.Buffer
	enc := json.NewEncoder(&b)
	enc.SetEscapeHTML(false)
	enc.SetIndent(prefix, " ")
	err := enc.Encode(v)
	return bytes.TrimSuffix(b.Bytes(), []byte("\n")), err
}

// csvColumns of the CSV form have the JSON's names.
var csvColumns = strings.Fields("n section carriage dir row line counter run window select sets hold feeders cams " +
	"size rack pitch part second lays before")

// WriteCSV writes one pass a line; hand steps are joined with " ; ".
func (pl *Plan) WriteCSV(w io.Writer) error {
	out := csv.NewWriter(w)
	if err := out.Write(csvColumns); err != nil {
		return err
	}
	for i := range pl.Passes {
		j := pl.passJSON(&pl.Passes[i])
		second, lays := "", make([]string, len(j.Lays))
		if j.Second != nil {
			second = fmt.Sprintf("%v select %v size %s", j.Second.Needles, j.Second.Select, j.Second.Size)
		}
		for i, l := range j.Lays {
			lays[i] = fmt.Sprintf("%s %s %s-%s", l.Bobbin, l.Yarn, l.From, l.To)
		}
		record := []string{strconv.Itoa(j.N), strconv.Itoa(j.Section), j.Carriage.String(), j.Dir.String(),
			strconv.Itoa(j.Row), strconv.Itoa(j.Line),
			strconv.Itoa(j.Counter), strconv.Itoa(j.Run), strconv.Itoa(j.Window), j.Select.String(), j.Sets.String(),
			j.Hold.String(),
			strings.Join(j.Feeders, " "),
			fmt.Sprintf("selected %v, unselected %v, held %v", j.Cams.Selected, j.Cams.Unselected, j.Cams.Held),
			j.Size, strconv.Itoa(j.Rack), j.Pitch, j.Part,
			second, strings.Join(lays, " ; "), pl.joined(pl.Passes[i].Before)}
		if err := out.Write(record); err != nil {
			return err
		}
	}
	out.Flush()
	return out.Error()
}

func (pl *Plan) joined(list []Step) string {
	said := make([]string, 0, len(list))
	for i := range list {
		if !step.Silent(list[i].Step) {
			said = append(said, list[i].Say(pl.Piece))
		}
	}
	return strings.Join(said, " ; ")
}

// String is the plan as WriteText writes it.
func (pl *Plan) String() string {
	var b strings.Builder
	pl.WriteText(&b)
	return b.String()
}

// WriteText writes the plan as text: one line a pass, its hand steps indented before it.
func (pl *Plan) WriteText(w io.Writer) error {
	b := bufio.NewWriter(w)
	p := pl.Piece
	fmt.Fprintf(b, "%s, on %s\n%d passes, %d knitted, %d threadings, %d cuts\n", p.Name, p.Machine.Name,
		pl.Totals.Passes, pl.Totals.Knitted, pl.Totals.Threadings, pl.Totals.Cuts)
	section, part := -1, ""
	for i := range pl.Passes {
		s := &pl.Passes[i]
		if s.Section != section || s.ID.Part != part {
			section, part = s.Section, s.ID.Part
			of := ""
			if part != "" {
				of = ", " + part + " part"
			}
			if section == 0 {
				fmt.Fprintf(b, "\n%s%s\n", words.Capital(pl.Title(s)), of)
			} else {
				fmt.Fprintf(b, "\nSection %d: %s, %s%s\n", section, pl.Title(s), p.Section(section).Technique.Name, of)
			}
		}
		for j := range s.Before {
			if !step.Silent(s.Before[j].Step) {
				fmt.Fprintf(b, "        - %s\n", s.Before[j].Say(p))
			}
		}
		for j := range s.Lays {
			fmt.Fprintf(b, "        lay %s\n", s.SayLay(p, j))
		}
		if _, err := fmt.Fprintf(b, "%5d  %s  row %-4d counter %-4d %-6s %s\n", s.N, s.Dir.Arrow(), s.Row(), s.Counter,
			pl.yarnWords(s), pl.needleWords(s)); err != nil {
			return err
		}
	}
	for i := range pl.After {
		fmt.Fprintf(b, "        - %s\n", pl.After[i].Say(p))
	}
	return b.Flush()
}

func (pl *Plan) yarnWords(p *Pass) string {
	words := make([]string, 0, 2)
	for f := range pl.Piece.Machine.Feeders {
		if id := pl.Piece.YarnID(p.Yarn(f + 1)); id != "" {
			words = append(words, id)
		}
	}
	if p.Carriage == machine.LaceCarriage {
		return "lace"
	}
	if len(words) == 0 {
		return "–"
	}
	return strings.Join(words, "+")
}

func (pl *Plan) needleWords(p *Pass) string {
	var parts []string
	h := p.Main()
	switch {
	case p.Carriage == machine.SecondCarriage:
		parts = append(parts, "the second bed's carriage alone, without yarn")
	case p.Free && !h.Setting.Moves && !h.Setting.Lays:
		parts = append(parts, "without yarn")
	case h.Setting.Moves && !h.Select.Empty():
		parts = append(parts, fmt.Sprintf("moves %v one needle to the %v", h.Select, p.Dir))
	case !h.Select.Empty():
		parts = append(parts, "forward "+h.Select.String())
	}
	if h := p.Main(); !h.Hold.Empty() {
		parts = append(parts, "hold "+h.Hold.String())
	}
	if p.Line > 0 {
		parts = append(parts, fmt.Sprintf("reads line %d", p.Line))
	}
	switch {
	case p.Lace.Why == "":
	case p.Lace.Blank:
		parts = append(parts, p.Lace.Why)
	case !h.Sets.Empty():
		parts = append(parts, fmt.Sprintf("selects %d for the next", h.Sets.Len()))
	}
	return strings.Join(parts, "; ")
}
