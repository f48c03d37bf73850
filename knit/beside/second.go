package beside

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// behindWords is how the second bed is set, in a few words.
func behindWords(p *piece.Piece, now *pass.Pass) string {
	behind := now.Second()
	size := ""
	if behind.Size != "" {
		size = " " + behind.Size
	}
	return fmt.Sprintf("second bed %s%s", p.Machine.SettingWord(&behind.Setting), size)
}

// Behind is the needles of the second bed that take yarn in a pass.
func Behind(now *pass.Pass) (knit machine.Set) {
	for g := range now.Groups() {
		if g.Bed == machine.Second && g.Action.Takes() {
			knit = knit.Or(g.Needles)
		}
	}
	return knit
}

// behindSee says what of the second bed one sees before a pass, "" where it has no part in it.
func behindSee(now *pass.Pass) string {
	behind := now.Second()
	if behind.AtWork.Empty() {
		return ""
	}
	all, knit := behind.AtWork.Len(), Behind(now).Len()
	which := fmt.Sprintf("%d of its %s", knit, words.Count(all, "needle", "needles"))
	switch knit {
	case all:
		which = "all its " + words.Count(all, "needle", "needles")
	case 0:
		which = "none of its needles"
	}
	return fmt.Sprintf("; of the second bed %s will knit, its handle at %d, %v pitch", which, now.Rack, now.Pitch)
}

// BackRows is how many rows the backing of a section (from 1) has: the stitches of the second bed,
// over its needles.
func BackRows(pl *pass.Plan, section int) float64 {
	stitches, needles := 0, 0
	for i := range pl.Passes {
		if p := &pl.Passes[i]; p.Section == section && p.Row() > 0 {
			stitches += Behind(p).Len()
			needles = max(needles, p.Second().AtWork.Len())
		}
	}
	if needles == 0 {
		return 0
	}
	return float64(stitches) / float64(needles)
}
