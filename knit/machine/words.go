package machine

// Term is something of the machine that a profile can name in its owner's words: its key,
// our own word for it, and what it does, where there is more to say.
type Term struct{ Key, Word, Meaning string }

// Terms lists what can be named, in the order in which a knitter meets it: settings of the
// carriages (setting.go), the positions of needles, and controls.
var Terms = []Term{
	{"plain", "plain", "every needle knits"},
	{"two-colour", "two-colour", "needles at rest take feeder 1, needles forward feeder 2"},
	{"outward", "hold the forward ones", "needles at rest knit, those forward are passed over and stay"},
	{"back", "slip the ones at rest", "needles forward and in hold knit, those at rest are passed over"},
	{"free", "free pass", "no yarn, every needle is passed over"},
	{"slip", "slip", "needles forward knit, those at rest are passed over"},
	{"tuck-rest", "tuck", "needles forward knit, those at rest tuck"},
	{"tuck-fwd", "tuck", "needles forward tuck, those at rest knit"},
	{"holding", "holding on", "needles in full hold wait"},
	{"holding-off", "holding off", "needles in full hold knit with the rest"},
	{"pass-over", "pass over", "every needle is passed over"},
	{"tuck-all", "tuck on every needle", "every needle tucks"},
	{"tuck-or-slip", "tuck and slip", "needles forward tuck, those at rest are passed over"},
	{"weave", "weave", "every needle knits, over the yarn laid by hand"},
	{"lay", "intarsia", "every needle knits the yarn laid on it"},
	{"select", "selecting", "the carriage reads the card or program as it goes"},
	{"transfer", "transfer", "the lace carriage moves whole stitches"},
	{"fine", "fine transfer", "the lace carriage leaves the loop on both needles: no eyelet"},
	{"purl", "purl", "needles forward are purled, those at rest knit"},
	{"purl-plain", "plain", "every needle knits"},
	{"second-every", "every needle", "all its needles knit"},
	{"second-turns", "every other needle, by turns",
		"its odd needles knit on the way right, its even ones on the way left"},
	{"second-left", "on the way left only", "all its needles knit on the way left, none on the way right"},
	{"second-idle", "no needle", "none of its needles knits"},
	{"out", "out of work", ""},
	{"work", "at rest", ""},
	{"forward", "forward", ""},
	{"hold", "in full hold", ""},
	{"feeder1", "feeder 1", ""},
	{"feeder2", "feeder 2", ""},
	{"size", "stitch size", ""},
	{"end-needles", "end-needle switch", ""},
}

// terms are the terms by their keys.
var terms = func() map[string]Term {
	by := map[string]Term{}
	for _, t := range Terms {
		by[t.Key] = t
	}
	return by
}()

// Word is the user's own word for a term, or our plain one.
func (p *Profile) Word(key string) string {
	if w := p.Words[key]; w != "" {
		return w
	}
	if t, ok := terms[key]; ok {
		return t.Word
	}
	return ""
}

// SettingWord is the user's own word for a setting, holding with it where the setting is plain with holding on.
func (p *Profile) SettingWord(s *Setting) string {
	if s.Key == Holding.Key {
		return p.Word(Plain.Key) + " with " + p.Word("holding")
	}
	return p.Word(s.Key)
}

// HoldingWord is the user's own word for holding by itself, and what it does.
func (p *Profile) HoldingWord(held Action) (word, means string) {
	key := "holding-off"
	if held == Hold {
		key = "holding"
	}
	return p.Word(key), Meaning(key)
}

// Meaning says in plain English what a setting does, "" where there is nothing to say.
func Meaning(key string) string {
	if t, ok := terms[key]; ok {
		return t.Meaning
	}
	return ""
}
