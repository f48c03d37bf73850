package web

import (
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/beside"
	"vindel/knit/edit"
	"vindel/knit/piece"
	"vindel/knit/recipe"
	"vindel/knit/technique"
)

// samplerView is the page on which the samples of a sampler are measured and compared.
type samplerView struct {
	Page   Page
	ID     int64
	Of     *sectionOf // the piece it was made from; nil: it is not known any more
	Rows   []sampleRow
	Recipe bool
}

// sectionOf is a section of another piece.
type sectionOf struct {
	Piece   int64
	Section int
	Name    string
	Width   int // stitches
	Height  int // rows of fabric
}

// sampleRow is one sample: what is typed, and what comes of it.
type sampleRow struct {
	No         int
	Name, Size string
	Knitted    string // which passes it is
	Typed      []field
	Gauge      string
	Wide, Tall string // of the piece it is for
	GramsEach  string
	Measured   bool
	Mine       bool
}

// samplerOf is the setting that says of which piece and section a sampler is.
func samplerOf(id int64) string { return fmt.Sprint("sampler-of:", id) }

// makeSampler makes a sampler of a section: in several sizes, or of the variants of its recipe.
func (s *Server) makeSampler(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		no := number(c.PostForm("section"), 1)
		if no < 1 || no > len(d.piece.Sections) {
			s.fail(c, inputError{fmt.Errorf("section %d: there are %d", no, len(d.piece.Sections))})
			return
		}
		sec := d.piece.Section(no)
		var bands []edit.Band
		if c.PostForm("of") == "variants" {
			for _, with := range sec.Variants {
				bands = append(bands, edit.Band{Name: withWords(with), With: with})
			}
		} else {
			for _, size := range strings.FieldsFunc(c.PostForm("sizes"), func(r rune) bool {
				return r == ',' ||
					r == ' ' || r == ';'
			}) {
				bands = append(bands, edit.Band{Name: "size " + size, Size: size})
			}
		}
		if len(bands) < 2 || len(bands) > 12 {
			s.fail(c, inputError{fmt.Errorf("a sampler has 2 to 12 samples; here are %d", len(bands))})
			return
		}
		marker := piece.YarnNo(len(d.piece.Yarns))
		for i := range d.piece.Yarns {
			if string(d.piece.Yarns[i].ID) == c.PostForm("marker") {
				marker = piece.YarnNo(i + 1)
			}
		}
		doc, err := edit.Parse(d.stored.Doc)
		p := d.piece
		if err == nil && len(p.Yarns) == 1 { // the rows between want a yarn of their own
			var more []edit.Change
			if more, err = edit.AddYarn(p); err == nil {
				if _, err = doc.Apply(more); err == nil {
					p, err = technique.Piece(doc)
					marker = 2
				}
			}
		}
		if err == nil {
			doc, err = edit.Sampler(p, doc, no, bands, marker)
		}
		if err == nil {
			if _, err = technique.Piece(doc); err != nil {
				err = fmt.Errorf("as a sampler it cannot be read: %w; a recipe that starts bare stands alone", err)
			}
		}
		if err != nil {
			s.fail(c, inputError{err})
			return
		}
		ctx := c.Request.Context()
		id, err := s.store.Add(ctx, doc.JSON())
		if err == nil {
			err = s.store.SetSetting(ctx, samplerOf(id), fmt.Sprintf("%d/%d", d.stored.ID, no))
		}
		if err != nil {
			s.fail(c, err)
			return
		}
		goTo(c, fmt.Sprintf("/pieces/%d/sampler", id))
	})
}

// origin is the piece that a sampler was made from, nil where it is gone.
func (s *Server) origin(c *gin.Context, id int64) (*opened, int) {
	text, _ := s.store.Setting(c.Request.Context(), samplerOf(id))
	piece, section, _ := strings.Cut(text, "/")
	of, no := number(piece, 0), number(section, 0)
	if of == 0 {
		return nil, 0
	}
	d, err := s.open(c.Request.Context(), int64(of))
	if err != nil || no < 1 || no > len(d.piece.Sections) {
		return nil, 0
	}
	return d, no
}

func (s *Server) sampler(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		v := samplerView{Page: s.piecePage(c, d, "prepare"), ID: d.stored.ID}
		from, no := s.origin(c, d.stored.ID)
		if from != nil {
			v.Of = &sectionOf{Piece: from.stored.ID, Section: no, Name: from.head().Name,
				Width:  int(from.piece.To-from.piece.From) + 1,
				Height: len(from.result.Fabric.Courses)}
		}
		for _, k := range edit.Samples(d.piece) {
			v.Recipe = v.Recipe || d.piece.Section(k).Technique.OwnRows
			v.Rows = append(v.Rows, d.sampleRow(k, v.Of, from))
		}
		s.render(c, "sampler", v)
	})
}

