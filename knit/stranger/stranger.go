// Package stranger is somebody who does not know the plan: she reads what is written for hands, takes each word in its
// harshest sense, and knits. A position that is not named has not moved, a way that is not named is not meant where only
// one is, a needle that is not named stays. What she knows of the machine is in this package alone: it shares no words,
// tables or helpers with whoever plans, draws or proves, so that an omission of theirs is seen.
//
// She reads the text of `vindel plan --format text`, and the card or the key-in sheet as it is printed, which she puts
// into a reader of her own. Of what no hand decides she believes the line of the pass: which way the carriage goes, and
// whether a carriage that has no switch reads.
package stranger

import (
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strconv"
	"strings"
)

// Bed is one of the two.
type Bed int

// The beds: the second's needles are said to be of it.
const (
	Main Bed = iota
	Second
)

// Taken is needles of a bed that take a yarn in a pass; Tuck: as a loop over what they hold.
type Taken struct {
	Bed  Bed
	Yarn string
	Tuck bool
}

// Pass is what became of a pass: the needles, each a number from the middle of the bed, L1 as -1, R1 as 0.
type Pass struct {
	N      int
	Right  bool
	Takes  map[Taken][]int
	Sizes  [2]string // as the dials stand
	Rack   string    // the second bed's handle and pitch, "6 half"; "": nobody has said
	Before Hangs     // on the main bed
	After  Hangs
}

// Hangs is the needles at work that hold no loop, and those that hold more than one.
type Hangs struct{ Empty, Doubled []int }

// place is where a needle stands.
type place int

const (
	out place = iota
	rest
	forward
	full // hold
)

// does is what a carriage makes of a needle.
type does int

const (
	nobodyKnows does = iota
	knits
	tucks
	passes
	waits
)

// lever is how a carriage is set for a way.
type lever struct {
	forward, rest, full does
	feeder2             bool // those forward take feeder 2
	plain               bool // every needle knits
	fine                bool // what is moved stays where it was as well
	laid                bool // all take the yarn laid on them
	turns               bool // its needles by turns
}

// end is a yarn's end.
type end struct {
	right, hangs bool // out of a feeder, on a side
	cut, knitted bool
}

// Knitter is the stranger, before her machine.
type Knitter struct {
	Hand       bool            // no carriage selects: the fingers do
	TucksAgain bool            // needles that tuck are put forward again before every pass
	Passed     bool            // a needle in full hold catches nothing, wherever the yarn goes
	Counts     bool            // the empty pass before yarns laid by hand moves the counter
	Switched   bool            // a switch on the carriage lets it bring needles forward for the pass to come, or for its own
	Ahead      bool            // for the pass to come
	OneWord    bool            // plain and two-colour are one position: what is forward takes feeder 2's yarn, if any is there
	OneLever   string          // how the words of positions begin that one lever has, whichever way it is said for
	Stand      map[string]bool // carriages that stand on rails at the beginning: on the right
	Prints     map[int]string  // by section: its card, or its key-in sheet, as text; none: she believes what stands forward
	Origin     int             // the needle of a card's column 1
	Offset     int             // blank rows at the top of a card that is not joined
	Pairs      bool            // the reader takes a line on the way right, for the two passes to come
	LaceAhead  bool            // the lace carriage selects for the pass to come
	PurlAhead  bool            // and so does the purl carriage
	Forgets    int             // the line (from 1) of which she does all but the last needle that it is about; 0: none
	places     [2]map[int]place
	levers     map[string]*[2]lever // by carriage, for the way left and right
	fed        [2]string
	ends       map[string]*end
	on         string // the carriage on the bed
	at         bool   // it stands on the right
	laceAt     bool
	rails      map[string]bool // those beside the bed, by carriage: on the right
	laid       []lay
	known      bool
	loops      [2]map[int]int // how many on each needle
	waste      map[int]int    // and on those that have gone onto waste yarn
	short      bool           // of a needle, in the step that she does
	counter    int
	sizes      [2]string
	rack       string
	reader     reader
	lace       bool // the section at work is lace: its lines are of the carriages that go then
	selecting  bool // the switch, and as it stood for the carriage's last pass
	selected   bool
	lately     bool            // another carriage went last, which needs no switch
	hands      [2]map[int]bool // needles that fingers have brought forward since then
}

