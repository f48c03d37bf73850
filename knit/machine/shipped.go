package machine

import (
	"fmt"
	"strings"
)

// Shipped is a copy of a shipped profile.
func Shipped(id string) (Profile, error) {
	for _, p := range shipped {
		if p.ID == id {
			p.Racks, p.RackCentre, p.PlatedStep, p.Ticks = [2]int{0, 10}, 5, 3, 9
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
	if p.School == Pairs {
		p.Near, p.ShowsNext, p.CardOrigin = true, true, L(20)
	}
	p.EndSwitch, p.Joined = p.School != Pairs, true
	p.HolePitchMM, p.RowPitchMM, p.HoleMM = 4.5, 5, 3.5
	return p
}

// shipped profiles carry plain descriptions of our own and no maker's labels.
var shipped = []Profile{
	{ID: "hand-mid", Name: "Hand-selected, middle gauge", Bed: 140, PitchMM: 6.5, Beds: 1, School: ByHand, Comb: 8,
		Feeders: 1, Lace: "hand", TuckSelected: "tuck", WeaveSel: "hidden"},
	{ID: "hand-chunky", Name: "Hand-selected, chunky", Bed: 100, PitchMM: 9, Beds: 1, School: ByHand, Feeders: 1,
		Lace: "hand", Intarsia: true, TuckSelected: "tuck", WeaveSel: "hidden"},
	card(Profile{ID: "card-preselect", Name: "Punch card, selects a row ahead", Bed: 200, PitchMM: 4.5, Beds: 1,
		School: Preselect, Feeders: 2, Columns: 24, Offset: 7, Lace: "separate", Advances: []string{"lace"},
		Weave: true, MaySecond: true, TuckSelected: "knit", WeaveSel: "hidden"}),
	card(Profile{ID: "card-direct", Name: "Punch card, selects as it knits", Bed: 200, PitchMM: 4.5, Beds: 1,
		School: Direct, Feeders: 2, Columns: 24, Offset: 5, Lace: "combined", Advances: []string{"lace"},
		TuckSelected: "knit", WeaveSel: "hidden"}),
	{ID: "program-preselect", Name: "Electronic, selects a row ahead", Bed: 200, PitchMM: 4.5, Beds: 2,
		School: Preselect, Feeders: 2, Program: Electronic, Columns: 200, RowsMax: 1000, Stitches: 200000,
		AreasMax: 8, Lace: "separate", Advances: []string{"lace"}, TuckSelected: "knit", WeaveSel: "hidden",
		EndSwitch: true},
	{ID: "program-small", Name: "Electronic, small memory", Bed: 200, PitchMM: 4.5, Beds: 1, School: Preselect,
		Feeders: 2, Program: Electronic, Columns: 48, RowsMax: 200, Stitches: 9600, AreasMax: 3, Lace: "separate",
		Advances: []string{"lace"}, TuckSelected: "knit", WeaveSel: "hidden", EndSwitch: true},
	card(Profile{ID: "two-bed-pairs", Name: "Two beds, card read in pairs", Bed: 176, PitchMM: 5, Beds: 2,
		School: Pairs, Feeders: 2, Columns: 40, Offset: 5, TuckSelected: "knit", WeaveSel: "hidden"}),
}
