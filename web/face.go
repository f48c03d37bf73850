package web

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/beside"
	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/store"
)

// The size of a drawn carriage, and the margin within which controls stand.
const (
	carriageW, carriageH = 640, 190
	faceX, faceY         = 60, 40
)

// controlView is a control as it is drawn. Turn is the angle of a lever or dial, Slot how far a
// slide stands from its middle, In whether a button is pressed.
type controlView struct {
	No                  int // among the profile's, from 1
	Name, Shape         string
	Position            string
	Known, Changed, In  bool
	X, Y, Turn, Slot    int
	Positions, Carriage string
	Acts                string // left, right, or "" for both
	PositionList        []string
	Sized               bool // it is turned to a stitch size
}

// carriageView is a carriage with its controls, and on the page of the machine what they are set to.
type carriageView struct {
	Key, Name string
	Controls  []controlView
	Settings  []settingRow
	Photo     string
}

// settingRow is a setting with the position of each control of its carriage.
type settingRow struct {
	Key, Label, Meaning string
	At                  []settingCell
}

type settingCell struct {
	No       int
	Name     string
	Position string
	Words    []piece.Word
}

type controlsView struct {
	Page      Page
	ID        int64
	Name      string
	Carriages []carriageView
	Shapes    []piece.Word
	On        []piece.Word
	Acts      []piece.Word
	Untold    bool // what holding is called, and where it stands, is not known of a machine that has words or controls
	Photo     bool
	Pieces    []otherPiece // on this machine, with other words or controls
	Reached   int
}

var shapeWords = []piece.Word{{Value: "lever", Text: "a lever"}, {Value: "slide", Text: "a slide"}, {Value: "button",
	Text: "a button"}, {Value: "dial", Text: "a dial"}}

var actsWords = []piece.Word{{Value: "", Text: "both ways"}, {Value: "left", Text: "the way left"},
	{Value: "right", Text: "the way right"}}

// untold says that she has words or controls of her own, and none of them for holding.
func untold(m *machine.Profile) bool {
	told := m.Words["holding"] != "" || slices.ContainsFunc(m.Controls, func(c machine.Control) bool {
		return c.Sets["holding"] != ""
	})
	return !told && (len(m.Words) > 0 || len(m.Controls) > 0)
}

// drawControl draws a control at a position.
func drawControl(no int, c *machine.Control, position string) controlView {
	v := controlView{No: no, Name: c.Name, Shape: c.Shape, Position: position, Known: position != "",
		X: faceX + int(c.At[0]*(carriageW-2*faceX)), Y: faceY + int(c.At[1]*(carriageH-2*faceY-20)),
		Acts: c.Acts.String(), Positions: strings.Join(c.Positions, ", "), PositionList: c.Positions,
		Sized: len(c.Positions) == 0}
	at, last := slices.Index(c.Positions, position), max(1, len(c.Positions)-1)
	if v.Sized {
		size, err := strconv.ParseFloat(strings.ReplaceAll(position, ",", "."), 64)
		if err == nil {
			v.Turn = int(min(size, 12)*25) - 150
		}
		return v
	}
	if at >= 0 {
		v.Turn, v.Slot, v.In = 100*at/last-50, 36*at/last-18, at > 0
	}
	return v
}

// carriagesOf are the carriages of a machine, each with its controls; position says how one stands.
func carriagesOf(m *machine.Profile, position func(no int, c *machine.Control) (string, bool)) (list []carriageView) {
	for _, w := range piece.ControlCarriages {
		carriage, _ := piece.CarriageNamed(w.Value)
		keys := m.SettingsOf(carriage)
		if len(keys) == 0 {
			continue
		}
		v := carriageView{Key: w.Value, Name: w.Text}
		for k := range m.Controls {
			if c := &m.Controls[k]; c.On == carriage {
				at, changed := position(k, c)
				one := drawControl(k+1, c, at)
				one.Changed, one.Carriage = changed, w.Value
				v.Controls = append(v.Controls, one)
			}
		}
		for _, key := range keys {
			row := settingRow{Key: key, Label: settingLabel(m, key), Meaning: machine.Meaning(key)}
			for _, c := range v.Controls {
				if c.Sized {
					continue
				}
				cell := settingCell{No: c.No, Name: c.Name, Position: m.Controls[c.No-1].Sets[key],
					Words: []piece.Word{{Text: "stays as it is"}}}
				for _, p := range c.PositionList {
					cell.Words = append(cell.Words, piece.Word{Value: p, Text: p})
				}
				row.At = append(row.At, cell)
			}
			v.Settings = append(v.Settings, row)
		}
		list = append(list, v)
	}
	return list
}

