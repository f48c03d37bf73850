package web

import (
	"encoding/json"
	"fmt"
	"maps"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/beside"
	"vindel/knit/chart"
	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/recipe"
	"vindel/knit/technique"
	"vindel/knit/words"
	"vindel/paper"
)

// recipeView is the page on which a recipe is written: its text, and beside each line what it
// comes to.
type recipeView struct {
	Page     Page
	ID       int64
	Section  int
	Name     string
	Others   []sectionLink // other recipes of the piece
	Charts   []string
	Text     string
	Lines    []recipeLineView
	Faults   []faultView
	Saved    bool // what stands in the piece is this text
	Repeats  []beside.RecipeRepeat
	Params   []paramView
	Variants []variantView
	At       int // the line that is looked at
	State    stateView
	Totals   []totalView
	Yarns    []loopsView
	Rounds   []roundView
	Faces    []faceView
	Stops    string
	Listed   findingList
	Shelf    []shelfRecipe
	Begin    []shelfRecipe
	Small    []shelfRecipe
}

type sectionLink struct {
	No   int
	Name string
}

// recipeLineView is what stands beside a line.
type recipeLineView struct {
	N       int
	Passes  string // "7", "9–14"
	Counter string // "8 → 14"
	Dir     string
	Yarns   []threadView
	Says    string
	Strip   []beadView // needles that the line is about
	Fault   string
	Reached bool
}

type faultView struct {
	Line, Col, Len int
	Text           string
}

// paramView is a number of the recipe that can be turned.
type paramView struct {
	Name, Value, Text, Range, Default string
	Step                              string
	Least, Most                       string
	Set                               bool
}

// beadView is a needle on a strip: where it stands, and how.
type beadView struct {
	X     float64
	Class string
}

// stateView is both beds after the line that is looked at.
type stateView struct {
	Line   int
	Known  bool
	Main   []beadView
	Second []beadView
	Words  [2]string
	Labels []tick
	Stands string
	Wide   float64
}

type totalView struct{ Name, Value string }

// loopsView is the loops of a yarn, by how they were made.
type loopsView struct {
	Name, Colour string
	Part         string // of all yarn, and what it weighs
	Kinds        []totalView
}

// roundView is one round of a word.
type roundView struct {
	Word   string
	Times  int
	Passes int
	Loops  string
}

// variantView is a setting of the parameters that is kept beside others.
type variantView struct {
	N       int
	Words   string
	Mine    bool
	Passes  int
	Threads int
	Hands   int
	Yarn    string
	Minutes int
	Stops   string
	W, H    int
	Courses int
}

// shelfRecipe is a recipe to begin from.
type shelfRecipe struct {
	ID        int64
	Key, Name string
	About     string
	Removed   bool
}

// recipeSection is the section that a request asks for, or the first that is a recipe; 0: none.
func recipeSection(p *piece.Piece, asked int) int {
	if asked >= 1 && asked <= len(p.Sections) && p.Section(asked).Technique.OwnRows {
		return asked
	}
	for i := range p.Sections {
		if p.Sections[i].Technique.OwnRows {
			return i + 1
		}
	}
	return 0
}

// recipeLinks lists the sections of a piece that are recipes.
func recipeLinks(p *piece.Piece) (list []sectionLink) {
	for i := range p.Sections {
		if p.Sections[i].Technique.OwnRows {
			list = append(list, sectionLink{i + 1, p.Sections[i].Title()})
		}
	}
	return list
}

// chosenRounds reads "4:3,9:1": round 3 of the repeat on line 4.
func chosenRounds(text string) map[int]int {
	chosen := map[int]int{}
	for part := range strings.SplitSeq(text, ",") {
		line, n, _ := strings.Cut(part, ":")
		if l, k := number(line, 0), number(n, 0); l > 0 && k > 0 {
			chosen[l] = k
		}
	}
	return chosen
}

