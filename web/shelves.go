package web

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/jpeg"
	"io"
	"math"
	"net/http"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"
	"golang.org/x/image/draw"

	"vindel/knit/card"
	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/measure"
	"vindel/knit/piece"
	"vindel/knit/sketch"
	"vindel/store"
)

// What is kept beside the pieces: yarns in hand, swatches that were measured, and what the consoles keep.

// amountOf reads a number of a form that is not negative, with a point or a comma; empty: 0.
func amountOf(c *gin.Context, name, words string) (float64, error) {
	text := strings.TrimSpace(c.PostForm(name))
	if text == "" {
		return 0, nil
	}
	n, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64)
	if err != nil || !(n >= 0 && n <= 1e6) {
		return 0, inputError{fmt.Errorf("%s, %q: a number is needed, such as 12.5", words, text)}
	}
	return n, nil
}

// named reads a text of a form that must be there and not be too long.
func named(c *gin.Context, name, words string, needed bool) (string, error) {
	text := strings.TrimSpace(c.PostForm(name))
	if text == "" && needed || len(text) > piece.MaxText {
		return "", inputError{fmt.Errorf("%s: a few words are needed, at most %d characters", words, piece.MaxText)}
	}
	return text, nil
}

var sixDigits = regexp.MustCompile(`^#[0-9a-fA-F]{6}$`)

type yarnsView struct {
	Page  Page
	Yarns []shelfYarn
	New   shelfYarn
}

// shelfYarn is a yarn of the shelf: what is typed, and what finished pieces have taken of it.
type shelfYarn struct {
	store.Yarn
	Ball, Length, InHand string
	Used                 string
	Left                 string // by weight, of what is in hand
}

