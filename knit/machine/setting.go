package machine

// Setting is what a carriage is set to: its name among the profile's words, and what that
// makes needles do on each way. Settings are made in this file; nothing guesses one back
// from its cams.
type Setting struct {
	Key     string   // of the profile's words
	Plan    string   // its word in a plan: plain, or the technique's; "": the key
	Ways    [2]Cams  // to the left, to the right
	Feeder2 bool     // needles forward take feeder 2
	Lays    bool     // every needle takes the yarn laid on it by hand
	Of      Carriage // whose it is
	Moves   bool     // of the lace carriage: it moves stitches
	Fine    bool     // and leaves the loop on both needles
}

// Word is what a plan calls it, whatever its owner does.
func (s *Setting) Word() string {
	if s.Plan != "" {
		return s.Plan
	}
	return s.Key
}

// Cams is what the setting does on a way.
func (s *Setting) Cams(way Side) Cams { return s.Ways[way-Left] }

// Pattern is the key of the setting whatever holding does beside it: holding is a control of its own.
func (s *Setting) Pattern() string {
	if s.Key == Holding.Key {
		return Plain.Key
	}
	return s.Key
}

// Whole says that holding is part of the setting: in what its word says, needles in hold have their place.
func (s *Setting) Whole() bool { return s.Key == Outward.Key || s.Key == Back.Key }

// Hold is the setting with holding on, where needles in full hold wait, or off, where they knit with the rest.
func (s Setting) Hold(on bool) Setting {
	held := Knit
	if on {
		held = Hold
	}
	switch {
	case s.Pattern() == Plain.Key && on:
		s.Key = Holding.Key
	case s.Key == Holding.Key:
		s.Key = Plain.Key
	}
	s.Ways[0].Held, s.Ways[1].Held = held, held
	return s
}

// As is the setting under a technique's word in plans.
func (s Setting) As(technique string) Setting {
	s.Plan = technique
	return s
}

func both(key string, c Cams) Setting { return Setting{Key: key, Ways: [2]Cams{c, c}} }

// part is a setting of a technique that has several.
func part(key, word string, c Cams) Setting {
	s := both(key, c)
	s.Plan = word
	return s
}

// The settings that the core asks for.
var (
	Plain     = both("plain", Cams{Knit, Knit, Knit})
	Holding   = part("hold", "plain", Cams{Knit, Knit, Hold}) // plain with holding on: those in full hold wait
	TwoColour = with(both("two-colour", Cams{Knit, Knit, Hold}), func(s *Setting) { s.Feeder2 = true })

	// A two-colour row of a machine with one feeder goes out and comes back (rules 5.2).
	Outward = part("outward", "two-colour", Cams{Hold, Knit, Hold})
	Back    = part("back", "two-colour", Cams{Knit, Slip, Knit})

	Free        = both("free", Cams{Slip, Slip, Hold}) // the empty carriage of a free pass
	Slipping    = both("slip", Cams{Knit, Slip, Hold})
	TuckRest    = part("tuck-rest", "tuck", Cams{Knit, Tuck, Hold}) // those at rest tuck
	TuckForward = part("tuck-fwd", "tuck", Cams{Tuck, Knit, Hold})  // those forward tuck

	WeaveRest    = both("weave", Cams{Knit, Weave, Hold}) // the weft shows on those at rest
	WeaveForward = both("weave", Cams{Weave, Knit, Hold}) // or on those forward
	LaidYarns    = with(part("lay", "intarsia", Cams{Lay, Lay, Hold}), func(s *Setting) { s.Lays = true })

	// The second bed's carriage goes with the main one; which of its needles knit on a way is a
	// lock of its own. It knits all, every other by turns, or all on the way left and none on the
	// way right.
	SecondEvery   = with(part("second-every", "every", Cams{Knit, Knit, Hold}), onSecond)
	SecondTurns   = with(part("second-turns", "birdseye", Cams{Knit, Slip, Hold}), onSecond)
	SecondStripes = with(Setting{Key: "second-left", Plan: "stripes", Ways: [2]Cams{{Knit, Knit, Hold}, {Slip, Slip,
		Hold}}}, onSecond)
	SecondIdle = with(part("second-idle", "slip", Cams{Slip, Slip, Hold}), onSecond)

	// The lace carriage passes every needle over and moves whole stitches.
	Transfer = with(both("transfer", Cams{Slip, Slip, Hold}), func(s *Setting) {
		s.Moves, s.Of = true,
			LaceCarriage
	})
	FineTransfer = with(both("fine", Cams{Slip, Slip, Hold}), func(s *Setting) {
		s.Moves, s.Fine, s.Of = true, true,
			LaceCarriage
	})

	// The purl carriage has levers of its own; selected needles it purls.
	Purling   = with(both("purl", Cams{Knit, Knit, Hold}), func(s *Setting) { s.Of = PurlCarriage })
	PurlPlain = with(part("purl-plain", "plain", Cams{Knit, Knit, Hold}), func(s *Setting) { s.Of = PurlCarriage })
)

// passOver is the key of a setting under which every needle is passed over.
const passOver = "pass-over"

// doubles are the settings of a bed of which needles forward and at rest do two things, by the two.
var doubles = [Slip + 1][Slip + 1]Setting{
	Knit: {Knit: Plain, Slip: Slipping, Tuck: TuckRest},
	Tuck: {Knit: TuckForward, Tuck: part("tuck-all", "tuck", Cams{Tuck, Tuck, Hold}),
		Slip: part("tuck-or-slip", "tuck", Cams{Tuck, Slip, Hold})},
	Slip: {Slip: both(passOver, Cams{Slip, Slip, Hold})},
}

// SettingFor is the setting of a bed's carriage under which needles forward and at rest do so much, holding as it
// usually goes with that. feeder2 says that those forward take another yarn.
func SettingFor(bed BedNo, forward, rest Action, feeder2 bool) Setting {
	s := doubles[forward][rest]
	if feeder2 && forward == Knit && rest == Knit {
		s = TwoColour
	}
	if bed == Second {
		switch s.Key {
		case Plain.Key:
			s = SecondEvery
		case passOver:
			s = SecondIdle
		}
		s.Of = SecondCarriage
	}
	return s
}

func onSecond(s *Setting) { s.Of = SecondCarriage }

// BehindBy is the second bed's setting by its word in the piece file; false: it is out of action.
func BehindBy(word string) (Setting, bool) {
	switch word {
	case "every":
		return SecondEvery, true
	case "birdseye":
		return SecondTurns, true
	case "stripes":
		return SecondStripes, true
	}
	return Setting{}, false
}

func with(s Setting, f func(*Setting)) Setting {
	f(&s)
	return s
}

// CamTouches is what setting the cams once costs beside a touch of a needle.
const CamTouches = 2