func (s *Server) recipe(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		no := recipeSection(d.piece, number(c.Query("section"), 0))
		if no == 0 {
			c.Redirect(http.StatusSeeOther, fmt.Sprintf("/pieces/%d/draw", d.stored.ID))
			return
		}
		v := s.recipeView(c, d, no, d.piece.Section(no).Recipe, nil)
		s.render(c, "recipe", v)
	})
}

// recipeTold answers what was typed: saved where it can be read, with every fault under its word
// where it cannot.
func (s *Server) recipeTold(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		no := recipeSection(d.piece, number(c.PostForm("section"), 0))
		text := strings.TrimRight(strings.ReplaceAll(c.PostForm("text"), "\r", ""), "\n ")
		if no == 0 || len(text) > piece.MaxRecipe {
			s.fail(c, inputError{fmt.Errorf("a recipe has at most %d bytes", piece.MaxRecipe)})
			return
		}
		faults := technique.RecipeFaults(d.piece, no-1, text)
		if len(faults) == 0 && text == "" {
			faults = recipe.Errors{{Pos: recipe.Pos{Line: 1, Col: 1}, Text: "a recipe has at least one line"}}
		}
		if len(faults) == 0 && text != strings.TrimRight(d.piece.Section(no).Recipe, "\n ") {
			e := edit.Edit{Kind: edit.Draws, Label: "write the recipe", Changes: edit.RecipeText(no, text),
				On: revision(c)}
			err := s.store.Edit(c.Request.Context(), d.stored.ID, e)
			if err == nil {
				d, err = s.open(c.Request.Context(), d.stored.ID)
			}
			if err != nil {
				s.fail(c, err)
				return
			}
		}
		v := s.recipeView(c, d, no, text, faults)
		html, err := s.html("recipe", "recipe-beside", v)
		if err != nil {
			s.fail(c, err)
			return
		}
		c.Header("Vindel-Rev", strconv.FormatInt(d.stored.Rev, 10))
		c.Data(http.StatusOK, "text/html; charset=utf-8", []byte(html))
	})
}

// recipeView gathers the page; faults are those of a text that is not saved.
func (s *Server) recipeView(c *gin.Context, d *opened, no int, text string, faults recipe.Errors) recipeView {
	p, pl := d.piece, d.result.Plan
	sec := p.Section(no)
	get := func(key string) string {
		if v := c.PostForm(key); v != "" {
			return v
		}
		return c.Query(key)
	}
	v := recipeView{Page: s.piecePage(c, d, "draw"), ID: d.stored.ID, Section: no, Name: sec.Title(), Text: text,
		Saved: len(faults) == 0,
		Faces: proveFaces(d), Listed: d.listed(), At: max(1, number(get("line"), 1)), Charts: chartNames(p)}
	v.Others = slices.DeleteFunc(recipeLinks(p), func(l sectionLink) bool { return l.No == no })
	if err := pl.Refused; err != nil && len(faults) == 0 && err.Path == fmt.Sprintf("sections[%d].recipe", no-1) {
		if at, ok := err.Err.(*recipe.Error); ok {
			faults = recipe.Errors{at}
		}
	}
	said := map[int]string{}
	for _, f := range faults {
		v.Faults = append(v.Faults, faultView{f.Line, f.Col, max(f.Len, 1), f.Text})
		if said[f.Line] == "" {
			said[f.Line] = f.Text
		}
	}
	var lines map[int]*beside.RecipeLine
	if v.Saved {
		lines, v.Repeats = beside.Recipe(pl, no, chosenRounds(get("rounds")))
	}
	for i := range strings.Count(text, "\n") + 1 {
		lv := recipeLineView{N: i + 1, Fault: said[i+1]}
		if l := lines[i+1]; l != nil {
			d.besideLine(&lv, l)
		}
		v.Lines = append(v.Lines, lv)
	}
	d.state(&v, lines)
	d.recipeParams(&v, sec)
	d.recipeTotals(&v, no)
	v.Variants = d.variants(no)
	for _, f := range d.result.Findings {
		if f.Severity.String() == "stop" {
			v.Stops = f.Text
			break
		}
	}
	v.Begin, v.Small = shippedRecipes()
	kept, _ := s.store.Recipes(c.Request.Context()) // without them the page is as good
	for _, k := range kept {
		v.Shelf = append(v.Shelf, shelfRecipe{ID: k.ID, Name: k.Name})
	}
	return v
}