// yarns shows the shelf of yarns.
func (s *Server) yarns(c *gin.Context) {
	list, err := s.store.Yarns(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	used, err := s.used(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	v := yarnsView{Page: s.page(c, "Yarns"), New: shelfYarn{Yarn: store.Yarn{Colour: "#8a9a5b"}}}
	for _, y := range list {
		one := shelfYarn{Yarn: y, Ball: measured(y.Grams), Length: measured(y.Metres), InHand: measured(y.Balls)}
		if u := used[strings.ToLower(y.Name)]; u != nil {
			one.Used = fmt.Sprintf("%.0f g in %s", u.grams, strings.Join(u.pieces, ", "))
		}
		if y.Grams > 0 && y.Balls > 0 {
			one.Left = fmt.Sprintf("%.0f g", y.Grams*y.Balls)
			if y.Metres > 0 {
				one.Left += fmt.Sprintf(", %.0f m", y.Metres*y.Balls)
			}
		}
		v.Yarns = append(v.Yarns, one)
	}
	s.render(c, "yarns", v)
}

// usedYarn is what the finished pieces have taken of a yarn.
type usedYarn struct {
	grams  float64
	pieces []string
}

// used is, by the name of a yarn in small letters, what pieces that are knitted to the last pass have taken of it.
func (s *Server) used(ctx context.Context) (map[string]*usedYarn, error) {
	shelf, err := s.store.Shelf(ctx, made)
	if err != nil {
		return nil, err
	}
	out := map[string]*usedYarn{}
	for i := range shelf {
		if shelf[i].At.Done == 0 {
			continue
		}
		d, err := s.open(ctx, shelf[i].ID)
		if err != nil || d.done(shelf[i].At) < len(d.result.Plan.Passes) {
			continue
		}
		for _, u := range measure.Of(d.result.Plan).Yarns {
			name := strings.ToLower(d.piece.YarnName(u.No))
			if !u.Weighed {
				continue
			}
			if out[name] == nil {
				out[name] = &usedYarn{}
			}
			out[name].grams += u.Grams
			out[name].pieces = append(out[name].pieces, d.piece.Name)
		}
	}
	return out, nil
}

// setYarn puts a yarn on the shelf, alters it, or takes it off.
func (s *Server) setYarn(c *gin.Context) {
	id, err := strconv.ParseInt(c.DefaultPostForm("id", "0"), 10, 64)
	if err == nil && c.PostForm("do") == "drop" {
		err = s.store.DropYarn(c.Request.Context(), id)
	} else if err == nil {
		y := store.Yarn{ID: id, Colour: c.PostForm("colour")}
		if !sixDigits.MatchString(y.Colour) {
			err = inputError{fmt.Errorf("colour, %q: six digits, such as #8a9a5b", y.Colour)}
		}
		for _, f := range []struct {
			name, words string
			to          *float64
		}{{"grams", "a ball weighs", &y.Grams}, {"metres", "a ball is long", &y.Metres}, {"balls", "balls in hand",
			&y.Balls}} {
			if err == nil {
				*f.to, err = amountOf(c, f.name, f.words)
			}
		}
		if err == nil {
			y.Name, err = named(c, "name", "the yarn's name", true)
		}
		if err == nil {
			y.Note, err = named(c, "note", "the note", false)
		}
		if err == nil {
			err = s.store.SaveYarn(c.Request.Context(), y)
		}
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/yarns")
}

// fromShelf gives a yarn of a piece what the shelf knows of it: its ball, its colour and what is in hand.
func (s *Server) fromShelf(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		no, id := number(c.PostForm("yarn"), 0), int64(number(c.PostForm("shelf"), 0))
		list, err := s.store.Yarns(c.Request.Context())
		i := slices.IndexFunc(list, func(y store.Yarn) bool { return y.ID == id })
		if err == nil && (no < 1 || no > len(d.piece.Yarns) || i < 0) {
			err = inputError{fmt.Errorf("yarn %d of the piece, yarn %d of the shelf: there is none", no, id)}
		}
		if err != nil {
			s.fail(c, err)
			return
		}
		y, at := list[i], edit.Member("yarns").At(no-1)
		e := edit.Edit{Label: "take " + y.Name + " from the shelf", Changes: slices.Concat(edit.Set(at.To("name"),
			y.Name), edit.Set(at.To("colour"), y.Colour),
			edit.Set(at.To("have"), int(math.Floor(y.Balls))))}
		if y.Grams > 0 {
			ball := map[string]any{"grams": y.Grams}
			if y.Metres > 0 {
				ball["metres"] = y.Metres
			}
			e.Changes = append(e.Changes, edit.Set(at.To("ball"), ball)...)
		}
		s.change(c, d.stored.ID, e)
	})
}

type swatchesView struct {
	Page       Page
	Swatches   []swatchView
	Techniques []piece.Word
	Machines   []machineChoice
}

// swatchView is a swatch as its page shows it.
type swatchView struct {
	store.Swatch
	Gauge, Measured string
}

func viewOf(w store.Swatch) swatchView {
	sw := piece.Swatch{Stitches: w.Stitches, WidthMM: w.WidthMM, Rows: w.Rows, HeightMM: w.HeightMM}
	g := sw.Gauge()
	v := swatchView{Swatch: w, Gauge: fmt.Sprintf("%s stitches, %s rows in 10 cm",
		orNone(math.Round(g.Stitches*10)/10), orNone(math.Round(g.Rows*10)/10)),
		Measured: fmt.Sprintf("%s stitches over %s mm, %s rows over %s mm", measured(w.Stitches),
			measured(w.WidthMM), measured(w.Rows), measured(w.HeightMM))}
	if w.Grams > 0 {
		v.Measured += fmt.Sprintf(", %s g", measured(w.Grams))
	}
	return v
}

// swatches shows the swatches that were kept.
func (s *Server) swatches(c *gin.Context) {
	list, err := s.store.Swatches(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	v := swatchesView{Page: s.page(c, "Swatches"), Techniques: techniqueWords()}
	if v.Machines, err = s.machineChoices(c); err != nil {
		s.fail(c, err)
		return
	}
	for _, w := range list {
		v.Swatches = append(v.Swatches, viewOf(w))
	}
	s.render(c, "swatches", v)
}

const photoSide = 900 // pixels of the longer side of a photograph that is kept

// photo is a photograph made small, as a JPEG; nil where the form brings none.
func (s *Server) photo(c *gin.Context) ([]byte, error) {
	file, _, err := c.Request.FormFile("photo")
	if err != nil {
		return nil, nil
	}
	defer file.Close()
	data, err := io.ReadAll(file)
	if err != nil || len(data) == 0 {
		return nil, err
	}
	w, h, err := sketch.PictureSize(data)
	if err != nil {
		return nil, inputError{err}
	}
	if err := s.pictures.soon(c.Request.Context()); err != nil {
		return nil, err
	}
	defer s.pictures.give()
	img, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, inputError{fmt.Errorf("the photograph cannot be read: %w", err)}
	}
	if most := max(w, h); most > photoSide {
		w, h = max(1, w*photoSide/most), max(1, h*photoSide/most)
	}
	small := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.ApproxBiLinear.Scale(small, small.Bounds(), img, img.Bounds(), draw.Src, nil)
	var b bytes.Buffer
	err = jpeg.Encode(&b, small, &jpeg.Options{Quality: 82})
	return b.Bytes(), err
}

// addSwatch keeps a swatch, or throws one away.
func (s *Server) addSwatch(c *gin.Context) {
	if c.PostForm("do") == "drop" {
		if err := s.store.DropSwatch(c.Request.Context(), int64(number(c.PostForm("id"), 0))); err != nil {
			s.fail(c, err)
			return
		}
		c.Redirect(http.StatusSeeOther, "/swatches")
		return
	}
	w, err := swatchOf(c)
	var photo []byte
	if err == nil {
		photo, err = s.photo(c)
	}
	if err == nil {
		err = s.store.AddSwatch(c.Request.Context(), w, photo)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/swatches")
}

func swatchOf(c *gin.Context) (w store.Swatch, err error) {
	for _, f := range []struct {
		name, words string
		to          *float64
		needed      bool
	}{{"stitches", "stitches counted", &w.Stitches, true}, {"width_mm", "over so many mm", &w.WidthMM, true},
		{"rows", "rows counted", &w.Rows, true},
		{"height_mm", "over so many mm upwards", &w.HeightMM, true}, {"grams", "it weighs", &w.Grams, false}} {
		if *f.to, err = amountOf(c, f.name, f.words); err != nil {
			return w, err
		}
		if f.needed && *f.to == 0 {
			return w, inputError{fmt.Errorf("%s: a number is needed", f.words)}
		}
	}
	for _, f := range []struct {
		name, words string
		to          *string
		needed      bool
	}{{"yarn", "the yarn", &w.Yarn, true}, {"machine", "the machine", &w.Machine, true}, {"size", "the stitch size",
		&w.Size, false},
		{"technique", "the technique", &w.Technique, false}, {"note", "the note", &w.Note, false}} {
		if *f.to, err = named(c, f.name, f.words, f.needed); err != nil {
			return w, err
		}
	}
	return w, nil
}

func (s *Server) swatchPhoto(c *gin.Context) {
	n, kind := file(c)
	data, err := s.store.SwatchPhoto(c.Request.Context(), int64(n))
	if kind != "jpg" {
		err = store.ErrNone
	}
	s.send(c, "jpg", data, err)
}

// swatchInPiece takes a swatch that was kept for a piece, or keeps the piece's own.
func (s *Server) swatchInPiece(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		p := d.piece
		if c.PostForm("do") == "keep" {
			sw := &p.Swatch
			w := store.Swatch{Yarn: p.YarnName(max(sw.Yarn, 1)), Machine: p.Machine.Name, Size: sw.Size,
				Technique: sw.Technique, Stitches: sw.Stitches,
				WidthMM: sw.WidthMM, Rows: sw.Rows, HeightMM: sw.HeightMM, Grams: sw.Grams, Note: "from " + p.Name}
			err := error(inputError{fmt.Errorf("the swatch is not measured yet: stitches and rows, and over " +
				"how many mm")})
			if w.Stitches > 0 && w.Rows > 0 && w.WidthMM > 0 && w.HeightMM > 0 {
				err = s.store.AddSwatch(c.Request.Context(), w, nil)
			}
			if err != nil {
				s.fail(c, err)
				return
			}
			c.Redirect(http.StatusSeeOther, "/swatches")
			return
		}
		list, err := s.store.Swatches(c.Request.Context())
		i := slices.IndexFunc(list, func(w store.Swatch) bool { return w.ID == int64(number(c.PostForm("swatch"), 0)) })
		if err == nil && i < 0 {
			err = inputError{fmt.Errorf("there is no such swatch any more")}
		}
		if err != nil {
			s.fail(c, err)
			return
		}
		w := list[i]
		doc := map[string]any{"stitches": w.Stitches, "width_mm": w.WidthMM, "rows": w.Rows, "height_mm": w.HeightMM}
		if w.Grams > 0 {
			doc["grams"] = w.Grams
		}
		if w.Size != "" {
			doc["size"] = w.Size
		}
		if slices.ContainsFunc(techniqueWords(), func(t piece.Word) bool { return t.Value == w.Technique }) {
			doc["technique"] = w.Technique
		}
		s.change(c, d.stored.ID, edit.Edit{Label: "take a swatch from the shelf",
			Changes: edit.Set(edit.Member("swatch"), doc)})
	})
}

