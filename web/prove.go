package web

import (
	"fmt"

	"github.com/gin-gonic/gin"

	"vindel/knit/outline"
	"vindel/knit/words"
)

type proveView struct {
	Page     Page
	ID       int64
	Head     int
	Verdict  string
	Detail   string
	Good     bool
	Findings findingList
	Courses  int
	Wales    int
	Float    string
	Limit    int
	Beside   bool
	Faces    []faceView // the worn side first
	Cut      cutView
	CloseX   int // where the closer look begins, in stitches and rows of the worn side
	CloseY   int
	Eyelets  int
	Doubled  int
	Outline  *outlineView
	Assumed  assumedView
	Edges    []string // of a shaped piece, each with its length
}

func (s *Server) prove(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		f := d.result.Fabric
		v := proveView{Page: s.piecePage(c, d, "prove"), ID: d.stored.ID, Head: d.stored.Head,
			Courses: len(f.Courses), Wales: f.W, Limit: d.piece.FloatLimit(), Good: f.Matches(),
			Findings: d.keyed()}
		compared, meant := 0, 0
		for i := range d.result.Plan.Recipes {
			meant += len(d.result.Plan.Recipes[i].Run.Beds.Loops)
		}
		for _, course := range f.Courses {
			if course.Row > 0 && !course.Drawn() {
				compared += course.AtWork.Minus(course.Exempt).Len()
			}
		}
		switch {
		case v.Good:
			v.Verdict = "The fabric comes out as drawn"
			v.Detail = words.Count(len(d.result.Plan.Passes), "pass", "passes") + " knitted on the simulated bed, "
			if compared > 0 || meant == 0 {
				v.Detail += words.Count(compared, "stitch", "stitches") + " compared with the chart, "
			} else {
				v.Verdict = "The fabric comes out as it is meant"
			}
			if meant > 0 {
				v.Detail += words.Count(meant, "loop", "loops") + " with what the words mean, one by one, "
			}
			v.Detail += "no difference"
			if f.Exempt > 0 {
				v.Detail += fmt.Sprintf("; %d seam and end stitches do not follow it", f.Exempt)
			}
		case f.Differences > 0:
			v.Verdict = words.Count(f.Differences, "stitch differs", "stitches differ") + " from the chart"
			v.Detail = "The first: " + f.First
		default:
			v.Verdict = "The plan stops before the end"
			v.Detail = f.First
		}
		if f.Longest.Yarn != 0 {
			v.Float = fmt.Sprintf("%s, %s", words.Count(f.Longest.Stitches(), "stitch", "stitches"),
				d.piece.YarnName(f.Longest.Yarn))
		}
		v.Beside = 4*f.W < 5*len(f.Courses)
		v.Faces = proveFaces(d)
		v.Cut = d.cut(number(c.Query("section"), 0), number(c.Query("row"), 0))
		v.Eyelets, v.Doubled = f.Eyelets, f.Doubled
		if d.piece.Shape != nil {
			o := outline.Of(d.result.Plan)
			v.Outline = drawOutline(o, d.result.Plan, -1)
			v.Assumed = d.assumed()
			for _, e := range o.Edges {
				v.Edges = append(v.Edges, e.String())
			}
		}
		v.CloseX, v.CloseY = max(0, f.W/2-22), closeRow(d)
		s.render(c, "prove", v)
	})
}

// faceView is a face of the fabric as the page shows it.
type faceView struct {
	Name, Word, Says string // by which it is asked for, what it is called, and where it is while she knits
	Wales, Courses   int
}

// proveFaces are the faces of the fabric, the worn one first. Two-bed fabric has two knitted faces:
// where every row has the second bed behind it, the purl side of the main bed is not seen.
func proveFaces(d *opened) (list []faceView) {
	f, near := d.result.Fabric, d.piece.Machine.Near
	back := f.SecondFace()
	hidden := back != nil
	for i := range d.piece.Sections {
		hidden = hidden && d.piece.TwoBeds(&d.piece.Sections[i])
	}
	away := map[bool]string{true: "faces away from you while you knit", false: "faces you"}
	for _, name := range faces(d) {
		v := faceView{Name: name, Word: "Knit side", Says: away[!near], Wales: f.W, Courses: len(f.Courses)}
		if name == "purl" {
			if v.Word, v.Says = "Purl side", away[near]+"; floats and loops lie here"; hidden {
				continue
			}
		}
		list = append(list, v)
	}
	if back != nil {
		list = append(list, faceView{"second", "Second bed's side", "knitted too, and " + away[near], back.W,
			len(back.Courses)})
	}
	return list
}

// cutView is the row along which two-bed fabric is cut open; section 0: there is none.
type cutView struct {
	Section, Row, Rows int
	Name               string
}

// cut chooses the row to cut along: the one asked for, or the first of the first section that
// patterns on two beds, or of any on two.
func (d *opened) cut(section, row int) (v cutView) {
	for _, patterned := range []bool{true, false} {
		for _, s := range d.result.Plan.Placed {
			two := !s.Second.Empty() && s.Rows > 0 && (len(s.Section.Areas) > 0 || !patterned)
			if two && (section == s.No || section == 0 && v.Section == 0) {
				v = cutView{s.No, max(1, min(row, s.Rows)), s.Rows, s.Section.Title()}
			}
		}
	}
	return v
}

// closeRow is the first course (from 0) of the first patterned section, so that the closer
// look begins there.
func closeRow(d *opened) int {
	for i := range d.result.Fabric.Courses {
		if c := &d.result.Fabric.Courses[i]; c.Section > 0 && len(d.piece.Section(c.Section).Areas) > 0 {
			return max(0, min(i, len(d.result.Fabric.Courses)-26))
		}
	}
	return 0
}