// besideLine is what a line comes to, as it stands beside it.
func (d *opened) besideLine(v *recipeLineView, l *beside.RecipeLine) {
	v.Reached, v.Says = l.Reached, l.Says
	if l.Passes[0] > 0 {
		v.Passes = strconv.Itoa(l.Passes[0])
		if l.Passes[1] > l.Passes[0] {
			v.Passes += "–" + strconv.Itoa(l.Passes[1])
		} else {
			v.Dir = l.Dir.Arrow()
		}
		v.Counter = fmt.Sprintf("%d → %d", l.Counter[0], l.Counter[1])
		for _, y := range l.Feeders {
			if y != 0 {
				v.Yarns = append(v.Yarns, threadView{Colour: d.colour(y)})
			}
		}
	} else if l.Says != "" {
		for _, y := range l.Feeders {
			if y != 0 {
				v.Yarns = append(v.Yarns, threadView{Colour: d.colour(y)})
			}
		}
	}
	bases := recipe.Bases(d.piece)
	bed := machine.Main
	if l.Needles[0].Empty() && !l.Needles[1].Empty() {
		bed = machine.Second
	}
	if on := l.Needles[bed]; !on.Empty() {
		v.Strip = beads(bases[bed], func(n machine.Needle) string {
			if on.Has(n) {
				return "is-on"
			}
			return ""
		})
	}
}

// beads is a needle each over 200 wide.
func beads(base machine.Set, class func(machine.Needle) string) (list []beadView) {
	step := 200 / float64(max(base.Len(), 1))
	i := 0
	for n := range base.All() {
		list = append(list, beadView{(float64(i) + 0.5) * step, class(n)})
		i++
	}
	return list
}

// state is both beds after the line that is looked at, or the last before it that was reached.
func (d *opened) state(v *recipeView, lines map[int]*beside.RecipeLine) {
	at := v.At
	for ; at > 0 && lines[at] == nil; at-- {
	}
	l := lines[at]
	if l == nil {
		return
	}
	s, m := &l.After, &d.piece.Machine
	v.State = bothBeds(m, s)
	v.State.Line = at
	for bed := range s.Places {
		v.State.Words[bed] = beside.BedWords(m, s, machine.BedNo(bed))
	}
	v.State.Stands = fmt.Sprintf("The carriage is on the %v", s.Side)
	if v.State.Second != nil {
		v.State.Stands += fmt.Sprintf(", the handle at %d, %v pitch", s.Rack, s.Pitch)
	}
}

// standing is how both beds stand before a pass (index) of a recipe, nil where every needle of the one
// bed there is is at rest with its loop.
func (d *opened) standing(i int) *stateView {
	f, p := d.result.Fabric, &d.result.Plan.Passes[i]
	s := recipe.State{Places: recipe.Bases(d.piece), Rack: p.Rack, Pitch: p.Pitch}
	plain := p.Second().AtWork.Empty()
	for bed := range p.Beds {
		half, stand := &p.Beds[bed], f.Stands[i]
		if bed == 1 {
			stand = f.StandsBehind[i]
		}
		s.Work[bed], s.Hold[bed] = half.AtWork.Minus(half.Hold), half.Hold
		s.Holds[bed], s.Over[bed] = half.AtWork.Minus(stand.Empty), stand.Doubled
		plain = plain && (bed == 1 || s.Work[bed] == s.Places[bed] && stand.Empty.Empty() && stand.Doubled.Empty())
	}
	if plain {
		return nil
	}
	v := bothBeds(&d.piece.Machine, &s)
	return &v
}

