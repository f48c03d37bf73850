package piece

import (
	"maps"
	"slices"
	"strconv"
	"strings"

	"vindel/knit/chart"
	"vindel/knit/machine"
)

// MachineField is one field that a piece file may override in a machine: how it is read,
// and how its owner is asked for it.
type MachineField struct {
	Key, Label, Unit string // no label: it is not asked for
	Words            []Word // what it may be; nil: typed
	Value            func(m *machine.Profile) string
	For              func(m *machine.Profile) bool // the machines it means something on; nil: all

	read  func(r *reader, n node, m *machine.Profile)
	typed func(text string) any // as the file has it
}

// Typed is what was typed as the file has it: a number, a yes or no, a word.
func (f *MachineField) Typed(text string) any { return f.typed(strings.TrimSpace(text)) }

// Machines by what drives their selection.
func byHand(m *machine.Profile) bool     { return m.Program == machine.NoProgram }
func byCard(m *machine.Profile) bool     { return m.Program == machine.PunchCard }
func byProgram(m *machine.Profile) bool  { return m.Program == machine.Electronic }
func selects(m *machine.Profile) bool    { return m.Selects() }
func purls(m *machine.Profile) bool      { return m.PurlCarriage }
func lays(m *machine.Profile) bool       { return m.Intarsia }
func places(m *machine.Profile) bool     { return byProgram(m) && !m.Flat }
func programmed(m *machine.Profile) bool { return m.Program != machine.NoProgram }

