package weigh

import (
	"fmt"
	"slices"

	"vindel/knit/bed"
	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
)

// byOption is a choice between the words of an option of a section; the text of the one that stands comes first.
func byOption(title string, no int, key string, o *piece.Options) Choice {
	opt := piece.FindOption(key)
	c := Choice{Title: title, Ways: []Way{{}}}
	for _, w := range opt.Words {
		if w.Value == opt.Of(o) {
			c.Ways[0].Text = w.Text
		} else {
			c.Ways = append(c.Ways, Way{Text: w.Text, Changes: edit.SectionOption(no, key, w.Value)})
		}
	}
	return c
}

// sectionsOf are the sections of a piece that a test holds for, from 1.
func sectionsOf(p *piece.Piece, test func(s *piece.Section) bool) (list []int) {
	for i := range p.Sections {
		if test(&p.Sections[i]) {
			list = append(list, i+1)
		}
	}
	return list
}

// leads asks which yarn leads the first row of two, where rows are worked out and back (rules 5.2).
func leads(p *piece.Piece, r *check.Result) []Choice {
	if p.Machine.Feeders > 1 {
		return nil
	}
	for i := range r.Plan.Passes[:max(0, len(r.Plan.Passes)-1)] {
		out, back := &r.Plan.Passes[i], &r.Plan.Passes[i+1]
		if out.Section == 0 || !p.Section(out.Section).Technique.TwoPasses || out.Free || back.Row() != out.Row() ||
			back.Section != out.Section {
			continue
		}
		lead := func(y piece.YarnNo) Way {
			return Way{Text: p.YarnName(y) + " leads",
				Changes: edit.SectionOption(out.Section, "first_yarn", p.YarnID(y))}
		}
		mine := lead(out.Yarn(1))
		mine.Changes = nil
		return []Choice{{Title: fmt.Sprintf("Section %d: which yarn leads its first row of two", out.Section),
			Ways: []Way{mine, lead(back.Yarn(1))}}}
	}
	return nil
}

// farYarns asks what becomes of a yarn that hangs on the far side when a row of one colour wants it (rules 5.2).
func farYarns(p *piece.Piece, r *check.Result) (list []Choice) {
	if p.Machine.Feeders > 1 {
		return nil
	}
	for _, no := range sectionsOf(p, func(s *piece.Section) bool { return s.Technique.TwoPasses }) {
		list = append(list, byOption(fmt.Sprintf("Section %d: a yarn that hangs on the far side", no), no, "far_yarn",
			&p.Section(no).Options))
	}
	return list
}

// cut is a yarn that was cut in rows of the plan though it is wanted again.
type cut struct {
	section int // where it is taken up again
	yarn    piece.YarnNo
	times   int
	between []int // rows of the section that do without it
	starts  bool  // one of the times is the section's first row
}

// cutYarns asks whether yarns that are cut, and go on with a new end, could do without (rules 4, Threads).
func cutYarns(p *piece.Piece, r *check.Result) (list []Choice) {
	for _, c := range cutsOf(r.Plan) {
		s, name := p.Section(c.section), p.YarnName(c.yarn)
		one := Choice{saves: true,
			Title: fmt.Sprintf("Section %d: %s is cut %s, and goes on with a new end", c.section, name, often(c.times)),
			Ways: []Way{{Text: "cut, and darned in"},
				{Text: "carried along, however far", Changes: edit.SectionOption(c.section, "strand", "carry")}}}
		if c.starts && c.section > 1 {
			below := p.Section(c.section - 1)
			if !s.Free {
				one.Ways = append(one.Ways, Way{Text: "a free pass before the section", Changes: edit.FreePass(c.section)})
			}
			if below.Technique.Drawn == piece.Nothing && len(below.Stripes) == 0 && !below.Technique.OwnRows {
				rows := r.Plan.Section(c.section - 1).Rows
				one.Ways = append(one.Ways, Way{Text: fmt.Sprintf("one row more in section %d: %d", c.section-1, rows+1),
					Changes: edit.SectionRows(c.section-1, rows+1)})
				if rows > 1 {
					one.Ways = append(one.Ways, Way{Text: fmt.Sprintf("one row fewer in section %d: %d", c.section-1,
						rows-1), Changes: edit.SectionRows(c.section-1, rows-1)})
				}
			}
		}
		if placed := r.Plan.Section(c.section); len(c.between) > 0 && s.Technique.Drawn == piece.InYarns &&
			!s.Technique.Laid {
			var spots []bed.Spot
			for _, row := range c.between {
				if on := placed.Covered.And(placed.InWork(row)); !on.Empty() {
					spots = append(spots, bed.Spot{Needles: machine.SetOf(on.First()), Row: row})
				}
			}
			one.Ways = append(one.Ways, Way{Text: "an edge stitch of it in each row between, drawn in the chart",
				Changes: placed.Repaint(c.yarn, p, spots...)})
		}
		list = append(list, one)
	}
	return list
}