type memoryView struct {
	Page     Page
	Machines []memoryOf
}

// memoryOf is what one console keeps, and what room is left in it, where that is known.
type memoryOf struct {
	Machine       string
	Designs       []store.Design
	Cells, Room   int
	Left, Percent int
	Over          bool
}

// memory shows what the consoles keep.
func (s *Server) memory(c *gin.Context) {
	list, err := s.store.Memory(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	rooms, err := s.rooms(c)
	if err != nil {
		s.fail(c, err)
		return
	}
	v := memoryView{Page: s.page(c, "In the consoles")}
	for _, d := range list {
		if n := len(v.Machines); n == 0 || v.Machines[n-1].Machine != d.Machine {
			v.Machines = append(v.Machines, memoryOf{Machine: d.Machine, Room: rooms[d.Machine]})
		}
		m := &v.Machines[len(v.Machines)-1]
		m.Designs = append(m.Designs, d)
		m.Cells += d.Width * d.Height
	}
	for i := range v.Machines {
		if m := &v.Machines[i]; m.Room > 0 {
			m.Left, m.Percent, m.Over = m.Room-m.Cells, min(100, 100*m.Cells/m.Room), m.Cells > m.Room
		}
	}
	s.render(c, "memory", v)
}

// rooms is how many cells the consoles of the machines that are known keep, by name.
func (s *Server) rooms(c *gin.Context) (map[string]int, error) {
	list, err := s.machineChoices(c)
	if err != nil {
		return nil, err
	}
	out := map[string]int{}
	for _, m := range list {
		if p, err := piece.ReadMachine(m.Doc); err == nil && p.Program == machine.Electronic {
			out[p.Name] = p.Stitches
		}
	}
	return out, nil
}

// forget takes a design out of a console.
func (s *Server) forget(c *gin.Context) {
	if err := s.store.Forget(c.Request.Context(), c.PostForm("machine"), c.PostForm("number")); err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/memory")
}

// remember notes under which number of hers a drawing of a section's program is kept.
func (s *Server) remember(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		section, drawing := number(c.PostForm("section"), 0), number(c.PostForm("drawing"), 0)
		no, err := named(c, "number", "the number", true)
		if err == nil && (d.piece.Machine.Program != machine.Electronic || section < 1 ||
			section > len(d.piece.Sections) || d.result.Plan.LinesOf(section) == 0) {
			err = store.ErrNone
		}
		if err == nil {
			keyed := card.MakeProgram(d.result.Plan, section).Keyed()
			if drawing < 1 || drawing > len(keyed) {
				err = store.ErrNone
			} else {
				of := &keyed[drawing-1]
				name := d.piece.Name + ", " + d.piece.Section(section).Title()
				if of.Chart != "" {
					name += ", " + of.Chart
				}
				err = s.store.Remember(c.Request.Context(), store.Design{Machine: d.piece.Machine.Name, Number: no,
					Piece: d.stored.ID, Name: name,
					Width: of.Bits.W, Height: of.Bits.H})
			}
		}
		if err != nil {
			s.fail(c, err)
			return
		}
		c.Redirect(http.StatusSeeOther, "/memory")
	})
}
