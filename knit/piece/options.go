package piece

import (
	"encoding/json"

	"vindel/knit/machine"
)

// Options choose between the schools of the rules: each is one of its words.
type Options struct {
	Lean, Selecting, Odd, Separation, Backing, Colours, Counter, EndNeedles, Transfer, Look, FarYarn, HandTucks string
	// of two-pass rows; 0: whichever needs the fewest cuts
	FirstYarn YarnNo
	// Margin is what is added to the yarn worked out, as a share of it.
	Margin float64
}

// DefaultMargin is the share of yarn that is added where nothing else is said.
const DefaultMargin = 0.1

// Word is a value of an option, and what it says to a knitter.
type Word struct{ Value, Text string }

// Option is one row of the table by which options are read from the file and shown on the
// pages.
type Option struct {
	Key, Label string
	Words      []Word // the default first
	at         func(*Options) *string
}

// OptionTable lists the options of a piece; a section may have its own.
var OptionTable = []Option{
	{"lean", "Leans", []Word{{"shortest", "by the shortest route"}, {"exact", "exactly as drawn"}},
		func(o *Options) *string { return &o.Lean }},
	{"selecting", "Selecting pass", []Word{{"knit", "knits a plain row"}, {"free", "free, without yarn"}},
		func(o *Options) *string { return &o.Selecting }},
	{"odd", "The odd stitch", []Word{{"right", "right of the middle"}, {"left", "left of the middle"}},
		func(o *Options) *string { return &o.Odd }},
	{"separation", "Colours of a row", []Word{{"twice", "each there and back"},
		{"interleaved", "two colours, interleaved"}, {"single", "each in one pass"}},
		func(o *Options) *string { return &o.Separation }},
	{"backing", "Second bed", []Word{{"every", "every needle"}, {"birdseye", "every other, by turns"},
		{"stripes", "on the way left only"}, {"none", "out of work: the other colours float behind"}},
		func(o *Options) *string { return &o.Backing }},
	{"colours", "Order of the colours", []Word{{"file", "as the yarns are listed"},
		{"fewest", "with the fewest changes of yarn"}},
		func(o *Options) *string { return &o.Colours }},
	{"counter", "Row counter", []Word{{"run", "runs on through the piece"}, {"section", "back to 0 at each section"},
		{"repeat", "back to 0 at each repeat"}},
		func(o *Options) *string { return &o.Counter }},
	{"end_needles", "End needles", []Word{{"off", "follow the chart"},
		{"auto", "always knit, by the machine's switch"}, {"hand", "always knit, brought forward by hand"}},
		func(o *Options) *string { return &o.EndNeedles }},
	{"transfer", "Transfers", []Word{{"open", "open, with eyelets"}, {"fine", "fine, without"}},
		func(o *Options) *string { return &o.Transfer }},
	{"look", "After each moving pass of the lace carriage", []Word{{"off", "go on"},
		{"on", "look which needles are empty and which doubled"}}, func(o *Options) *string { return &o.Look }},
	{"far_yarn", "A yarn that hangs on the far side", []Word{{"cut", "is cut, and joined anew"},
		{"slip", "is fetched by the empty carriage, every needle slipped"},
		{"hold", "is fetched by the empty carriage, every needle held"}},
		func(o *Options) *string { return &o.FarYarn }},
	{"hand_tucks", "Tucks by hand", []Word{{"fewest", "whichever touches the fewest needles and levers"},
		{"forward", "forward, under a cam that tucks them"}, {"hold", "in full hold, and taken back"}},
		func(o *Options) *string { return &o.HandTucks }},
}

// Default is the word that stands where the file has none.
func (o *Option) Default() string { return o.Words[0].Value }

// Of is the word that options have for o.
func (o *Option) Of(set *Options) string { return *o.at(set) }

// FindOption is the option with a key; it panics where there is none, since keys stand in
// the code.
func FindOption(key string) *Option {
	for i := range OptionTable {
		if OptionTable[i].Key == key {
			return &OptionTable[i]
		}
	}
	panic("piece: no option " + key)
}

// DefaultOptions are those of a file that names none.
func DefaultOptions() (o Options) {
	for i := range OptionTable {
		*OptionTable[i].at(&o) = OptionTable[i].Default()
	}
	o.Margin = DefaultMargin
	return o
}

// EndsHeld says that the end needles are kept where they knit, by the machine's switch or
// by hand (rules 1, End needles).
func (o *Options) EndsHeld() bool { return o.EndNeedles != "off" }

// OddSide is where the odd stitch goes when a width is centred.
func (o *Options) OddSide() machine.Side {
	if o.Odd == "left" {
		return machine.Left
	}
	return machine.Right
}

// OptionKeys are the members that hold options, in the piece and in a section.
func OptionKeys() (keys []string) {
	for i := range OptionTable {
		keys = append(keys, OptionTable[i].Key)
	}
	return append(keys, "first_yarn", "margin")
}

// options reads options over a base: from a member that holds them all, and, where also is
// given, from members of their own, which win.
func (r *reader) options(n node, base Options, also func(string) node) Options {
	o := base
	if !n.missing() {
		n.object(OptionKeys()...)
	}
	get := func(key string) node {
		if also != nil {
			if v := also(key); !v.missing() {
				return v
			}
		}
		return n.at(key)
	}
	for i := range OptionTable {
		option := &OptionTable[i]
		if v := get(option.Key); !v.missing() {
			*option.at(&o) = v.word(option.values()...)
		}
	}
	if v := get("first_yarn"); !v.missing() {
		o.FirstYarn = r.yarnAt(v)
	}
	if v := get("margin"); !v.missing() {
		if num, ok := v.value.(json.Number); !ok || num.String() != "0" {
			if o.Margin = v.number(); o.Margin > 1 {
				v.fail("%s: a share from 0 to 1", v.quoted())
			}
		} else {
			o.Margin = 0
		}
	}
	return o
}

func (o *Option) values() (words []string) {
	for _, w := range o.Words {
		words = append(words, w.Value)
	}
	return words
}