// MachineFields is the table by which machines are read and their pages made, in the order
// in which an owner is asked.
var MachineFields = []MachineField{
	{Key: "needles", Label: "Needles", Value: func(m *machine.Profile) string { return strconv.Itoa(int(m.Bed)) },
		typed: number,
		read: func(_ *reader, n node, m *machine.Profile) {
			if m.Bed = machine.Bed(n.whole(2, machine.MaxBed)); m.Bed%2 != 0 {
				n.fail("%d: a bed has an even number of needles", m.Bed)
			}
		}},
	{Key: "pitch_mm", Label: "From needle to needle", Unit: "mm", typed: number,
		Value: func(m *machine.Profile) string { return strconv.FormatFloat(m.PitchMM, 'f', -1, 64) },
		read:  func(_ *reader, n node, m *machine.Profile) { m.PitchMM = n.number() }},
	usual("stitch_mm", func(m *machine.Profile) *float64 { return &m.StitchMM }),
	usual("row_mm", func(m *machine.Profile) *float64 { return &m.RowMM }),
	whole("beds", "", "", func(m *machine.Profile) *int { return &m.Beds }, 1, 2, nil),
	yes("second_bed", "May have a second bed", func(m *machine.Profile) *bool { return &m.MaySecond }, nil),
	{Key: "racks", typed: text, Value: func(m *machine.Profile) string { return "" },
		read: func(_ *reader, n node, m *machine.Profile) {
			if n.list() != 2 {
				n.fail("%s: the least and the highest position of the handle, such as [0, 10]", n.quoted())
				return
			}
			m.Racks = [2]int{n.index(0).whole(0, 100), n.index(1).whole(0, 100)}
			if m.Racks[1] < m.Racks[0] {
				n.fail("%s: the least comes first", n.quoted())
			}
		}},
	whole("rack_centre", "Handle of the second bed, centred at", "",
		func(m *machine.Profile) *int { return &m.RackCentre }, 0, 100,
		(*machine.Profile).HasSecond),
	whole("plated_step", "Plated, the second bed is larger by", "sizes",
		func(m *machine.Profile) *int { return &m.PlatedStep }, 0, 20,
		(*machine.Profile).HasSecond),
	whole("ticks", "", "", func(m *machine.Profile) *int { return &m.Ticks }, 1, 99, nil),
	{Key: "school", typed: text, Value: func(m *machine.Profile) string { return m.School.String() },
		read: func(_ *reader, n node, m *machine.Profile) {
			var err error
			if m.School, err = machine.ParseSchool(n.text()); err != nil {
				n.fail("%v", err)
			}
		}},
	feeders(),
	word("lace", "Lace", func(m *machine.Profile) *string { return &m.Lace }, nil,
		Word{"", "none"}, Word{"separate", "a lace carriage that transfers what it selected on the pass before"},
		Word{"combined", "a lace carriage that selects and transfers in one pass"}, Word{"hand", "by hand"}),
	yes("purl_carriage", "Purl carriage", func(m *machine.Profile) *bool { return &m.PurlCarriage }, nil),
	{Key: "purl_selects", Label: "It purls the needles of", Words: []Word{{"now", "the line that it reads"},
		{"ahead", "the line read before"}}, For: purls, typed: text,
		Value: func(m *machine.Profile) string { return map[bool]string{false: "now", true: "ahead"}[m.PurlAhead] },
		read:  func(_ *reader, n node, m *machine.Profile) { m.PurlAhead = n.word("now", "ahead") == "ahead" }},
	yes("weave", "Weaving guides", func(m *machine.Profile) *bool { return &m.Weave }, nil),
	yes("intarsia", "Knits yarns laid by hand", func(m *machine.Profile) *bool { return &m.Intarsia }, nil),
	yes("hold_disturbs", "Needles left in hold disturb the carriage",
		func(m *machine.Profile) *bool { return &m.HoldDisturbs }, nil),
	yes("empty_counts", "Its empty pass moves the counter", func(m *machine.Profile) *bool { return &m.EmptyCounts },
		lays),
	word("tuck_selected", "On tuck, needles forward", func(m *machine.Profile) *string { return &m.TuckSelected },
		nil,
		Word{"knit", "knit, those at rest tuck"}, Word{"tuck", "tuck, those at rest knit"}),
	word("weave_selected", "On weaving, needles forward", func(m *machine.Profile) *string { return &m.WeaveSel },
		nil,
		Word{"hidden", "hide the woven yarn"}, Word{"shown", "show it"}),
	yes("reset_each_pass", "Tucking needles are set again each pass",
		func(m *machine.Profile) *bool { return &m.ResetEach }, nil),
	{Key: "held_catch", Label: "Over a needle in full hold the yarn", Words: []Word{{"catches",
		"lies, and is knitted off later"},
		{"passes", "does not catch"}}, typed: text,
		Value: func(m *machine.Profile) string {
			return map[bool]string{false: "catches", true: "passes"}[m.HeldPasses]
		},
		read: func(_ *reader, n node, m *machine.Profile) { m.HeldPasses = n.word("catches", "passes") == "passes" }},
	{Key: "program_bed", Label: "The patterned bed is", Words: []Word{{"far", "away from you"},
		{"near", "nearest to you"}},
		For: programmed, typed: text,
		Value: func(m *machine.Profile) string { return map[bool]string{false: "far", true: "near"}[m.Near] },
		read:  func(_ *reader, n node, m *machine.Profile) { m.Near = n.word("far", "near") == "near" }},
	yes("end_switch", "A switch brings end needles forward",
		func(m *machine.Profile) *bool { return &m.EndSwitch }, selects),
	whole("comb", "Needles of the comb", "", func(m *machine.Profile) *int { return &m.Comb }, 0, 64, byHand),
	whole("columns", "Columns of the card, or widest program", "stitches",
		func(m *machine.Profile) *int { return &m.Columns }, 1, machine.MaxBed, programmed),
	whole("offset", "Lines between the one read and the one seen", "",
		func(m *machine.Profile) *int { return &m.Offset }, 0, 100, byCard),
	whole("loop", "Rows a card needs to close round the reader", "", func(m *machine.Profile) *int { return &m.Loop },
		1, 1000, byCard),
	word("overlap", "The two overlapping rows carry", func(m *machine.Profile) *string { return &m.Overlap }, byCard,
		Word{"copy", "the holes they cover"}, Word{"holes", "all holes"}),
	yes("joined", "A card is closed into a loop", func(m *machine.Profile) *bool { return &m.Joined }, byCard),
	{Key: "window", Label: "The card's window shows", Words: []Word{{"read", "the line read last"},
		{"next", "the line read next"}}, For: byCard, typed: text,
		Value: func(m *machine.Profile) string { return map[bool]string{false: "read", true: "next"}[m.ShowsNext] },
		read:  func(_ *reader, n node, m *machine.Profile) { m.ShowsNext = n.word("read", "next") == "next" }},
	whole("lead_in", "Rows past the click before line 1", "", func(m *machine.Profile) *int { return &m.LeadIn }, 0,
		100,
		byCard),
	{Key: "card_origin", Label: "Column 1 selects needle", For: byCard, typed: text,
		Value: func(m *machine.Profile) string { return m.CardOrigin.String() },
		read:  func(r *reader, n node, m *machine.Profile) { m.CardOrigin = r.needle(n, m.Bed) }},
	whole("rows_max", "Most program lines", "", func(m *machine.Profile) *int { return &m.RowsMax }, 0, 1e6,
		byProgram),
	whole("stitches_max", "Stitches in memory", "", func(m *machine.Profile) *int { return &m.Stitches }, 0, 1e9,
		byProgram),
	whole("areas_max", "Most separate areas", "", func(m *machine.Profile) *int { return &m.AreasMax }, 0, 1000,
		byProgram),
	{Key: "panel", Label: "The console", Words: []Word{{"places", "places drawings on needles itself"},
		{"flat", "wants every line of the bed"}}, For: byProgram, typed: text,
		Value: func(m *machine.Profile) string { return map[bool]string{false: "places", true: "flat"}[m.Flat] },
		read:  func(_ *reader, n node, m *machine.Profile) { m.Flat = n.word("places", "flat") == "flat" }},
	{Key: "panel_order", Label: "It asks, of an area, for", For: places, typed: listed,
		Value: func(m *machine.Profile) string { return strings.Join(m.PanelOrder, ", ") },
		read:  func(_ *reader, n node, m *machine.Profile) { m.PanelOrder = n.words(machine.PanelKeys...) }},
	{Key: "panel_words", Label: "Its words for ours, such as anchor = start, memo knit 2 = 5", For: places,
		typed: paired,
		Value: func(m *machine.Profile) string {
			var list []string
			for _, k := range slices.Sorted(maps.Keys(m.PanelWords)) {
				list = append(list, k+" = "+m.PanelWords[k])
			}
			return strings.Join(list, ", ")
		},
		read: func(_ *reader, n node, m *machine.Profile) {
			m.PanelWords = map[string]string{}
			for _, k := range n.members() {
				if !slices.Contains(panelWords, k) && !strings.HasPrefix(k, machine.MemoKey) {
					n.fail("unknown key %q; there are %s, and memos, such as %q", k, strings.Join(panelWords, ", "),
						machine.MemoKey+"knit 2")
					return
				}
				m.PanelWords[k] = n.at(k).short()
			}
		}},
	{Key: "panel_does", Label: "It turns drawings itself by", For: places, typed: listed,
		Value: func(m *machine.Profile) string { return strings.Join(m.PanelDoes, ", ") },
		read:  func(_ *reader, n node, m *machine.Profile) { m.PanelDoes = n.words(chart.Transforms...) }},
	{Key: "panel_each", Label: "It does so for", Words: []Word{{"true", "each area"},
		{"false", "all areas together"}}, For: places,
		typed: func(s string) any { return s == "true" },
		Value: func(m *machine.Profile) string { return strconv.FormatBool(!m.PanelAll) },
		read: func(_ *reader, n node, m *machine.Profile) {
			if _, word := n.value.(string); word {
				m.PanelAll = n.word("area", "all") == "all"
			} else {
				m.PanelAll = !n.yes()
			}
		}},
	yes("mirror_switch", "Has a switch that mirrors", func(m *machine.Profile) *bool { return &m.MirrorSwitch },
		byProgram),
	{Key: "controls", typed: text, Value: func(*machine.Profile) string { return "" }, // placed on a drawing, not typed
		read: func(_ *reader, n node, m *machine.Profile) { m.Controls = controls(n.value) }},
	{Key: "advances", typed: text, Value: func(m *machine.Profile) string { return strings.Join(m.Advances, " ") },
		read: func(_ *reader, n node, m *machine.Profile) {
			m.Advances = nil
			for i := range n.list() {
				m.Advances = append(m.Advances, n.index(i).word("knit", "lace", "purl"))
			}
		}},
}

