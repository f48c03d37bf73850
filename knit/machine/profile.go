package machine

import (
	"fmt"
	"strings"
)

// School is how needles get chosen (rules: Selection).
type School uint8

// The four schools of selection.
const (
	ByHand School = iota
	Preselect
	Direct
	Pairs
)

var schoolNames = [...]string{"hand", "preselect", "direct", "pairs"}

func (s School) String() string { return schoolNames[s] }

// ParseSchool reads a school's word.
func ParseSchool(t string) (School, error) {
	for i, name := range schoolNames {
		if t == name {
			return School(i), nil
		}
	}
	return 0, fmt.Errorf("%q: hand, preselect, direct or pairs", t)
}

// Program is what drives the selection.
type Program uint8

// What can drive a selection.
const (
	NoProgram Program = iota
	PunchCard
	Electronic
)

// Profile is what Vindel knows of one machine. Fields of a shipped profile can be
// overridden in a piece file; the names there are the JSON names in read.go of piece.
type Profile struct {
	ID, Name string
	Bed      Bed
	PitchMM  float64 // needle to needle
	Beds     int
	School   School
	Comb     int // needles one comb sets at a time; 0: no comb
	Feeders  int // yarns in one pass

	Program    Program
	Columns    int    // a card's columns, or the widest program
	Offset     int    // lines between the one read and the one seen
	Loop       int    // rows a card needs to close round the reader
	Overlap    string // copy or holes: what the two overlapping rows carry
	CardOrigin Needle // the needle that column 1 selects
	RowsMax    int    // program lines; 0: no limit
	Stitches   int    // program cells in memory; 0: no limit
	AreasMax   int    // 0: no limit

	HolePitchMM  float64 // between holes of a card, across
	RowPitchMM   float64 // between rows of a card
	HoleMM       float64 // a hole's diameter
	Lace         string  // separate, combined, hand, or "" for none
	PurlCarriage bool
	Advances     []string // carriages that read a line in lace
	Weave        bool
	Intarsia     bool
	TuckSelected string // knit or tuck: what selected needles do on tuck cams
	WeaveSel     string // hidden or shown
	ResetEach    bool   // tucking needles are set again after every pass
	MirrorSwitch bool
	Words        map[string]string // the user's own, by the keys of plainWords; others are kept
}

// Word is the user's own word for an action, or the plain English one.
func (p *Profile) Word(action string) string {
	if w := p.Words[action]; w != "" {
		return w
	}
	return plainWords[action]
}

// actions are what the core can ask for, with our own names for them, in the order in
// which a knitter meets them.
var actions = [][2]string{
	{"plain", "plain"}, {"two-colour", "two-colour"}, {"outward", "hold the forward ones"}, {"back", "slip the ones at rest"}, {"free", "free pass"},
	{"slip", "slip"}, {"tuck", "tuck"}, {"tuck-rest", "tuck"}, {"tuck-fwd", "tuck"}, {"weave", "weave"}, {"lay", "intarsia"}, {"select", "select"}, {"transfer", "transfer"}, {"fine", "fine transfer"},
	{"out", "out of work"}, {"work", "at rest"}, {"forward", "forward"}, {"hold", "in full hold"}, {"feeder1", "feeder 1"}, {"feeder2", "feeder 2"},
	{"size", "stitch size"}, {"end-needles", "end-needle switch"},
}

// PlainWords lists the actions and positions that a profile can name in its owner's
// words: the key, and our own name for it.
func PlainWords() [][2]string { return append([][2]string{}, actions...) }

// plainWords are our own names by their keys.
var plainWords = func() map[string]string {
	words := map[string]string{}
	for _, a := range actions {
		words[a[0]] = a[1]
	}
	return words
}()

