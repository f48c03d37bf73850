package web

import (
	"bytes"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/store"
)

// machineChoice is a machine that a piece can be knitted on: a shipped one by its id, or
// one of the user's own, "own-3". Doc is what a piece file holds of it.
type machineChoice struct {
	ID, Name, About string
	Own             int64
	Doc             json.RawMessage
}

func shippedChoices() (list []machineChoice) {
	for _, id := range machine.IDs() {
		if m, err := machine.Shipped(id); err == nil {
			list = append(list, machineChoice{ID: id, Name: m.Name, About: about(&m), Doc: json.RawMessage(fmt.Sprintf(`{"profile":%q}`, id))})
		}
	}
	return list
}

// machineChoices lists the user's own machines, then the shipped ones.
func (s *Server) machineChoices(c *gin.Context) ([]machineChoice, error) {
	own, err := s.store.Machines(c.Request.Context())
	if err != nil {
		return nil, err
	}
	var list []machineChoice
	for _, m := range own {
		if p, err := readMachine(m.Doc); err == nil {
			list = append(list, machineChoice{ID: fmt.Sprintf("own-%d", m.ID), Name: p.Name, About: about(p), Own: m.ID, Doc: m.Doc})
		}
	}
	return append(list, shippedChoices()...), nil
}

// chosen is the choice that a piece file's machine is, "" where it has been altered there.
func chosen(list []machineChoice, doc []byte) string {
	var p struct{ Machine any }
	if json.Unmarshal(doc, &p) != nil {
		return ""
	}
	mine, err := json.Marshal(p.Machine)
	for _, m := range list {
		var other any
		if err == nil && json.Unmarshal(m.Doc, &other) == nil {
			if b, err := json.Marshal(other); err == nil && bytes.Equal(b, mine) {
				return m.ID
			}
		}
	}
	return ""
}

// readMachine reads what a piece file holds under "machine"; faults name the field.
func readMachine(doc []byte) (*machine.Profile, error) {
	var m any
	d := json.NewDecoder(bytes.NewReader(doc))
	d.UseNumber()
	if err := d.Decode(&m); err != nil {
		return nil, err
	}
	b, err := json.Marshal(map[string]any{"vindel": 1, "machine": m, "yarns": []any{map[string]any{"id": "A"}}, "needles": map[string]any{"width": 2}, "sections": []any{map[string]any{"technique": "plain", "rows": 1}}})
	if err != nil {
		return nil, err
	}
	p, err := piece.Read(b)
	if err != nil {
		return nil, err
	}
	return &p.Machine, nil
}

// about says in a few words what a machine is.
func about(m *machine.Profile) string {
	words := []string{fmt.Sprintf("%d needles, %.1f mm apart", m.Bed, m.PitchMM)}
	switch m.Program {
	case machine.PunchCard:
		words = append(words, fmt.Sprintf("card of %d columns", m.Columns))
	case machine.Electronic:
		words = append(words, fmt.Sprintf("programs up to %d × %d", m.Columns, m.RowsMax))
	default:
		words = append(words, "needles chosen by hand")
	}
	if m.Feeders == 1 {
		words = append(words, "one yarn a pass")
	} else {
		words = append(words, "two yarns a pass")
	}
	switch m.Lace {
	case "separate", "combined":
		words = append(words, "lace carriage")
	case "hand":
		words = append(words, "lace by hand")
	}
	return strings.Join(words, ", ")
}

// field of a machine, as its page shows it.
type machineField struct {
	Key, Label, Unit, Value string
	Words                   [][2]string // choices; nil: typed
	Check                   bool
}

type machineView struct {
	Page   Page
	ID     int64
	Name   string
	Base   string
	Fields []machineField
	Words  []machineField
	List   []machineChoice
	Away   int64
}

var yesNo = [][2]string{{"false", "no"}, {"true", "yes"}}

// machineFields lists what of a machine can be altered, with its values.
func machineFields(m *machine.Profile) []machineField {
	yes := strconv.FormatBool
	list := []machineField{
		{Key: "needles", Label: "Needles", Value: strconv.Itoa(int(m.Bed))},
		{Key: "pitch_mm", Label: "From needle to needle", Unit: "mm", Value: strconv.FormatFloat(m.PitchMM, 'f', -1, 64)},
		{Key: "feeders", Label: "Yarns in one pass", Value: strconv.Itoa(m.Feeders), Words: [][2]string{{"1", "one"}, {"2", "two"}}},
		{Key: "lace", Label: "Lace", Value: m.Lace, Words: [][2]string{{"", "none"}, {"separate", "a lace carriage that transfers what it selected on the pass before"}, {"combined", "a lace carriage that selects and transfers in one pass"}, {"hand", "by hand"}}},
		{Key: "purl_carriage", Label: "Purl carriage", Value: yes(m.PurlCarriage), Words: yesNo},
		{Key: "weave", Label: "Weaving guides", Value: yes(m.Weave), Words: yesNo},
		{Key: "intarsia", Label: "Knits yarns laid by hand", Value: yes(m.Intarsia), Words: yesNo},
		{Key: "tuck_selected", Label: "On tuck, needles forward", Value: m.TuckSelected, Words: [][2]string{{"knit", "knit, those at rest tuck"}, {"tuck", "tuck, those at rest knit"}}},
		{Key: "weave_selected", Label: "On weaving, needles forward", Value: m.WeaveSel, Words: [][2]string{{"hidden", "hide the woven yarn"}, {"shown", "show it"}}},
		{Key: "reset_each_pass", Label: "Tucking needles are set again each pass", Value: yes(m.ResetEach), Words: yesNo},
	}
	number := func(key, label, unit string, n int) {
		list = append(list, machineField{Key: key, Label: label, Unit: unit, Value: strconv.Itoa(n)})
	}
	switch m.Program {
	case machine.NoProgram:
		number("comb", "Needles of the comb", "", m.Comb)
	case machine.PunchCard:
		number("columns", "Columns of a card", "", m.Columns)
		number("offset", "Lines between the one read and the one seen", "", m.Offset)
		number("loop", "Rows a card needs to close round the reader", "", m.Loop)
		list = append(list, machineField{Key: "overlap", Label: "The two overlapping rows carry", Value: m.Overlap, Words: [][2]string{{"copy", "the holes they cover"}, {"holes", "all holes"}}},
			machineField{Key: "card_origin", Label: "Column 1 selects needle", Value: m.CardOrigin.String()})
	case machine.Electronic:
		number("columns", "Widest program", "stitches", m.Columns)
		number("rows_max", "Most program lines", "", m.RowsMax)
		number("stitches_max", "Stitches in memory", "", m.Stitches)
		number("areas_max", "Most separate areas", "", m.AreasMax)
		list = append(list, machineField{Key: "mirror_switch", Label: "Has a switch that mirrors", Value: yes(m.MirrorSwitch), Words: yesNo})
	}
	return list
}