// unread is a counter of which nobody knows what it reads.
const unread = -1 << 30

// fresh is a needle that has come into work with nothing on it, and is no hole.
const fresh = -1000

type lay struct {
	yarn     string
	from, to int
}

var (
	passLine = regexp.MustCompile(`^ *(\d+)  ([←→])  row (\d+) +counter (\d+) +(\S+) ?(.*)$`)
	label    = regexp.MustCompile(`^([LR])(\d+)$`)
	everyNth = regexp.MustCompile(`every (\d+)(?:st|nd|rd|th) needle from ([LR]\d+) to ([LR]\d+)(?: and from ([LR]\d+) to ([LR]\d+))?`)
	nOfEvery = regexp.MustCompile(`(\d+) of every (\d+) needles from ([LR]\d+) to ([LR]\d+)(?: and from ([LR]\d+) to ([LR]\d+))?`)
	named    = regexp.MustCompile(`(?:^|: |^Put )(all|every (\d+)(?: from \d+)?), ([LR]\d+) to ([LR]\d+): \d+ needles`)
	labels   = regexp.MustCompile(`[LR]\d+(?:-[LR]\d+)?(?:,[LR]\d+(?:-[LR]\d+)?)*`)
	way      = regexp.MustCompile(`^Set the (.+?)(?: for the way (left|right))?: .*\((.*)\)$`)
	layLine  = regexp.MustCompile(`^lay (?:\d+ )?(.+?)(?: [A-Z]\d*)?(?:, from beneath \S+)?(?: over the needles)?, ([LR]\d+) to ([LR]\d+)$`)
)

// Knit reads a plan and knits it, up to the first thing that she cannot do as it is said.
func (k *Knitter) Knit(text string) (made []Pass, err error) {
	k.places = [2]map[int]place{{}, {}}
	k.levers, k.ends, k.on, k.at = map[string]*[2]lever{}, map[string]*end{}, "knit", true
	k.counter = unread
	k.rails = maps.Clone(k.Stand)
	if k.rails == nil {
		k.rails = map[string]bool{}
	}
	k.loops, k.hands = [2]map[int]int{{}, {}}, [2]map[int]bool{{}, {}}
	for no, line := range strings.Split(text, "\n") {
		told := strings.TrimSpace(line)
		if strings.HasPrefix(line, "Section ") {
			k.lace = strings.Contains(line, ", lace")
		}
		switch m := passLine.FindStringSubmatch(line); {
		case m != nil:
			p, err := k.pass(m)
			if err != nil {
				return made, fmt.Errorf("line %d, pass %s: %w", no+1, m[1], err)
			}
			made = append(made, p)
		case strings.HasPrefix(told, "- "):
			k.short = no+1 == k.Forgets
			if err := k.obey(told[2:]); err != nil {
				return made, fmt.Errorf("line %d, %q: %w", no+1, told[2:], err)
			}
		case strings.HasPrefix(told, "lay "):
			m := layLine.FindStringSubmatch(told)
			if m == nil {
				return made, fmt.Errorf("line %d: nobody can lay %q", no+1, told)
			}
			a, z := needle(m[2]), needle(m[3])
			k.laid = append(k.laid, lay{m[1], min(a, z), max(a, z)})
		}
	}
	return made, nil
}

func needle(text string) int {
	m := label.FindStringSubmatch(text)
	if m == nil {
		return 0
	}
	n, _ := strconv.Atoi(m[2])
	if m[1] == "L" {
		return -n
	}
	return n - 1
}

// set is the needles that a text names.
func set(text string) (on []int) {
	if m := named.FindStringSubmatch(text); m != nil {
		every := 1
		if m[2] != "" {
			every, _ = strconv.Atoi(m[2])
		}
		for n := needle(m[3]); n <= needle(m[4]); n += every { // the first of them is the one that is named
			on = append(on, n)
		}
		return on
	}
	found := false
	for _, m := range everyNth.FindAllStringSubmatch(text, -1) {
		found = true
		step, _ := strconv.Atoi(m[1])
		on = append(on, runs(1, step, m[2:])...)
	}
	for _, m := range nOfEvery.FindAllStringSubmatch(text, -1) {
		found = true
		size, _ := strconv.Atoi(m[1])
		step, _ := strconv.Atoi(m[2])
		on = append(on, runs(size, step, m[3:])...)
	}
	if found {
		return on
	}
	for part := range strings.SplitSeq(strings.Join(labels.FindAllString(text, -1), ","), ",") {
		from, to, run := strings.Cut(part, "-")
		if from == "" {
			continue
		}
		if !run {
			to = from
		}
		for n := needle(from); n <= needle(to); n++ {
			on = append(on, n)
		}
	}
	return on
}