// bothBeds draws both beds, 1000 wide, each needle as it stands.
func bothBeds(m *machine.Profile, s *recipe.State) (v stateView) {
	v.Known = true
	all := s.Places[0].Or(s.Places[1])
	if all.Empty() {
		return v
	}
	lie := machine.Across{Shift: s.Rack - m.RackCentre, Pitch: s.Pitch}
	first, last := all.First(), all.Last()
	step := 1000 / float64(last-first+2)
	for bed := range s.Places {
		in := s.Work[bed].Or(s.Hold[bed])
		if bed == 1 && in.Empty() {
			continue
		}
		var list []beadView
		for n := range s.Places[bed].All() {
			x := (float64(n-first) + 1) * step
			if bed == 1 {
				x = (float64(lie.Apart(n, 0))/2 - float64(first) + 1) * step
			}
			class := "is-work"
			switch {
			case !in.Has(n):
				class = "is-out"
			case s.Hold[bed].Has(n):
				class = "is-hold"
			}
			switch {
			case !in.Has(n):
			case !s.Holds[bed].Has(n):
				class += " is-empty"
			case s.Over[bed].Has(n):
				class += " is-over"
			}
			list = append(list, beadView{x, class})
		}
		if bed == 0 {
			v.Main = list
		} else {
			v.Second = list
		}
	}
	for n := range s.Places[0].All() {
		if labelled(n, first, last) && (n.Number()%10 == 0 && min(n-first, last-n) > 4 || n == first || n == last ||
			n.Number() == 1 && n < 0) {
			v.Labels = append(v.Labels, tick{X: (float64(n-first) + 1) * step, Label: n.String()})
		}
	}
	v.Wide = min(step*0.72, 16)
	return v
}

// recipeParams is the recipe's numbers, with what is set.
func (d *opened) recipeParams(v *recipeView, sec *piece.Section) {
	rec, _ := recipe.Read(sec.Recipe, recipe.Ground{Piece: d.piece, Later: v.Section > 1 || d.piece.Begin != nil})
	for _, st := range rec.Params {
		pv := paramView{Name: st.Name, Text: st.Text, Default: st.Num.String(), Value: st.Num.String(), Step: "any"}
		if st.From != nil {
			pv.Range = fmt.Sprintf("%v to %v", st.From, st.To)
			pv.Least, pv.Most = st.From.String(), st.To.String()
		}
		if tenths, ok := sec.With[st.Name]; ok {
			pv.Value, pv.Set = recipe.Figures(tenths), pv.Value != recipe.Figures(tenths)
		}
		v.Params = append(v.Params, pv)
	}
}

// recipeTotals is what the recipe comes to.
func (d *opened) recipeTotals(v *recipeView, no int) {
	pl := d.result.Plan
	for i := range pl.Totals.Recipe {
		t := &pl.Totals.Recipe[i]
		if t.Section != no {
			continue
		}
		add := func(name string, n int, unit string) {
			if n > 0 {
				v.Totals = append(v.Totals, totalView{name, strings.TrimSpace(fmt.Sprint(n, " ", unit))})
			}
		}
		own := 0
		for j := range pl.Passes {
			if pl.Passes[j].Section == no {
				own++
			}
		}
		add("Passes", own, "")
		add("Free passes", t.Free, "")
		add("Needles put out, to work or in hold", t.Hands.Needles, "")
		add("Stitches moved", t.Hands.Moved, "")
		add("Pairs crossed", t.Hands.Crossed, "")
		add("Stitches by hand", t.Hands.Knitted, "")
		add("Needles wrapped", t.Hands.Wrapped, "")
		add("Loops let go as pile", t.LetGo.Pile, "")
		add("Loops let go that run", t.LetGo.Run, "")
		add("Lines punched or typed", t.Card.Lines, "")
		add("Card set back", t.Card.SetBack, "times")
		add("Most loops on a needle", t.Most, "")
		for k := range pl.Recipes {
			r := &pl.Recipes[k]
			if r.Section != no {
				continue
			}
			if most := r.Run.Totals.Passes; most[0] > 0 {
				v.Totals = append(v.Totals, totalView{"Passes on the needle that knitted most, and least",
					fmt.Sprintf("%d, %d", most[0], most[1])})
			}
			for _, word := range slices.Sorted(maps.Keys(t.Rounds)) {
				one := r.Run.Round(word)
				v.Rounds = append(v.Rounds, roundView{word, t.Rounds[word], one.Passes, d.loopsWords(one.Loops)})
			}
		}
		for _, use := range beside.RecipeYarn(pl, no) {
			yarn := &d.piece.Yarns[use.Yarn-1]
			kinds := t.Loops[d.piece.YarnID(use.Yarn)]
			lv := loopsView{Name: yarn.Name, Colour: yarn.Colour}
			if use.Share < .995 {
				lv.Part = fmt.Sprintf("%.0f %% of the yarn", 100*use.Share)
			}
			if use.Grams > 0 {
				lv.Part = strings.TrimSpace(fmt.Sprintf("%.0f g %s", use.Grams, lv.Part))
			}
			for _, kind := range kindWords {
				if n := kinds[kind.Value]; n > 0 {
					lv.Kinds = append(lv.Kinds, totalView{kind.Text, strconv.Itoa(n)})
				}
			}
			v.Yarns = append(v.Yarns, lv)
		}
	}
}