// often is how many times.
func often(n int) string {
	if n == 1 {
		return "once"
	}
	return fmt.Sprint(n, " times")
}

// cutsOf are the yarns that are cut and wanted again, by the section that wants them.
func cutsOf(pl *pass.Plan) (list []cut) {
	type out struct{ section, row int }
	gone := map[piece.YarnNo]out{}
	for i := range pl.Passes {
		p := &pl.Passes[i]
		for _, st := range p.Before {
			switch st := st.Step.(type) {
			case step.Unthread:
				if delete(gone, st.Yarn); st.Cut && i > 0 {
					gone[st.Yarn] = out{pl.Passes[i-1].Section, pl.Passes[i-1].Row()}
				}
			case step.Cut:
				if st.Bobbin == "" && i > 0 {
					gone[st.Yarn] = out{pl.Passes[i-1].Section, 0}
				}
			case step.Thread:
				from, was := gone[st.Yarn]
				if delete(gone, st.Yarn); !was || !st.Again || p.Section == 0 || p.Recipe > 0 {
					continue
				}
				k := slices.IndexFunc(list, func(c cut) bool { return c.section == p.Section && c.yarn == st.Yarn })
				if k < 0 {
					k, list = len(list), append(list, cut{section: p.Section, yarn: st.Yarn})
				}
				c := &list[k]
				c.times++
				c.starts = c.starts || p.Row() <= 1 && from.section != p.Section
				if from.section == p.Section && from.row > 0 {
					for row := from.row + 1; row < p.Row(); row++ {
						c.between = append(c.between, row)
					}
				}
			}
		}
	}
	return list
}

// freePasses asks for each free pass before a section whether it is wanted.
func freePasses(p *piece.Piece, r *check.Result) (list []Choice) {
	for _, no := range sectionsOf(p, func(s *piece.Section) bool { return s.Free }) {
		list = append(list, Choice{Title: fmt.Sprintf("Section %d: before it", no), Ways: []Way{
			{Text: "a free pass to the other side"}, {Text: "straight on", Changes: edit.NoFreePass(no)}}})
	}
	return list
}

// handTucks asks how needles tuck that fingers choose (rules 5.4): where the plan says what both ways cost.
func handTucks(p *piece.Piece, r *check.Result) (list []Choice) {
	for i := range r.Findings {
		if f := &r.Findings[i]; f.Code == finding.TuckWay {
			list = append(list, byOption(fmt.Sprintf("Section %d: its tucks", f.Section), f.Section, "hand_tucks",
				&p.Section(f.Section).Options))
		}
	}
	return list
}

// endNeedles asks how the end needles of patterned rows are kept where they knit (rules 1, End needles).
func endNeedles(p *piece.Piece, r *check.Result) (list []Choice) {
	if p.Machine.School == machine.ByHand {
		return nil
	}
	for _, no := range sectionsOf(p, func(s *piece.Section) bool { return s.Technique.IsPatterned(&p.Machine) }) {
		list = append(list, byOption(fmt.Sprintf("Section %d: its end needles", no), no, "end_needles",
			&p.Section(no).Options))
	}
	return list
}

// colourOrders asks in which order the colours of separated rows are knitted (rules 5.10).
func colourOrders(p *piece.Piece, r *check.Result) (list []Choice) {
	for _, no := range sectionsOf(p, func(s *piece.Section) bool { return s.Technique.Separates }) {
		list = append(list, byOption(fmt.Sprintf("Section %d: the order of its colours", no), no, "colours",
			&p.Section(no).Options))
	}
	return list
}

// selecting asks whether a pass that only selects knits a plain row (rules 1, Selection).
func selecting(p *piece.Piece, r *check.Result) (list []Choice) {
	if p.Machine.School != machine.Preselect {
		return nil
	}
	var seen [2]int
	for i := range r.Plan.Passes {
		made := &r.Plan.Passes[i]
		if no := made.Section; no > 0 && made.Row() == 0 && made.Line > 0 && made.Recipe == 0 && seen[0] != no {
			seen[0] = no
			list = append(list, byOption(fmt.Sprintf("Section %d: the pass that selects for its first row", no), no,
				"selecting", &p.Section(no).Options))
		}
	}
	return list
}