func settingLabel(m *machine.Profile, key string) string {
	if base, off := strings.CutSuffix(key, "-off"); off && m.Word(key) == "" {
		return m.Word(base) + ", off"
	}
	return m.Word(key)
}

// face is the page on which she places her own controls.
func (s *Server) face(c *gin.Context) {
	m, p, ok := s.ownProfile(c)
	if !ok {
		return
	}
	v := controlsView{Page: s.page(c, p.Name), ID: m.ID, Name: p.Name, Shapes: shapeWords,
		Acts: actsWords, Untold: untold(p),
		Reached: number(c.Query("reached"), -1)}
	v.Page.State = m.State
	_, err := s.store.MachinePhoto(c.Request.Context(), m.ID)
	v.Photo = err == nil
	v.Carriages = carriagesOf(p, func(_ int, c *machine.Control) (string, bool) {
		if len(c.Positions) > 0 {
			return c.Positions[0], false
		}
		return "", false
	})
	for i := range v.Carriages {
		if v.Photo && v.Carriages[i].Key == "" {
			v.Carriages[i].Photo = fmt.Sprintf("/machines/%d/photo.jpg", m.ID)
		}
	}
	for _, w := range piece.ControlCarriages {
		if slices.ContainsFunc(v.Carriages, func(one carriageView) bool { return one.Key == w.Value }) {
			v.On = append(v.On, w)
		}
	}
	if v.Pieces, err = s.behind(c, m.Doc, p.Name); err != nil {
		s.fail(c, err)
		return
	}
	s.render(c, "face", v)
}

// setFace adds a control, moves it, changes or takes it away, or says what a position does.
func (s *Server) setFace(c *gin.Context) {
	m, p, ok := s.ownProfile(c)
	if !ok {
		return
	}
	if c.PostForm("do") == "photo" {
		data, err := s.photo(c)
		if err == nil {
			err = s.store.SetMachinePhoto(c.Request.Context(), m.ID, data)
		}
		s.faceAnswer(c, m.ID, err)
		return
	}
	err := changeFace(p, c)
	if err == nil {
		err = s.keepMachine(c, m, func(doc map[string]any) { doc["controls"] = piece.ControlsDoc(p.Controls) })
	}
	s.faceAnswer(c, m.ID, err)
}

func (s *Server) faceAnswer(c *gin.Context, id int64, err error) {
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/machines/%d/face", id))
}

// keepMachine writes a machine with some of its file changed; what stands there besides stays.
func (s *Server) keepMachine(c *gin.Context, m store.Machine, change func(doc map[string]any)) error {
	var doc map[string]any
	if err := json.Unmarshal(m.Doc, &doc); err != nil {
		return err
	}
	change(doc)
	b, err := json.Marshal(doc)
	if err == nil {
		_, err = piece.ReadMachine(b)
	}
	if err != nil {
		return inputError{err}
	}
	return s.store.SaveMachine(c.Request.Context(), m.ID, c.PostForm("state"), b)
}