func text(s string) any { return s }

// panelWords is what of a panel its owner may have a word of her own for.
var panelWords = slices.Concat(machine.PanelKeys, chart.Transforms, []string{"area", "blank", "none", "repeat"})

// listed is words typed with commas between them.
func listed(s string) any {
	list := []any{}
	for _, w := range strings.Split(s, ",") {
		if w = strings.TrimSpace(w); w != "" {
			list = append(list, w)
		}
	}
	return list
}

// paired is pairs typed as "ours = hers", with commas between them; what has no = is refused by the reader.
func paired(s string) any {
	pairs := map[string]any{}
	for _, w := range strings.Split(s, ",") {
		ours, hers, _ := strings.Cut(w, "=")
		if ours = strings.TrimSpace(ours); ours != "" {
			pairs[ours] = strings.TrimSpace(hers)
		}
	}
	return pairs
}

// number is a number as typed, which may have a comma; what is none stays text, and is
// refused by the reader.
func number(s string) any {
	if n, err := strconv.ParseFloat(strings.Replace(s, ",", ".", 1), 64); err == nil {
		return n
	}
	return s
}

func whole(key, label, unit string, at func(*machine.Profile) *int, least, most int,
	has func(*machine.Profile) bool) MachineField {
	return MachineField{Key: key, Label: label, Unit: unit, For: has, typed: number,
		Value: func(m *machine.Profile) string { return strconv.Itoa(*at(m)) },
		read:  func(_ *reader, n node, m *machine.Profile) { *at(m) = n.whole(least, most) }}
}