// kindWords are the kinds of loops and what they are called.
var kindWords = []piece.Word{{Value: "knit", Text: "knitted"}, {Value: "second", Text: "on the second bed"},
	{Value: "strand", Text: "strands"},
	{Value: "wrap", Text: "wraps"}, {Value: "short", Text: "short by hand"}, {Value: "long", Text: "long by hand"},
	{Value: "cast", Text: "cast on"}}

// loopsWords is loops by yarn in a line.
func (d *opened) loopsWords(loops map[piece.YarnNo]int) string {
	var parts []string
	for y := range d.piece.Yarns {
		if n := loops[piece.YarnNo(y+1)]; n > 0 {
			parts = append(parts, fmt.Sprintf("%s %d", d.piece.Yarns[y].Name, n))
		}
	}
	return strings.Join(parts, ", ")
}

// withWords is a setting of parameters in words: "wide 4, tall 6".
func withWords(with map[string]int) string {
	var parts []string
	for _, name := range slices.Sorted(maps.Keys(with)) {
		parts = append(parts, name+" "+recipe.Figures(with[name]))
	}
	if len(parts) == 0 {
		return "as written"
	}
	return strings.Join(parts, ", ")
}

// variants compares the settings of a section's recipe that are kept side by side.
func (d *opened) variants(no int) (list []variantView) {
	sec := d.piece.Section(no)
	for i, with := range sec.Variants {
		r := d.variant(no, with)
		t := &r.Plan.Totals
		v := variantView{N: i, Words: withWords(with), Mine: maps.Equal(with, sec.With), Passes: t.Passes,
			Threads: t.Threadings,
			Courses: len(r.Fabric.Courses)}
		_, v.Minutes = beside.Minutes(r.Plan)
		for j := range t.Recipe {
			v.Hands += t.Recipe[j].Hands.Count()
		}
		v.Yarn = d.yarnWords(r.Plan, no)
		if r.Stops() {
			v.Stops = r.Findings[0].Text
		}
		list = append(list, v)
	}
	return list
}

// variant is what the piece comes to with a section's parameters set otherwise.
func (d *opened) variant(no int, with map[string]int) *check.Result {
	p := *d.piece
	p.Sections = slices.Clone(p.Sections)
	p.Sections[no-1].With = with
	return check.Run(&p)
}

// yarnWords is how much of each yarn a recipe takes: grams, or loops weighted by their length.
func (d *opened) yarnWords(pl *pass.Plan, no int) string {
	var parts []string
	for _, use := range beside.RecipeYarn(pl, no) {
		name := d.piece.YarnName(use.Yarn)
		if use.Grams > 0 {
			parts = append(parts, fmt.Sprintf("%s %.0f g", name, use.Grams))
		} else {
			parts = append(parts, fmt.Sprintf("%s %.0f", name, use.Loops))
		}
	}
	return strings.Join(parts, ", ")
}