// changeFace does what a form of the page asks with the controls of a machine.
func changeFace(p *machine.Profile, c *gin.Context) error {
	form := func(name string) string { return strings.TrimSpace(c.PostForm(name)) }
	part := func(name string) float64 {
		x, _ := strconv.ParseFloat(form(name), 64)
		return max(0, min(1, x))
	}
	if form("do") == "add" {
		if len(p.Controls) == machine.MaxControls {
			return inputError{fmt.Errorf("a machine has at most %d controls here", machine.MaxControls)}
		}
		n := len(p.Controls)
		one := machine.Control{Name: fmt.Sprintf("%s %d", form("shape"), n+1), Shape: form("shape"),
			At:        [2]float64{float64(n%6)/6 + 0.08, 0.5},
			Positions: []string{"up", "down"}}
		switch one.Shape {
		case "dial":
			one.Positions = nil
		case "button":
			one.Positions = []string{"out", "in"}
		}
		if err := setCarriage(&one, form("on")); err != nil {
			return err
		}
		p.Controls = append(p.Controls, one)
		return checked(&one)
	}
	i := number(form("control"), 0) - 1
	if i < 0 || i >= len(p.Controls) {
		return inputError{fmt.Errorf("control %q: it is not there", form("control"))}
	}
	one := &p.Controls[i]
	switch form("do") {
	case "move":
		one.At = [2]float64{part("x"), part("y")}
	case "drop":
		p.Controls = slices.Delete(p.Controls, i, i+1)
		return nil
	case "set":
		if form("value") == "" {
			delete(one.Sets, form("key"))
			return nil
		}
		if one.Sets == nil {
			one.Sets = map[string]string{}
		}
		one.Sets[form("key")] = form("value")
	case "change":
		one.Name, one.Shape = form("name"), form("shape")
		if err := setCarriage(one, form("on")); err != nil {
			return err
		}
		one.Acts = map[string]machine.Side{"left": machine.Left, "right": machine.Right}[form("acts")]
		renamed(one, form("positions"))
	default:
		return inputError{fmt.Errorf("what is to be done with %s?", one.Name)}
	}
	return checked(one)
}

func checked(c *machine.Control) error {
	if err := c.Check(); err != nil {
		return inputError{fmt.Errorf("%s: %w", c.Name, err)}
	}
	return nil
}

func setCarriage(c *machine.Control, on string) error {
	carriage, ok := piece.CarriageNamed(on)
	if !ok {
		return inputError{fmt.Errorf("%q: no carriage of the machine", on)}
	}
	c.On = carriage
	return nil
}

// renamed gives a control its positions as they are typed, with commas between. Where there are as
// many as before, what a position does goes with its new name; else what names one that is gone goes.
func renamed(c *machine.Control, typed string) {
	var now []string
	for w := range strings.SplitSeq(typed, ",") {
		if w = strings.Join(strings.Fields(w), " "); w != "" {
			now = append(now, w)
		}
	}
	for key, old := range c.Sets {
		if at := slices.Index(c.Positions, old); len(now) == len(c.Positions) && at >= 0 {
			c.Sets[key] = now[at]
		} else if !slices.Contains(now, old) {
			delete(c.Sets, key)
		}
	}
	c.Positions = now
}