// usual is a size in mm that stitches have where no swatch is known.
func usual(key string, at func(*machine.Profile) *float64) MachineField {
	return MachineField{Key: key, typed: number,
		Value: func(m *machine.Profile) string { return "" },
		read:  func(_ *reader, n node, m *machine.Profile) { *at(m) = n.number() }}
}

func word(key, label string, at func(*machine.Profile) *string, has func(*machine.Profile) bool,
	words ...Word) MachineField {
	values := make([]string, len(words))
	for i, w := range words {
		values[i] = w.Value
	}
	return MachineField{Key: key, Label: label, Words: words, For: has, typed: text,
		Value: func(m *machine.Profile) string { return *at(m) },
		read:  func(_ *reader, n node, m *machine.Profile) { *at(m) = n.word(values...) }}
}

func yes(key, label string, at func(*machine.Profile) *bool, has func(*machine.Profile) bool) MachineField {
	return MachineField{Key: key, Label: label, Words: []Word{{"false", "no"}, {"true", "yes"}}, For: has,
		typed: func(s string) any { return s == "true" },
		Value: func(m *machine.Profile) string { return strconv.FormatBool(*at(m)) },
		read:  func(_ *reader, n node, m *machine.Profile) { *at(m) = n.yes() }}
}

func feeders() MachineField {
	f := whole("feeders", "Yarns in one pass", "", func(m *machine.Profile) *int { return &m.Feeders }, 1, 2, nil)
	f.Words = []Word{{"1", "one"}, {"2", "two"}}
	return f
}