// recipeDo sets a parameter, keeps a setting beside others or takes one away, begins from a recipe,
// or keeps this one on the shelf.
func (s *Server) recipeDo(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		no := recipeSection(d.piece, number(c.PostForm("section"), 0))
		if no == 0 {
			s.fail(c, inputError{fmt.Errorf("this piece has no recipe")})
			return
		}
		changes, label, err := s.recipeChange(c, d, no, c.PostForm("do"), c.PostForm("value"))
		if err != nil {
			s.fail(c, inputError{err})
			return
		}
		s.change(c, d.stored.ID, edit.Edit{Kind: edit.Draws, Label: label, Changes: changes})
	})
}

func (s *Server) recipeChange(c *gin.Context, d *opened, no int, do, value string) ([]edit.Change, string, error) {
	sec := d.piece.Section(no)
	switch do {
	case "with":
		name := c.PostForm("name")
		tenths, err := recipe.Tenths(value)
		if err != nil {
			return nil, "", fmt.Errorf("%s: %w", name, err)
		}
		return edit.With(d.piece, no, name, tenths), "set " + name, nil
	case "keep":
		list := append(slices.Clone(sec.Variants), sec.With)
		if slices.ContainsFunc(sec.Variants, func(v map[string]int) bool { return maps.Equal(v, sec.With) }) {
			return nil, "", nil
		}
		if len(list) > piece.MaxVariants {
			return nil, "", fmt.Errorf("at most %d are kept side by side", piece.MaxVariants)
		}
		return edit.Variants(no, list), "keep a variant", nil
	case "use", "drop":
		i := number(value, -1)
		if i < 0 || i >= len(sec.Variants) {
			return nil, "", fmt.Errorf("that variant is gone")
		}
		if do == "drop" {
			return edit.Variants(no, slices.Delete(slices.Clone(sec.Variants), i, i+1)), "take a variant away", nil
		}
		var changes []edit.Change
		for name, tenths := range sec.Variants[i] {
			changes = append(changes, edit.With(d.piece, no, name, tenths)...)
		}
		return changes, "use a variant", nil
	case "begin":
		text, charts, yarns, err := s.recipeFrom(c, value)
		if err != nil {
			return nil, "", err
		}
		changes := slices.Concat(edit.Charts(d.piece, charts), edit.Yarns(d.piece, yarns))
		if c.PostForm("where") == "above" {
			return append(changes, edit.InsertRecipe(d.piece, no+1, value, text)...), "add a recipe", nil
		}
		if len(sec.With) > 0 {
			changes = append(changes, edit.Drop(edit.Section(no).To("with"))...)
		}
		if len(sec.Variants) > 0 {
			changes = append(changes, edit.Drop(edit.Section(no).To("variants"))...)
		}
		return append(changes, edit.RecipeText(no, text)...), "begin from " + value, nil
	case "shelve":
		name := strings.TrimSpace(value)
		if name == "" {
			name = sec.Title()
		}
		if err := tooLong("name: it", name, piece.MaxText); err != nil {
			return nil, "", err
		}
		return nil, "", s.shelve(c, d, no, name)
	case "unshelve":
		return nil, "", s.store.PutRecipeAway(c.Request.Context(), int64(number(value, 0)), true)
	}
	return nil, "", fmt.Errorf("%q: with, keep, use, drop, begin, shelve or unshelve", do)
}

// kept is a recipe of the shelf as it is stored.
type kept struct {
	Text   string         `json:"text"`
	Charts map[string]any `json:"charts"`
	Yarns  []any          `json:"yarns"`
}

