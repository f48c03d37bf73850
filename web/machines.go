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
	"vindel/knit/words"
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
			list = append(list, machineChoice{ID: id, Name: m.Name, About: about(&m),
				Doc: json.RawMessage(fmt.Sprintf(`{"profile":%q}`, id))})
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
		if p, err := piece.ReadMachine(m.Doc); err == nil {
			list = append(list, machineChoice{ID: fmt.Sprintf("own-%d", m.ID), Name: p.Name, About: about(p),
				Own: m.ID, Doc: m.Doc})
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

// machineField is a field of a machine, as its page shows it.
type machineField struct {
	Key, Label, Unit, Value string
	Words                   []piece.Word // choices; nil: typed
}

type machineView struct {
	Page   Page
	ID     int64
	Name   string
	Base   string
	Fields []machineField
	Words  []machineField
	Lives  []carriageForm
	List   []machineChoice
	Away   int64
}

// machineFields lists what of a machine its owner is asked for, with its values.
func machineFields(m *machine.Profile) (list []machineField) {
	for i := range piece.MachineFields {
		if f := &piece.MachineFields[i]; f.Label != "" && (f.For == nil || f.For(m)) {
			list = append(list, machineField{Key: f.Key, Label: f.Label, Unit: f.Unit, Value: f.Value(m),
				Words: f.Words})
		}
	}
	return list
}

func wordFields(m *machine.Profile) (list []machineField) {
	for _, t := range machine.Terms {
		list = append(list, machineField{Key: t.Key, Label: t.Word, Unit: t.Meaning, Value: m.Words[t.Key]})
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
			doc["name"] = "My " + words.Small(strings.TrimPrefix(m.Name, "My "))
			b, _ := json.Marshal(doc)
			var id int64
			if id, err = s.store.AddMachine(c.Request.Context(), b); err == nil {
				c.Redirect(303, fmt.Sprintf("/machines/%d/face", id))
				return
			}
		}
	}
	s.fail(c, err)
}

func (s *Server) machine(c *gin.Context) {
	m, p, ok := s.ownProfile(c)
	if !ok {
		return
	}
	base, _ := machine.Shipped(p.ID)
	page := s.page(c, p.Name)
	page.State = m.State
	s.render(c, "machine", machineView{Page: page, ID: m.ID, Name: p.Name, Base: base.Name,
		Fields: machineFields(p), Words: wordFields(p), Lives: carriageForms(p)})
}

// saveMachine writes a machine as its form says: only what differs from the shipped one.
func (s *Server) saveMachine(c *gin.Context) {
	m, old, ok := s.ownProfile(c)
	if !ok {
		return
	}
	base, _ := machine.Shipped(old.ID)
	doc := map[string]any{"profile": old.ID, "name": strings.TrimSpace(c.PostForm("name"))}
	for i := range piece.MachineFields {
		f := &piece.MachineFields[i]
		typed, sent := c.GetPostForm(f.Key)
		if typed = strings.TrimSpace(typed); !sent || typed == f.Value(&base) || typed == "" && len(f.Words) == 0 {
			continue
		}
		doc[f.Key] = f.Typed(typed)
	}
	own := map[string]any{}
	for _, t := range machine.Terms {
		if v := strings.TrimSpace(c.PostForm("word-" + t.Key)); v != "" {
			own[t.Key] = v
		}
	}
	if len(own) > 0 {
		doc["words"] = own
	}
	homes, kit := typedCarriages(old, c.GetPostForm)
	if len(homes) > 0 {
		doc["homes"] = homes
	}
	if len(kit) > 0 {
		doc["kit"] = kit
	}
	var had map[string]any
	if json.Unmarshal(m.Doc, &had) == nil { // what the form does not ask for stays, as her controls do
		for key, v := range had {
			_, asked := c.GetPostForm(key)
			if _, now := doc[key]; !now && !asked && !slices.Contains([]string{"words", "homes", "kit"}, key) {
				doc[key] = v
			}
		}
	}
	if doc["purl_carriage"] == true && base.Program != machine.NoProgram {
		doc["advances"] = []string{"lace", "purl"}
	}
	b, err := json.Marshal(doc)
	if err == nil {
		_, err = piece.ReadMachine(b)
	}
	if err == nil {
		err = s.store.SaveMachine(c.Request.Context(), m.ID, c.PostForm("state"), b)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(303, fmt.Sprintf("/machines/%d/face", m.ID))
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

func (s *Server) ownMachine(c *gin.Context) (store.Machine, error) {
	id, err := pieceID(c)
	if err != nil {
		return store.Machine{}, err
	}
	return s.store.Machine(c.Request.Context(), id)
}

// ownProfile is the machine that a request is about, stored and read; false: it is answered that there is none.
func (s *Server) ownProfile(c *gin.Context) (m store.Machine, p *machine.Profile, ok bool) {
	m, err := s.ownMachine(c)
	if err == nil {
		p, err = piece.ReadMachine(m.Doc)
	}
	if err != nil {
		s.fail(c, err)
	}
	return m, p, err == nil
}