var (
	stretches = regexp.MustCompile(`(\d+) (short|long|left alone)`)
	goes      = regexp.MustCompile(`, from ([LR]\d+) to ([LR]\d+) \(`)
)

// along are the needles that a hand comes to as it goes along the bed, stretch by stretch, over and over where that is
// said; those that it leaves alone are not among them.
func along(text string) (on []int) {
	ends := goes.FindStringSubmatch(text)
	if ends == nil || !strings.Contains(text, " left alone") && !strings.Contains(text, " long, ") &&
		!strings.Contains(text, " short, ") {
		return set(text)
	}
	said, _, _ := strings.Cut(text, ", from ")
	n, to, by := needle(ends[1]), needle(ends[2]), 1
	if n > to {
		by = -1
	}
	for {
		for _, m := range stretches.FindAllStringSubmatch(said, -1) {
			times, _ := strconv.Atoi(m[1])
			for ; times > 0; times, n = times-1, n+by {
				if (n-to)*by > 0 {
					return on
				}
				if m[2] != "left alone" {
					on = append(on, n)
				}
			}
		}
		if !strings.Contains(said, "again and again") {
			return on
		}
	}
}

// runs are so many needles, so far apart, from one label to another, and from a third to a fourth where they are told.
func runs(size, step int, ends []string) (on []int) {
	for len(ends) > 1 && ends[0] != "" && step > 0 {
		for n := needle(ends[0]); n <= needle(ends[1]); n += step {
			for i := range size {
				on = append(on, n+i)
			}
		}
		ends = ends[2:]
	}
	return on
}

func (k *Knitter) yarn(name string) *end {
	if k.ends[name] == nil {
		k.ends[name] = &end{}
	}
	return k.ends[name]
}

func (k *Knitter) put(bed Bed, on []int, to place) error {
	if len(on) == 0 {
		return fmt.Errorf("no needle is named")
	}
	on = k.but(on)
	for _, n := range on {
		k.places[bed][n] = to
		if k.hands[bed][n] = to == forward; to == out {
			k.loops[bed][n] = 0
		}
	}
	return nil
}

// but is needles without the last, where she is short of one.
func (k *Knitter) but(on []int) []int {
	if k.short && len(on) > 0 {
		return on[:len(on)-1]
	}
	return on
}

// cast puts needles at rest with a loop on each.
func (k *Knitter) cast(bed Bed, on []int) error {
	for _, n := range k.but(on) {
		k.loops[bed][n] = 1
	}
	return k.put(bed, on, rest)
}

// lift takes what is on needles, and lets it down on others, first on first; what lies there already stays.
func (k *Knitter) lift(from Bed, on []int, to Bed, onto []int) {
	taken := make([]int, len(on))
	for i, n := range on {
		taken[i], k.loops[from][n] = max(k.loops[from][n], 0), 0
	}
	for i, n := range onto {
		if i < len(taken) {
			k.loops[to][n] += taken[i]
		}
	}
}

// moved is needles moved along the bed.
func moved(on []int, by int) (to []int) {
	for _, n := range on {
		to = append(to, n+by)
	}
	return to
}