// shelve keeps the recipe of a section, with the charts and yarns that it names.
func (s *Server) shelve(c *gin.Context, d *opened, no int, name string) error {
	doc, err := edit.Parse(d.stored.Doc)
	if err != nil {
		return err
	}
	k := kept{Text: d.piece.Section(no).Recipe, Charts: map[string]any{}}
	rec, _ := recipe.Parse(k.Text)
	for _, chart := range rec.Charts() {
		if v, ok := doc.Get(edit.Chart(chart)); ok {
			k.Charts[chart] = v
		}
	}
	if v, ok := doc.Get(edit.Member("yarns")); ok {
		k.Yarns, _ = v.([]any)
	}
	data, err := json.Marshal(k)
	if err != nil {
		return err
	}
	return s.store.KeepRecipe(c.Request.Context(), name, data)
}

// recipeFrom is the text of a recipe to begin from, and the charts and yarns that it wants: a
// shipped one by its key, or one of the shelf by "shelf:ID".
func (s *Server) recipeFrom(c *gin.Context, key string) (text string, charts map[string]any, yarns []any, err error) {
	if id, ok := strings.CutPrefix(key, "shelf:"); ok {
		list, err := s.store.Recipes(c.Request.Context())
		if err != nil {
			return "", nil, nil, err
		}
		for _, r := range list {
			if strconv.FormatInt(r.ID, 10) == id {
				var k kept
				err := json.Unmarshal(r.Doc, &k)
				return k.Text, k.Charts, k.Yarns, err
			}
		}
		return "", nil, nil, fmt.Errorf("that recipe is not on the shelf any more")
	}
	if small, ok := recipe.Small[key]; ok {
		return small, nil, nil, nil
	}
	e := recipe.Shipped(key)
	if e.File == nil {
		return "", nil, nil, fmt.Errorf("%q: no such recipe", key)
	}
	var file struct {
		Charts   map[string]any `json:"charts"`
		Yarns    []any          `json:"yarns"`
		Sections []struct {
			Recipe []string `json:"recipe"`
		} `json:"sections"`
	}
	if err := json.Unmarshal(e.File, &file); err != nil {
		return "", nil, nil, err
	}
	return strings.Join(file.Sections[0].Recipe, "\n"), file.Charts, file.Yarns, nil
}

// shippedRecipes lists the recipes to begin from, with what each is for: the comment it begins with.
func shippedRecipes() (whole, small []shelfRecipe) {
	for _, e := range recipe.Examples {
		p, err := technique.Read(e.File)
		if err != nil {
			continue
		}
		whole = append(whole, shelfRecipe{Key: e.Name, Name: p.Name, About: aboutRecipe(p.Sections[0].Recipe)})
	}
	for _, key := range slices.Sorted(maps.Keys(recipe.Small)) {
		small = append(small, shelfRecipe{Key: key, Name: words.Capital(strings.ReplaceAll(key, "-", " ")),
			About: aboutRecipe(recipe.Small[key])})
	}
	return whole, small
}

func aboutRecipe(text string) string {
	first, _, _ := strings.Cut(text, "\n")
	return strings.TrimSpace(strings.TrimLeft(first, "; "))
}

// variantPicture is the fabric of a variant, small.
func (s *Server) variantPicture(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		no, i := recipeSection(d.piece, number(c.Query("section"), 0)), number(c.Query("n"), -1)
		if no == 0 || i < 0 || i >= len(d.piece.Section(no).Variants) {
			s.fail(c, inputError{fmt.Errorf("that variant is gone")})
			return
		}
		f := d.variant(no, d.piece.Section(no).Variants[i]).Fabric
		if len(f.Courses) == 0 {
			s.fail(c, inputError{fmt.Errorf("it knits nothing")})
			return
		}
		data, err := paper.FabricPNG(c.Request.Context(), f, map[string]chart.Face{"knit": chart.KnitSide,
			"purl": chart.PurlSide}[d.worn()], paper.Window{W: min(f.W, 60), H: min(len(f.Courses), 60)}, 4)
		s.send(c, "png", data, err)
	})
}
