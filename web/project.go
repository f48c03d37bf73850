package web

import (
	"cmp"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/edit"
	"vindel/knit/outline"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/project"
	"vindel/knit/words"
	"vindel/store"
)

// projectsView is the page of all projects.
type projectsView struct {
	Page Page
	List []projectCard
	Away int64
}

type projectCard struct {
	ID    int64
	Name  string
	Parts []string
	Words string
}

// projectView is a project: its pieces, what they share, and how they are put together.
type projectView struct {
	Page   Page
	ID     int64
	Name   string
	Undo   bool
	Parts  []projectPart
	Others []piece.Word // pieces that do not belong to it yet
	Yarns  []projectYarn
	Swatch []piece.Word // pieces whose swatch can be given to all
	Apart  string       // where the swatches differ
	Seams  []seamView
	Ends   []piece.Word
	Hows   []piece.Word
}

type projectPart struct {
	ID           int64
	Name, Size   string
	Assumed      assumedView
	Outline      *outlineView
	Passes, Done int
	Percent      int
	MirrorOf     string
	Bad          string
	Finished     bool
	Edges        []string
}

type projectYarn struct {
	project.Need
	No         int
	GramsSaid  string
	Ball, Have string
}

type seamView struct {
	No           int
	A, B, How    string
	EdgeA, EdgeB string
	Says         []string
	Fits         bool
	First, Last  bool
}

func readProject(p store.Project) (v project.Project, err error) {
	err = json.Unmarshal(p.Doc, &v)
	v.Name = p.Name
	return v, err
}