// setting reads what stands by itself: a counter, a dial, the second bed's handle, the switch of the carriage that
// selects. It says whether the text was of one.
func (k *Knitter) setting(text string) bool {
	if m := counts.FindStringSubmatch(text); m != nil {
		k.counter, _ = strconv.Atoi(m[1])
		return true
	}
	if m := dials.FindStringSubmatch(text); m != nil {
		bed := Main
		if m[1] != "Stitch" {
			bed = Second
		}
		k.sizes[bed] = m[2]
		return true
	}
	if m := handle.FindStringSubmatch(text); m != nil {
		_, pitch, _ := strings.Cut(k.rack, " ") // which stays where none is named
		if m[2] != "" {
			pitch = m[2]
		}
		k.rack = m[1] + " " + pitch
		return true
	}
	if m := both.FindStringSubmatch(text); m != nil {
		k.rack = m[2] + " " + m[1]
		return true
	}
	if on, is := strings.CutPrefix(text, "Turn the selecting "); is {
		k.selecting = on == "on"
		return true
	}
	return false
}

// outer is how many needles at an edge are moved at once.
func outer(text string) int {
	if m := prongs.FindStringSubmatch(text); m != nil {
		n, _ := strconv.Atoi(m[1])
		return n
	}
	return 1
}

// inward is the way from an edge to the middle of the work.
func (k *Knitter) inward(bed Bed, edge int) int {
	for n, at := range k.places[bed] {
		if at != out && at != full && n < edge {
			return -1
		}
	}
	return 1
}

var (
	farther = regexp.MustCompile(`^Move \d+ stitch(?:es)? (\d+) needles? to the (left|right)`)
	prongs  = regexp.MustCompile(`^Move the outer (\d+) `)
	counts  = regexp.MustCompile(`^Set the row counter to (\d+)$`)
	dials   = regexp.MustCompile(`^(Second bed: stitch|Stitch) size (\S+)$`)
	handle  = regexp.MustCompile(`^Move the handle of the second bed to (\d+), one position at a time(?:; (half|full) pitch)?$`)
	both    = regexp.MustCompile(`^Set the two beds to (half|full) pitch, the handle of the second to (\d+)$`)
	shifts  = regexp.MustCompile(` moves? (\S+) one needle to the (left|right)`)
)