// meanings say what a setting of the cams does to the needles.
var meanings = map[string]string{
	"plain":      "every needle knits",
	"two-colour": "needles at rest take feeder 1, needles forward feeder 2",
	"outward":    "needles at rest knit, those forward are passed over and stay",
	"back":       "needles forward and in hold knit, those at rest are passed over",
	"free":       "no yarn, every needle is passed over",
	"slip":       "needles forward knit, those at rest are passed over",
	"tuck-rest":  "needles forward knit, those at rest tuck",
	"tuck-fwd":   "needles forward tuck, those at rest knit",
	"weave":      "every needle knits, over the yarn laid by hand",
	"lay":        "every needle knits the yarn laid on it",
	"transfer":   "the lace carriage moves whole stitches",
	"fine":       "the lace carriage leaves the loop on both needles: no eyelet",
}

// Meaning says in plain English what a cam setting does, "" where there is nothing to say.
func Meaning(action string) string { return meanings[action] }

// HasCard says that a punch card selects the needles.
func (p *Profile) HasCard() bool { return p.Program == PunchCard }

// FloatLimit is the longest float, in stitches, that 25 mm allows at the given
// width of a stitch in millimetres (rules: 5.1); at least 1.
func FloatLimit(stitchMM float64) int { return max(1, int(25/stitchMM+1e-9)) }

// Shipped is a copy of a shipped profile.
func Shipped(id string) (Profile, error) {
	for _, p := range shipped {
		if p.ID == id {
			return p, nil
		}
	}
	return Profile{}, fmt.Errorf("%q: no such machine; there are %s", id, strings.Join(IDs(), ", "))
}

// IDs lists the shipped profiles.
func IDs() (ids []string) {
	for _, p := range shipped {
		ids = append(ids, p.ID)
	}
	return ids
}

func card(p Profile) Profile {
	p.Program, p.Loop, p.Overlap, p.CardOrigin = PunchCard, 36, "copy", L(12)
	p.HolePitchMM, p.RowPitchMM, p.HoleMM = 4.5, 5, 3.5
	return p
}

// shipped profiles carry plain descriptions of our own and no maker's labels.
var shipped = []Profile{
	{ID: "hand-mid", Name: "Hand-selected, middle gauge", Bed: 140, PitchMM: 6.5, Beds: 1, School: ByHand, Comb: 8, Feeders: 1, Lace: "hand", TuckSelected: "tuck", WeaveSel: "hidden"},
	{ID: "hand-chunky", Name: "Hand-selected, chunky", Bed: 100, PitchMM: 9, Beds: 1, School: ByHand, Feeders: 1, Lace: "hand", Intarsia: true, TuckSelected: "tuck", WeaveSel: "hidden"},
	card(Profile{ID: "card-preselect", Name: "Punch card, selects a row ahead", Bed: 200, PitchMM: 4.5, Beds: 1, School: Preselect, Feeders: 2, Columns: 24, Offset: 7, Lace: "separate", Advances: []string{"lace"}, Weave: true, TuckSelected: "knit", WeaveSel: "hidden"}),
	card(Profile{ID: "card-direct", Name: "Punch card, selects as it knits", Bed: 200, PitchMM: 4.5, Beds: 1, School: Direct, Feeders: 2, Columns: 24, Offset: 5, Lace: "combined", Advances: []string{"lace"}, TuckSelected: "knit", WeaveSel: "hidden"}),
	{ID: "program-preselect", Name: "Electronic, selects a row ahead", Bed: 200, PitchMM: 4.5, Beds: 2, School: Preselect, Feeders: 2, Program: Electronic, Columns: 200, RowsMax: 1000, Stitches: 200000, AreasMax: 8, Lace: "separate", Advances: []string{"lace"}, TuckSelected: "knit", WeaveSel: "hidden"},
	{ID: "program-small", Name: "Electronic, small memory", Bed: 200, PitchMM: 4.5, Beds: 1, School: Preselect, Feeders: 2, Program: Electronic, Columns: 48, RowsMax: 200, Stitches: 9600, AreasMax: 3, Lace: "separate", Advances: []string{"lace"}, TuckSelected: "knit", WeaveSel: "hidden"},
	card(Profile{ID: "two-bed-pairs", Name: "Two beds, card read in pairs", Bed: 176, PitchMM: 5, Beds: 2, School: Pairs, Feeders: 2, Columns: 40, Offset: 5, TuckSelected: "knit", WeaveSel: "hidden"}),
}