// sampleRow is a sample with what was measured, and what the piece would measure by it.
func (d *opened) sampleRow(no int, of *sectionOf, from *opened) sampleRow {
	sec := d.piece.Section(no)
	sw, g := &sec.Swatch, sec.Swatch.Gauge()
	at := edit.Section(no).To("swatch")
	row := sampleRow{No: no, Name: sec.Title(), Size: sec.Size, Measured: sw.Known()}
	row.Knitted, _ = beside.SectionWords(d.result.Plan, no)
	add := func(key, label string, v float64) {
		row.Typed = append(row.Typed, field{at.To(key), edit.AsMeasure, label, measured(v), ""})
	}
	add("stitches", "stitches", sw.Stitches)
	add("width_mm", "mm wide", sw.WidthMM)
	add("rows", "rows", sw.Rows)
	if sec.Technique.OwnRows {
		add("rounds", "rounds", sw.Rounds)
	}
	add("height_mm", "mm tall", sw.HeightMM)
	add("grams", "grams", sw.Grams)
	figure := func(v float64, format string) string {
		if v == 0 {
			return ""
		}
		return fmt.Sprintf(format, v)
	}
	if g.Stitches > 0 || g.Rows > 0 {
		row.Gauge = strings.Trim(figure(g.Stitches, "%.1f st")+" × "+figure(g.Rows, "%.1f rows"), " ×")
	}
	if of != nil {
		wide, tall := sw.Measures(of.Width, of.Height)
		row.Wide, row.Tall = figure(wide, "%.0f mm"), figure(tall, "%.0f mm")
		if from != nil {
			now := from.piece.Swatch
			row.Mine = sw.Known() && now.Stitches == sw.Stitches && now.WidthMM == sw.WidthMM && now.Rows == sw.Rows &&
				now.HeightMM == sw.HeightMM && now.Size == sec.Size
		}
	}
	grams, round := sw.StitchGrams()
	if row.GramsEach = figure(1000*grams, "%.2f g"); grams > 0 && round {
		row.GramsEach += " a round"
	}
	return row
}

// takeSwatch makes what was measured on a sample the swatch of the piece that the sampler is for.
func (s *Server) takeSwatch(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		no := number(c.PostForm("section"), 0)
		from, _ := s.origin(c, d.stored.ID)
		if no < 1 || no > len(d.piece.Sections) || from == nil {
			s.fail(c, inputError{fmt.Errorf("the piece that this sampler was made from is gone")})
			return
		}
		sec := d.piece.Section(no)
		sw := map[string]any{"technique": sec.Technique.Name}
		for key, v := range map[string]float64{"stitches": sec.Swatch.Stitches, "width_mm": sec.Swatch.WidthMM,
			"rows":   sec.Swatch.Rows,
			"rounds": sec.Swatch.Rounds, "height_mm": sec.Swatch.HeightMM, "grams": sec.Swatch.Grams} {
			if v > 0 {
				sw[key] = v
			}
		}
		if sec.Size != "" {
			sw["size"] = sec.Size
		}
		changes := edit.TakeSwatch(sw)
		if sec.Size != "" {
			for i := range from.piece.Sections {
				if from.piece.Sections[i].Technique == sec.Technique {
					changes = append(changes, edit.Set(edit.Section(i+1).To("size"), sec.Size)...)
				}
			}
		}
		err := s.write(c, from.stored.ID, edit.Edit{Kind: edit.Settings, On: from.stored.Rev,
			Label: "take the swatch " + sec.Title(), Changes: changes})
		if err != nil {
			s.fail(c, err)
			return
		}
		c.Redirect(http.StatusSeeOther, "/pieces/"+strconv.FormatInt(d.stored.ID, 10)+"/sampler")
	})
}

// sizesAround are stitch sizes to sample: the section's own and its neighbours.
func sizesAround(sec *piece.Section) string {
	tenths, err := recipe.Tenths(strings.Trim(sec.Size, `"`))
	if err != nil {
		tenths = 60
	}
	return fmt.Sprintf("%s, %s, %s", recipe.Figures(max(tenths-10, 0)), recipe.Figures(tenths),
		recipe.Figures(tenths+10))
}