// obey does what one step says.
func (k *Knitter) obey(text string) error {
	bed := Main
	if strings.Contains(text, "of the second bed") {
		bed = Second
	}
	starts := func(s string) bool { return strings.HasPrefix(text, s) }
	_, after, _ := strings.Cut(text, ": ")
	if is, err := k.punched(text); is {
		return err
	}
	switch {
	case k.setting(text):
	case starts("Cast on "):
		return k.cast(bed, set(text))
	case starts("Bring ") && strings.Contains(text, " carriage on from the "):
		which := strings.Fields(text)[2]
		if k.on != "" {
			return fmt.Errorf("the %s carriage is on the bed", k.on)
		}
		stands := k.at
		if which == "lace" {
			stands = k.laceAt
		}
		if stands != strings.HasSuffix(text, "right") {
			return fmt.Errorf("it stands on the other side")
		}
		delete(k.rails, which)
		for other, at := range k.rails {
			if at == stands {
				return fmt.Errorf("the %s carriage stands in the way", other)
			}
		}
		k.on = which
	case starts("Lift the ") && strings.Contains(text, " carriage off the bed"):
		which := strings.Fields(text)[2]
		if delete(k.rails, which); which == k.on {
			k.on = ""
		}
	case starts("Park the "):
		which, right := strings.Fields(text)[2], strings.HasSuffix(text, "right")
		for other, at := range k.rails {
			if at == right {
				return fmt.Errorf("the %s carriage stands there", other)
			}
		}
		if which != k.on {
			return fmt.Errorf("on the bed is the %q carriage", k.on)
		}
		k.on, k.rails[which] = "", right
	case starts("Bring ") && strings.Contains(text, " forward: "):
		for _, n := range set(after) {
			if k.places[bed][n] == out {
				return fmt.Errorf("a needle that is not in work")
			}
		}
		return k.put(bed, set(after), forward)
	case starts("Push ") && strings.Contains(text, " back: "):
		return k.put(bed, set(after), rest)
	case starts("Put ") && strings.Contains(text, " in full hold"):
		return k.put(bed, set(text), full)
	case starts("Put ") && strings.Contains(text, " at rest"):
		return k.put(bed, set(text), rest)
	case starts("Put ") && strings.Contains(text, " out of work"):
		for _, n := range set(text) {
			if k.loops[bed][n] > 0 {
				return fmt.Errorf("a needle that holds a stitch")
			}
		}
		return k.put(bed, set(text), out)
	case starts("Put ") && strings.Contains(text, ", which was bobbin "):
		name, _, _ := strings.Cut(text[4:], ", which was")
		return k.thread(text, name, true)
	case starts("Thread "):
		name, fresh := strings.CutPrefix(text[7:], "a new end of ")
		name, _, over := strings.Cut(strings.TrimSuffix(name, " from the other side"), " in the ")
		name, _, _ = strings.Cut(name, " in feeder ")
		if over || strings.HasSuffix(text, " from the other side") {
			k.yarn(name).right = k.at
		}
		e := k.yarn(name)
		if fresh && e.knitted && !e.cut {
			return fmt.Errorf("its end has not been cut")
		}
		if fresh {
			*e = end{}
		}
		return k.thread(text, name, fresh)
	case starts("Take ") && strings.Contains(text, " out"):
		name, how, _ := strings.Cut(text[5:], " out")
		f := feeder(text)
		if k.fed[f] != name {
			return fmt.Errorf("feeder %d holds %q", f+1, k.fed[f])
		}
		k.fed[f] = ""
		e := k.yarn(name)
		switch {
		case strings.HasSuffix(how, "and cut it"):
			e.cut = true
		case strings.Contains(how, "hanging on the "):
			if e.hangs, e.right = true, strings.HasSuffix(how, "right"); !k.known {
				k.at = e.right // where the carriage stands, that has not gone yet
			}
		case strings.Contains(how, "it is bobbin"), strings.Contains(how, " carriage"):
			e.hangs, e.right = true, k.at
		default:
			return fmt.Errorf("and then? it is not said")
		}
	case starts("Cut the laid "), starts("Cut bobbin "):
	case starts("Lay ") && strings.Contains(text, " once round "):
		_, round, _ := strings.Cut(text, " once round ")
		for _, n := range set(round) {
			k.loops[bed][n]++
		}
	case starts("Cut "):
		name, _, _ := strings.Cut(text[4:], ", which hangs")
		k.yarn(name).cut, k.yarn(name).hangs = true, false
	case way.MatchString(text):
		return k.lever(way.FindStringSubmatch(text), k.OneLever != "" && strings.Contains(text, ": "+k.OneLever))
	case starts("Move ") && strings.Contains(text, " one needle to the "):
		return k.move(text, after)
	case farther.MatchString(text): // in a recipe, where needles stay as they stand
		m := farther.FindStringSubmatch(text)
		by, _ := strconv.Atoi(m[1])
		if m[2] == "left" {
			by = -by
		}
		on := k.but(set(after))
		k.lift(bed, on, bed, moved(on, by))
	case starts("Move ") && strings.Contains(text, " across to the other: "):
		from, to, _ := strings.Cut(after, ", onto ")
		to, _, over := strings.Cut(to, ";")
		if a, b := set(from), set(to); len(a) != len(b) && !over {
			return fmt.Errorf("%d stitches, onto %d needles", len(a), len(b))
		}
		k.lift(bed, k.but(set(from)), Second-bed, set(to))
		for _, n := range set(to) { // one that waits goes on waiting
			if k.places[Second-bed][n] == out {
				k.places[Second-bed][n] = rest
			}
		}
		return nil
	case strings.Contains(text, " into work"):
		for _, n := range set(text) {
			if k.loops[bed][n] == 0 {
				k.loops[bed][n] = fresh
			}
		}
		return k.put(bed, set(text), rest)
	case strings.Contains(text, " by one, and put "), strings.Contains(text, " onto its neighbour, and put the needle "):
		_, gone, _ := strings.Cut(text, ", and put ")
		if strings.HasPrefix(gone, "the needle") {
			gone = text
		}
		for _, n := range set(gone) {
			tool, by := outer(text), k.inward(bed, n)
			on := make([]int, tool)
			for i := range on {
				on[i] = n + i*by
			}
			k.lift(bed, on, bed, moved(on, by))
		}
		return k.put(bed, set(gone), out)
	case starts("Move the outer") && strings.Contains(text, " out by one, onto "):
		_, come, _ := strings.Cut(text, ", onto ")
		come, _, _ = strings.Cut(come, ", and ")
		for _, n := range set(come) {
			tool, by := outer(text), k.inward(bed, n)
			on := make([]int, tool)
			for i := range on {
				on[i] = n + (i+1)*by
			}
			k.lift(bed, on, bed, moved(on, -by))
			k.loops[bed][n+(tool+1)*by-by] = 1 // filled from below
		}
		return k.put(bed, set(come), rest)
	case starts("Knit by hand"):
		return k.put(bed, along(after), rest)
	case starts("Hang ") && strings.Contains(text, " again from the waste yarn, on "):
		for _, n := range set(text) {
			k.loops[bed][n] = k.waste[n]
		}
		return k.put(bed, set(text), rest)
	case starts("Knit a few rows of waste yarn by hand"):
		k.waste = maps.Clone(k.loops[bed])
		return k.put(bed, set(text), out)
	case starts("Bring back what waits"):
		return k.put(bed, set(text), rest)
	case starts("Bind off "), starts("Chain off "),
		starts("Join a new end of "), starts("Take ") && strings.Contains(text, " off the needles"):
		return k.put(bed, set(text), out)
	}
	return nil // it moves neither needle, lever, thread nor carriage
}