func wordFields(m *machine.Profile) (list []machineField) {
	for _, w := range machine.PlainWords() {
		list = append(list, machineField{Key: w[0], Label: w[1], Unit: machine.Meaning(w[0]), Value: m.Words[w[0]]})
	}
	return list
}

func (s *Server) machines(c *gin.Context) {
	list, err := s.machineChoices(c)
	if err != nil {
		s.fail(c, err)
		return
	}
	away, _ := strconv.ParseInt(c.Query("away"), 10, 64)
	s.render(c, "machines", machineView{Page: s.page(c, "Machines"), List: list, Away: away})
}

// copyMachine makes a machine of the user's own from a shipped one, or from another.
func (s *Server) copyMachine(c *gin.Context) {
	list, err := s.machineChoices(c)
	if err == nil {
		err = inputError{fmt.Errorf("%q: no such machine", c.PostForm("machine"))}
		for _, m := range list {
			if m.ID != c.PostForm("machine") {
				continue
			}
			var doc map[string]any
			if err = json.Unmarshal(m.Doc, &doc); err != nil {
				break
			}
			doc["name"] = "My " + lowerFirst(strings.TrimPrefix(m.Name, "My "))
			b, _ := json.Marshal(doc)
			var id int64
			if id, err = s.store.AddMachine(c.Request.Context(), b); err == nil {
				c.Redirect(303, fmt.Sprintf("/machines/%d", id))
				return
			}
		}
	}
	s.fail(c, err)
}

func lowerFirst(s string) string { return strings.ToLower(s[:1]) + s[1:] }

func (s *Server) ownMachine(c *gin.Context) (store.Machine, error) {
	id, err := pieceID(c)
	if err != nil {
		return store.Machine{}, err
	}
	return s.store.Machine(c.Request.Context(), id)
}

func (s *Server) machine(c *gin.Context) {
	m, err := s.ownMachine(c)
	var p *machine.Profile
	if err == nil {
		p, err = readMachine(m.Doc)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	base, _ := machine.Shipped(p.ID)
	s.render(c, "machine", machineView{Page: s.page(c, p.Name), ID: m.ID, Name: p.Name, Base: base.Name, Fields: machineFields(p), Words: wordFields(p)})
}

// saveMachine writes a machine as its form says: only what differs from the shipped one.
func (s *Server) saveMachine(c *gin.Context) {
	m, err := s.ownMachine(c)
	var old *machine.Profile
	if err == nil {
		old, err = readMachine(m.Doc)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	base, _ := machine.Shipped(old.ID)
	doc := map[string]any{"profile": old.ID, "name": strings.TrimSpace(c.PostForm("name"))}
	for _, f := range machineFields(&base) {
		v := strings.TrimSpace(c.PostForm(f.Key))
		if v == f.Value || c.PostForm(f.Key) == "" && f.Key != "lace" {
			continue
		}
		var value any = v
		if n, err := strconv.ParseFloat(strings.Replace(v, ",", ".", 1), 64); err == nil && f.Key != "lace" {
			value = n
		}
		if slices.Equal(f.Words, yesNo) {
			value = v == "true"
		}
		doc[f.Key] = value
	}
	words := map[string]any{}
	for _, w := range machine.PlainWords() {
		if v := strings.TrimSpace(c.PostForm("word-" + w[0])); v != "" {
			words[w[0]] = v
		}
	}
	if len(words) > 0 {
		doc["words"] = words
	}
	if doc["purl_carriage"] == true && base.Program != machine.NoProgram {
		doc["advances"] = []string{"lace", "purl"}
	}
	b, err := json.Marshal(doc)
	if err == nil {
		_, err = readMachine(b)
	}
	if err == nil {
		err = s.store.SaveMachine(c.Request.Context(), m.ID, b)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(303, "/machines")
}

func (s *Server) putMachineAway(c *gin.Context) {
	m, err := s.ownMachine(c)
	away := c.PostForm("away") != "no"
	if err == nil {
		err = s.store.PutMachineAway(c.Request.Context(), m.ID, away)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	to := "/machines"
	if away {
		to = fmt.Sprintf("/machines?away=%d", m.ID)
	}
	c.Redirect(303, to)
}