func (s *Server) projects(c *gin.Context) {
	list, err := s.store.Projects(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	v := projectsView{Page: s.page(c, "Projects")}
	v.Away, _ = strconv.ParseInt(c.Query("away"), 10, 64)
	names := s.pieceNames(c)
	for _, p := range list {
		card := projectCard{ID: p.ID, Name: p.Name}
		if doc, err := readProject(p); err == nil {
			for _, part := range doc.Parts {
				if n := names[part.Piece]; n != "" {
					card.Parts = append(card.Parts, n)
				}
			}
			card.Words = fmt.Sprintf("%s, %s", words.Count(len(doc.Parts), "piece", "pieces"),
				words.Count(len(doc.Seams), "seam", "seams"))
		}
		v.List = append(v.List, card)
	}
	s.render(c, "projects", v)
}

// pieceNames are the names of all pieces on the shelf.
func (s *Server) pieceNames(c *gin.Context) map[int64]string {
	names := map[int64]string{}
	list, err := s.store.Shelf(c.Request.Context(), made)
	if err != nil {
		return names
	}
	for i := range list {
		sum := shelfSum{Name: list[i].Name}
		if json.Unmarshal(list[i].Card, &sum) != nil || sum.Name == "" { // what is stored of it names it
			sum.Name = cmp.Or(list[i].Name, "Untitled piece")
		}
		names[list[i].ID] = sum.Name
	}
	return names
}

func (s *Server) newProject(c *gin.Context) {
	name := strings.TrimSpace(c.PostForm("name"))
	if name == "" || len(name) > piece.MaxText {
		s.fail(c, inputError{fmt.Errorf("a project has a name, of at most %d characters", piece.MaxText)})
		return
	}
	doc, _ := json.Marshal(project.Project{})
	id, err := s.store.AddProject(c.Request.Context(), name, doc)
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(303, fmt.Sprintf("/projects/%d", id))
}

// withProject opens the project that the request names.
func (s *Server) withProject(c *gin.Context, f func(stored store.Project, p project.Project)) {
	id, err := pieceID(c)
	if err == nil {
		var stored store.Project
		if stored, err = s.store.Project(c.Request.Context(), id); err == nil {
			var p project.Project
			if p, err = readProject(stored); err == nil {
				f(stored, p)
				return
			}
		}
	}
	s.fail(c, err)
}

func (s *Server) project(c *gin.Context) {
	s.withProject(c, func(stored store.Project, p project.Project) {
		s.render(c, "project", s.projectView(c, stored, p))
	})
}

func (s *Server) projectView(c *gin.Context, stored store.Project, p project.Project) projectView {
	v := projectView{Page: s.page(c, p.Name), ID: stored.ID, Name: p.Name, Undo: stored.Undo, Hows: project.Hows}
	v.Page.State = stored.State
	names := s.pieceNames(c)
	opened := map[int64]*opened{}
	var plans []*pass.Plan
	swatches := map[string][]string{}
	for _, part := range p.Parts {
		one := projectPart{ID: part.Piece, Name: names[part.Piece], MirrorOf: names[part.MirrorOf]}
		d, err := s.open(c.Request.Context(), part.Piece)
		if err != nil {
			one.Bad = "It cannot be read, or is put away"
			v.Parts = append(v.Parts, one)
			continue
		}
		opened[part.Piece] = d
		pl := d.result.Plan
		plans = append(plans, pl)
		o := outline.Of(pl)
		one.Name, one.Passes, one.Done = d.head().Name, len(pl.Passes), s.doneOf(c, d)
		one.Finished = one.Done == one.Passes && one.Passes > 0
		if one.Passes > 0 {
			one.Percent = 100 * one.Done / one.Passes
		}
		wide, tall := o.Size()
		one.Size = fmt.Sprintf("%.0f × %.0f mm, %d stitches cast on, %d rows", wide, tall, d.piece.Work().Len(), o.Rows)
		one.Assumed = d.assumed()
		next := one.Done
		if next == 0 {
			next = -1
		}
		one.Outline = drawOutline(o, pl, next)
		for _, e := range project.Edges(pl) {
			one.Edges = append(one.Edges, e.Key+": "+e.Words())
			v.Ends = append(v.Ends, piece.Word{Value: fmt.Sprintf("%d/%s", part.Piece, e.Key),
				Text: one.Name + ", " + e.Key})
		}
		g := d.piece.Gauge
		key := fmt.Sprintf("%.4g × %.4g in 10 cm", g.Stitches, g.Rows)
		if g.Stitches == 0 {
			key = "no swatch, sizes assumed"
		} else {
			v.Swatch = append(v.Swatch, piece.Word{Value: fmt.Sprint(part.Piece), Text: one.Name + ": " + key})
		}
		swatches[key] = append(swatches[key], one.Name)
		v.Parts = append(v.Parts, one)
	}
	if len(swatches) > 1 {
		v.Apart = "The pieces go by different swatches, so what is equally long here may not be on the table."
	}
	for id, name := range names {
		if !slices.ContainsFunc(p.Parts, func(part project.Member) bool { return part.Piece == id }) {
			v.Others = append(v.Others, piece.Word{Value: fmt.Sprint(id), Text: name})
		}
	}
	slices.SortFunc(v.Others, func(a, b piece.Word) int { return strings.Compare(a.Text, b.Text) })
	for i, n := range project.Yarns(plans, p.Balls) {
		y := projectYarn{Need: n, No: i + 1, GramsSaid: "not known"}
		if n.Grams > 0 {
			y.GramsSaid = fmt.Sprintf("%.0f g", n.Grams)
			if n.Unknown {
				y.GramsSaid = fmt.Sprintf("more than %.0f g", n.Grams)
			}
		}
		if at := slices.IndexFunc(p.Balls, func(b project.Ball) bool { return b.Yarn == n.Yarn }); at >= 0 {
			b := p.Balls[at]
			y.Ball, y.Have = measured(b.Grams), fmt.Sprint(b.Have)
		}
		v.Yarns = append(v.Yarns, y)
	}
	edges := func(e project.End) (*project.Edge, float64) {
		d := opened[e.Piece]
		if d == nil {
			return nil, 1
		}
		for _, one := range project.Edges(d.result.Plan) {
			if one.Key == e.Edge {
				return &one, d.piece.StitchMM()
			}
		}
		return nil, d.piece.StitchMM()
	}
	for i, seam := range p.Seams {
		m := project.Meet(seam, edges)
		sv := seamView{No: i + 1, A: names[seam.A.Piece] + ", " + seam.A.Edge, B: names[seam.B.Piece] + ", " +
			seam.B.Edge, Says: m.Says, Fits: m.Fits,
			First: i == 0, Last: i == len(p.Seams)-1}
		for _, h := range project.Hows {
			if h.Value == seam.How {
				sv.How = h.Text
			}
		}
		if m.EdgeA != nil && m.EdgeB != nil {
			sv.EdgeA, sv.EdgeB = m.EdgeA.Words(), m.EdgeB.Words()
		}
		v.Seams = append(v.Seams, sv)
	}
	return v
}

// changeProject changes a project: its pieces, seams and balls.
func (s *Server) changeProject(c *gin.Context) {
	s.withProject(c, func(stored store.Project, p project.Project) {
		ctx := c.Request.Context()
		// what is done besides, to its pieces, is not begun on another state either
		err := store.Made(c.PostForm("state"), stored.State)
		switch do := c.PostForm("do"); {
		case err != nil:
		case do == "undo":
			err = s.store.UndoProject(ctx, stored.ID, c.PostForm("state"))
		case do == "swatch":
			err = s.shareSwatch(c, p, int64(number(c.PostForm("piece"), 0)))
		case do == "mirror":
			if err = s.mirrorPart(c, &p, int64(number(c.PostForm("piece"), 0))); err == nil {
				err = s.saveProject(c, stored.ID, p)
			}
		default:
			if err = s.changed(c, &p, do); err == nil {
				err = s.saveProject(c, stored.ID, p)
			}
		}
		if err != nil {
			s.fail(c, err)
			return
		}
		c.Redirect(303, fmt.Sprintf("/projects/%d", stored.ID))
	})
}

func (s *Server) saveProject(c *gin.Context, id int64, p project.Project) error {
	doc, err := json.Marshal(p)
	if err != nil {
		return err
	}
	return s.store.SaveProject(c.Request.Context(), id, c.PostForm("state"), p.Name, doc)
}

func (s *Server) changed(c *gin.Context, p *project.Project, do string) error {
	no := number(c.PostForm("no"), 0)
	switch do {
	case "name":
		if p.Name = strings.TrimSpace(c.PostForm("name")); p.Name == "" || len(p.Name) > piece.MaxText {
			return inputError{fmt.Errorf("a project has a name, of at most %d characters", piece.MaxText)}
		}
	case "add":
		id := int64(number(c.PostForm("piece"), 0))
		if _, err := s.store.Piece(c.Request.Context(), id); err != nil {
			return err
		}
		if slices.ContainsFunc(p.Parts, func(part project.Member) bool { return part.Piece == id }) {
			return inputError{fmt.Errorf("the piece belongs to it already")}
		}
		p.Parts = append(p.Parts, project.Member{Piece: id})
	case "drop":
		id := int64(number(c.PostForm("piece"), 0))
		p.Parts = slices.DeleteFunc(p.Parts, func(part project.Member) bool { return part.Piece == id })
		p.Seams = slices.DeleteFunc(p.Seams, func(m project.Seam) bool { return m.A.Piece == id || m.B.Piece == id })
	case "seam":
		a, errA := endOf(c.PostForm("a"))
		b, errB := endOf(c.PostForm("b"))
		if errA != nil || errB != nil || a == b {
			return inputError{fmt.Errorf("a seam takes two edges")}
		}
		how := c.PostForm("how")
		if !slices.ContainsFunc(project.Hows, func(w piece.Word) bool { return w.Value == how }) {
			return inputError{fmt.Errorf("%q is no way in which edges meet", how)}
		}
		p.Seams = append(p.Seams, project.Seam{A: a, B: b, How: how})
	case "unseam", "earlier":
		if no < 1 || no > len(p.Seams) {
			return inputError{fmt.Errorf("seam %d: there are %d", no, len(p.Seams))}
		}
		if do == "unseam" {
			p.Seams = slices.Delete(p.Seams, no-1, no)
		} else if no > 1 {
			p.Seams[no-2], p.Seams[no-1] = p.Seams[no-1], p.Seams[no-2]
		}
	case "ball":
		b := project.Ball{Yarn: c.PostForm("yarn"), Have: number(c.PostForm("have"), 0)}
		b.Grams, _ = strconv.ParseFloat(strings.Replace(c.PostForm("grams"), ",", ".", 1), 64)
		if b.Grams < 0 || b.Grams > 10000 || b.Have < 0 || b.Have > 10000 || b.Yarn == "" {
			return inputError{fmt.Errorf("a ball weighs up to 10000 g, and at most 10000 are at hand")}
		}
		p.Balls = slices.DeleteFunc(p.Balls, func(o project.Ball) bool { return o.Yarn == b.Yarn })
		p.Balls = append(p.Balls, b)
	default:
		return inputError{fmt.Errorf("%q is no way to change a project", do)}
	}
	return nil
}

func endOf(text string) (e project.End, err error) {
	id, edge, ok := strings.Cut(text, "/")
	if e.Piece, err = strconv.ParseInt(id, 10, 64); err != nil || !ok || edge == "" {
		return e, fmt.Errorf("%q is no edge", text)
	}
	e.Edge = edge
	return e, nil
}

// shareSwatch gives the swatch of one piece to all others of a project; what is knitted of them stays.
func (s *Server) shareSwatch(c *gin.Context, p project.Project, from int64) error {
	d, err := s.open(c.Request.Context(), from)
	if err != nil {
		return err
	}
	var doc struct{ Swatch, Gauge map[string]any }
	if err := json.Unmarshal(d.stored.Doc, &doc); err != nil {
		return err
	}
	for _, part := range p.Parts {
		if part.Piece == from {
			continue
		}
		var changes []edit.Change
		if doc.Swatch != nil {
			changes = edit.Set(edit.Member("swatch"), doc.Swatch)
		} else if doc.Gauge != nil {
			changes = edit.Set(edit.Member("gauge"), doc.Gauge)
		}
		stored, err := s.store.Piece(c.Request.Context(), part.Piece)
		if err != nil {
			return err
		}
		if err := s.write(c, part.Piece, edit.Edit{Kind: edit.Places, On: stored.Rev,
			Label: "the swatch of " + d.head().Name, Changes: changes}); err != nil {
			return err
		}
	}
	return nil
}

// mirrorPart adds the mirror image of a piece as a piece of its own.
func (s *Server) mirrorPart(c *gin.Context, p *project.Project, from int64) error {
	d, err := s.open(c.Request.Context(), from)
	if err != nil {
		return err
	}
	changes, err := edit.Mirrored(d.piece, d.head().Name+", mirrored")
	if err != nil {
		return inputError{err}
	}
	doc, err := edit.Parse(d.stored.Doc)
	if err != nil {
		return err
	}
	if _, err := doc.Apply(changes); err != nil {
		return err
	}
	id, err := s.store.Add(c.Request.Context(), doc.JSON())
	if err != nil {
		return err
	}
	p.Parts = append(p.Parts, project.Member{Piece: id, MirrorOf: from})
	return nil
}

// putProjectAway hides a project, or brings it back.
func (s *Server) putProjectAway(c *gin.Context) {
	id, err := pieceID(c)
	back := c.PostForm("away") == "no"
	if err == nil {
		err = s.store.PutProjectAway(c.Request.Context(), id, !back)
	}
	switch {
	case err != nil:
		s.fail(c, err)
	case back:
		c.Redirect(303, fmt.Sprintf("/projects/%d", id))
	default:
		c.Redirect(303, fmt.Sprintf("/projects?away=%d", id))
	}
}