func feeder(text string) int {
	if strings.Contains(text, "feeder 2") {
		return 1
	}
	return 0
}

func (k *Knitter) thread(text, name string, fresh bool) error {
	f, e := feeder(text), k.yarn(name)
	switch {
	case k.fed[f] != "":
		return fmt.Errorf("feeder %d holds %q", f+1, k.fed[f])
	case e.cut && !fresh:
		return fmt.Errorf("it was cut")
	case e.hangs && e.right != k.at && !fresh:
		return fmt.Errorf("it hangs on the other side")
	}
	e.hangs, e.cut = false, false
	k.fed[f] = name
	return nil
}

// lever moves what a text names, for the way that it names, or for both.
func (k *Knitter) lever(m []string, one bool) error {
	whose := "knit"
	switch {
	case m[1] == "second bed":
		whose = "second"
	case strings.HasSuffix(m[1], " carriage"):
		whose = strings.TrimSuffix(m[1], " carriage")
	case m[1] != "cams":
		return nil
	}
	if k.levers[whose] == nil {
		k.levers[whose] = &[2]lever{}
	}
	for w := range k.levers[whose] {
		other := m[2] != "" && (m[2] == "right") != (w == 1)
		l := &k.levers[whose][w]
		for part := range strings.SplitSeq(m[3], "; ") {
			if other && (!one || strings.HasPrefix(part, "needles in full hold")) {
				continue
			}
			if err := l.read(part, w == 1); err != nil {
				return err
			}
		}
	}
	return nil
}

// read sets a lever as a position's meaning says.
func (l *lever) read(means string, right bool) error {
	pattern := func(f, r does) {
		l.forward, l.rest, l.feeder2, l.laid, l.turns, l.plain = f, r, false, false, false, false
	}
	switch means {
	case "needles in full hold wait":
		l.full = waits
	case "needles in full hold knit with the rest":
		l.full = knits
	case "needles in full hold wait, all others knit":
		pattern(knits, knits)
		l.full, l.plain = waits, true
	case "every needle knits", "every needle knits, over the yarn laid by hand", "all its needles knit",
		"needles forward are purled, those at rest knit":
		pattern(knits, knits)
		l.plain = means == "every needle knits"
	case "needles at rest take feeder 1, needles forward feeder 2":
		pattern(knits, knits)
		l.feeder2 = true
	case "needles at rest knit, those forward are passed over and stay":
		pattern(waits, knits)
		l.full = waits
	case "needles forward and in hold knit, those at rest are passed over":
		pattern(knits, passes)
		l.full = knits
	case "no yarn, every needle is passed over", "every needle is passed over", "none of its needles knits":
		pattern(passes, passes)
	case "needles forward knit, those at rest are passed over":
		pattern(knits, passes)
	case "needles forward knit, those at rest tuck":
		pattern(knits, tucks)
	case "needles forward tuck, those at rest knit":
		pattern(tucks, knits)
	case "every needle tucks":
		pattern(tucks, tucks)
	case "needles forward tuck, those at rest are passed over":
		pattern(tucks, passes)
	case "every needle knits the yarn laid on it":
		pattern(knits, knits)
		l.laid = true
	case "its odd needles knit on the way right, its even ones on the way left":
		pattern(knits, passes)
		l.turns = true
	case "all its needles knit on the way left, none on the way right":
		pattern(knits, knits)
		if right {
			pattern(passes, passes)
		}
	case "the lace carriage moves whole stitches":
		l.fine = false
	case "the lace carriage leaves the loop on both needles: no eyelet":
		l.fine = true
	default:
		return fmt.Errorf("nobody knows what %q does", means)
	}
	return nil
}