// facePhoto is the photograph behind the controls.
func (s *Server) facePhoto(c *gin.Context) {
	id, err := pieceID(c)
	var data []byte
	if err == nil {
		data, err = s.store.MachinePhoto(c.Request.Context(), id)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Data(http.StatusOK, "image/jpeg", data)
}

// exportMachine is a machine as a file, to be shared; the photograph stays here.
func (s *Server) exportMachine(c *gin.Context) {
	m, p, ok := s.ownProfile(c)
	if !ok {
		return
	}
	c.Header("Content-Disposition", fmt.Sprintf("attachment; filename=%q", fileName(p.Name)+".machine.json"))
	c.Data(http.StatusOK, kinds["json"], m.Doc)
}

// fileName is a name that every computer takes: letters and digits of it, with hyphens between.
func fileName(name string) string {
	var b strings.Builder
	for _, r := range strings.ToLower(name) {
		if r >= 'a' && r <= 'z' || r >= '0' && r <= '9' {
			b.WriteRune(r)
		} else if b.Len() > 0 && !strings.HasSuffix(b.String(), "-") {
			b.WriteByte('-')
		}
	}
	if out := strings.Trim(b.String(), "-"); out != "" {
		return out
	}
	return "vindel"
}

// importMachine takes a machine from a file: one that was exported, or the one of a piece file.
func (s *Server) importMachine(c *gin.Context) {
	file, _, err := c.Request.FormFile("file")
	if err != nil {
		s.fail(c, inputError{fmt.Errorf("choose the file of a machine")})
		return
	}
	defer file.Close()
	var doc map[string]any
	err = json.NewDecoder(file).Decode(&doc)
	if inner, ok := doc["machine"].(map[string]any); err == nil && ok {
		doc = inner
	}
	var b []byte
	if err == nil {
		b, err = json.Marshal(doc)
	}
	if err == nil {
		_, err = piece.ReadMachine(b)
	}
	if err != nil {
		s.fail(c, inputError{fmt.Errorf("that is no machine: %w", err)})
		return
	}
	id, err := s.store.AddMachine(c.Request.Context(), b)
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/machines/%d/face", id))
}

// behind lists the pieces that were begun on a machine, by its name, and have other words or controls than
// it has now.
func (s *Server) behind(c *gin.Context, doc []byte, name string) (list []otherPiece, err error) {
	var now struct{ Words, Controls any }
	if err := json.Unmarshal(doc, &now); err != nil {
		return nil, err
	}
	shelf, err := s.store.Shelf(c.Request.Context(), made)
	if err != nil {
		return nil, err
	}
	for _, on := range shelf {
		var card shelfSum
		if json.Unmarshal(on.Card, &card) == nil && card.Machine != "" && card.Machine != name {
			continue
		}
		stored, err := s.store.Piece(c.Request.Context(), on.ID)
		if err != nil {
			continue
		}
		var p struct {
			Name    string
			Machine struct {
				Name            string
				Words, Controls any
			}
		}
		if json.Unmarshal(stored.Doc, &p) != nil || p.Machine.Name != name {
			continue
		}
		a, _ := json.Marshal([]any{now.Words, now.Controls})
		if b, _ := json.Marshal([]any{p.Machine.Words, p.Machine.Controls}); string(a) != string(b) {
			list = append(list, otherPiece{on.ID, p.Name})
		}
	}
	return list, nil
}

// reach gives the pieces on a machine its words and controls as they are now, each as a change that can be
// undone there. Nothing else of their machine changes, so no plan does.
func (s *Server) reach(c *gin.Context) {
	m, p, ok := s.ownProfile(c)
	if !ok {
		return
	}
	list, err := s.behind(c, m.Doc, p.Name)
	if err != nil {
		s.fail(c, err)
		return
	}
	var now map[string]any
	if err := json.Unmarshal(m.Doc, &now); err != nil {
		s.fail(c, err)
		return
	}
	n := 0
	for _, one := range list {
		stored, err := s.store.Piece(c.Request.Context(), one.ID)
		if err != nil {
			continue
		}
		doc, err := edit.Parse(stored.Doc)
		if err != nil {
			continue
		}
		var changes []edit.Change
		for _, key := range []string{"words", "controls"} {
			at := edit.Member("machine").To(key)
			if v, ok := now[key]; ok {
				changes = append(changes, edit.Set(at, v)...)
			} else if _, had := doc.Get(at); had {
				changes = append(changes, edit.Drop(at)...)
			}
		}
		if s.store.Edit(c.Request.Context(), one.ID, edit.Edit{Kind: edit.Machines,
			Label: "the machine's words", On: stored.Rev, Changes: changes}) == nil {
			n++
		}
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/machines/%d/face?reached=%d", m.ID, n))
}

// facesAt are the carriages that go in pass i, with every control as it must stand; nil where she has
// placed none.
func facesAt(pl *pass.Plan, i int) (list []carriageView) {
	states := beside.Controls(pl, i)
	if states == nil {
		return nil
	}
	m, now := &pl.Piece.Machine, &pl.Passes[i]
	for _, v := range carriagesOf(m, func(no int, _ *machine.Control) (string, bool) {
		return states[no].Position,
			states[no].Changed
	}) {
		goes := now.Carriage
		second := !now.Second().AtWork.Empty()
		if len(v.Controls) > 0 && (piece.CarriageKey(goes) == v.Key || second && v.Key == "second") {
			list = append(list, v)
		}
	}
	return list
}

// photographed puts her photograph behind the knit carriage, where the machine that a piece is on, by its
// name, is one of hers that has one. Without it the carriage is as plain.
func (s *Server) photographed(ctx context.Context, name string, faces []carriageView) {
	if len(faces) == 0 {
		return
	}
	own, err := s.store.Machines(ctx)
	if err != nil {
		return
	}
	for _, m := range own {
		var named struct{ Name string }
		if json.Unmarshal(m.Doc, &named) != nil || named.Name != name {
			continue
		}
		if _, err := s.store.MachinePhoto(ctx, m.ID); err != nil {
			continue
		}
		for i := range faces {
			if faces[i].Key == "" {
				faces[i].Photo = fmt.Sprintf("/machines/%d/photo.jpg", m.ID)
			}
		}
		return
	}
}