// move moves stitches one needle: where they come from stays at rest, and so does where they go.
func (k *Knitter) move(text, after string) error {
	by := 1
	if strings.Contains(text, "to the left") {
		by = -1
	}
	for _, n := range set(after) {
		if k.places[Main][n] == out || k.places[Main][n+by] == out {
			return fmt.Errorf("a needle that is not in work")
		}
	}
	on := k.but(set(after))
	k.lift(Main, on, Main, moved(on, by))
	for _, n := range on {
		k.places[Main][n], k.places[Main][n+by] = rest, rest
	}
	return nil
}

// pass sends the carriage as a line of the plan says, and lets every needle do what its levers make it do.
func (k *Knitter) pass(m []string) (Pass, error) {
	n, _ := strconv.Atoi(m[1])
	p := Pass{N: n, Right: m[2] == "→", Takes: map[Taken][]int{}, Before: k.hangs()}
	if k.on == "lace" {
		if k.laceAt == p.Right {
			return p, fmt.Errorf("the lace carriage stands on the other side")
		}
		k.laceAt, k.lately = p.Right, true
		if len(k.Prints) > 0 {
			if err := k.readNow(m[6], p.Right); err != nil {
				return p, err
			}
			if err := k.seen(m[6]); err != nil {
				return p, err
			}
			for n, at := range k.places[Main] {
				if at == forward {
					k.places[Main][n] = rest
				}
			}
		}
		if m := shifts.FindStringSubmatch(" " + m[6]); m != nil { // what it moves is the card's
			by := 1
			if m[2] == "left" {
				by = -1
			}
			k.lift(Main, set(m[1]), Main, moved(set(m[1]), by))
			l := k.levers["lace"]
			if l == nil {
				return p, fmt.Errorf("nobody has set the lace carriage")
			}
			if l[0].fine {
				for _, n := range set(m[1]) {
					k.loops[Main][n] = 1
				}
			}
		}
		k.stands(&p)
		if len(k.Prints) > 0 {
			return p, k.readAhead(m[6])
		}
		return p, nil
	}
	alone := strings.Contains(m[6], "the second bed's carriage alone")
	if k.at == p.Right && k.known {
		return p, fmt.Errorf("the carriage stands on the other side")
	}
	k.at, k.known = p.Right, true
	if len(k.Prints) > 0 && !alone {
		if err := k.readNow(m[6], p.Right); err != nil {
			return p, err
		}
		if err := k.seen(m[6]); err != nil && !strings.Contains(m[6], "without yarn") {
			return p, err
		}
	} else if !k.Hand {
		for on, at := range k.places[Main] {
			if at == forward {
				k.places[Main][on] = rest
			}
		}
		said, _, _ := strings.Cut(strings.TrimSpace(m[6]), ";")
		if list, ok := strings.CutPrefix(said, "forward "); ok {
			for _, on := range set(list) {
				if k.places[Main][on] == out {
					continue // nothing brings it
				}
				k.places[Main][on] = forward
				brings := k.selecting
				if k.Ahead {
					brings = k.selected || k.lately
				}
				if k.Switched && k.on == "knit" && !brings && !k.hands[Main][on] {
					return p, fmt.Errorf("nothing brings needles forward: the carriage does not select")
				}
			}
		}
	}
	k.selected, k.lately, k.hands = k.selecting, k.on != "knit", [2]map[int]bool{{}, {}}
	w := 0
	if p.Right {
		w = 1
	}
	bring := k.levers[k.on] != nil && k.levers[k.on][w].laid && len(k.laid) == 0
	if !alone && !strings.Contains(m[6], "without yarn") && (!bring || k.Counts) {
		k.counter++
	}
	if said, _ := strconv.Atoi(m[4]); said != k.counter {
		return p, fmt.Errorf("the counter reads %d", k.counter)
	}
	for bed, whose := range []string{k.on, "second"} {
		if alone { // it lets its loops go, and takes nothing
			clear(k.loops[Second])
			break
		}
		if err := k.across(Bed(bed), whose, w, &p); err != nil {
			return p, err
		}
	}
	if second := k.fed[1]; second != "" && len(p.Takes) > 0 && !p.takes(second) {
		return p, fmt.Errorf("feeder 2 drags %s across, and nothing takes it", second)
	}
	for _, l := range k.laid {
		k.yarn(l.yarn).knitted = true
	}
	k.laid = nil
	k.stands(&p)
	if !alone && len(k.Prints) > 0 {
		return p, k.readAhead(m[6])
	}
	return p, nil
}

func (p *Pass) takes(yarn string) bool {
	for t := range p.Takes {
		if t.Yarn == yarn {
			return true
		}
	}
	return false
}

// stands is how all stands after a pass.
func (k *Knitter) stands(p *Pass) { p.Sizes, p.Rack, p.After = k.sizes, k.rack, k.hangs() }

func (k *Knitter) hangs() (h Hangs) {
	for n, at := range k.places[Main] {
		switch loops := k.loops[Main][n]; {
		case at == out:
		case loops == 0:
			h.Empty = append(h.Empty, n)
		case loops > 1:
			h.Doubled = append(h.Doubled, n)
		}
	}
	slices.Sort(h.Empty)
	slices.Sort(h.Doubled)
	return h
}

func (k *Knitter) across(bed Bed, whose string, w int, p *Pass) error {
	var on []int
	for n, at := range k.places[bed] {
		if at != out {
			on = append(on, n)
		}
	}
	if len(on) == 0 {
		return nil
	}
	slices.Sort(on)
	var first []int // that take feeder 1's yarn
	if k.levers[whose] == nil {
		if bed == Second {
			return nil
		}
		return fmt.Errorf("nobody has set the %s carriage", whose)
	}
	l := k.levers[whose][w]
	odd := false
	for _, n := range on {
		at := k.places[bed][n]
		do, yarn := l.rest, k.fed[0]
		switch at {
		case forward:
			do = l.forward
			if l.feeder2 || k.OneWord && l.plain && k.fed[1] != "" {
				yarn = k.fed[1]
			}
		case full:
			do = l.full
		}
		if l.turns && at != full {
			if odd = !odd; odd == (w == 1) {
				do = knits
			} else {
				do = passes
			}
		}
		if l.laid && do == knits {
			i := slices.IndexFunc(k.laid, func(l lay) bool { return l.from <= n && n <= l.to })
			if yarn = ""; i >= 0 {
				yarn = k.laid[i].yarn
			} else if len(k.laid) == 0 {
				continue // brought to the laying position
			}
		}
		switch do {
		case nobodyKnows:
			return fmt.Errorf("what a needle does that stands so, nobody has said")
		case knits, tucks:
			if yarn == "" {
				return fmt.Errorf("a needle takes a yarn where there is none")
			}
			k.yarn(yarn).knitted = true
			if two := k.fed[1]; bed == Second && two != "" && yarn != two { // one carriage goes with the other, and lays both
				k.yarn(two).knitted = true
				yarn += "+" + two
			}
			t := Taken{bed, yarn, do == tucks}
			p.Takes[t] = append(p.Takes[t], n)
			if !l.laid && yarn == k.fed[0] {
				first = append(first, n)
			}
			if k.loops[bed][n] = max(k.loops[bed][n], 0) + 1; do == knits {
				k.loops[bed][n] = 1
			}
			if at == full || at == forward && !(do == tucks && k.Hand && !k.TucksAgain) {
				k.places[bed][n] = rest
			}
		case passes:
			if at == forward {
				k.places[bed][n] = rest
			}
		}
	}
	for _, n := range on { // the yarn lies over those that wait between two that take it
		if k.places[bed][n] == full && l.full == waits && !k.Passed && len(first) > 0 && first[0] < n &&
			n < first[len(first)-1] {
			k.loops[bed][n]++
		}
	}
	return nil
}
