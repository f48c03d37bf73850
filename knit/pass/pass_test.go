package pass_test

import (
	"fmt"
	"strings"
	"testing"

	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
)

// TestGroups: who takes which yarn, and how, for each kind of setting; worked out by hand
// for L3 to R3 with L2 and R1 forward and R3 in hold.
func TestGroups(t *testing.T) {
	work := machine.Range(machine.L(3), machine.R(3))
	forward, hold := machine.SetOf(machine.L(2), machine.R(1)), machine.SetOf(machine.R(3))
	both, one := []piece.YarnNo{1, 2}, []piece.YarnNo{1}
	lays := []pass.Lay{{Yarn: 2, From: machine.R(1), To: machine.R(2)}, {Yarn: 1, From: machine.L(3), To: machine.L(2)}}
	for _, c := range []struct {
		name    string
		half    pass.Half
		dir     machine.Side
		free    bool
		want    string
		laidNow bool
	}{
		{name: "plain", half: pass.Half{AtWork: work, Setting: machine.Plain, Yarns: one}, want: "main L3-R3 knit 1/1"},
		{name: "plain, one in hold", half: pass.Half{AtWork: work, Hold: hold, Setting: machine.Plain, Yarns: one},
			want: "main L3-R2 knit 1/1, main R3 knit 1/1"},
		{name: "and it waits", half: pass.Half{AtWork: work, Hold: hold, Setting: machine.Holding, Yarns: one},
			want: "main L3-R2 knit 1/1, main R3 hold 1/1"},
		{name: "two colours", half: pass.Half{AtWork: work, Select: forward, Setting: machine.TwoColour, Yarns: both},
			want: "main L3,L1,R2-R3 knit 1/1, main L2,R1 knit 2/2"},
		{name: "two colours, feeder 2 empty",
			half: pass.Half{AtWork: work, Select: forward, Setting: machine.TwoColour, Yarns: one},
			want: "main L3,L1,R2-R3 knit 1/1, main L2,R1 knit 0/0"},
		{name: "both feeders full, cams of one yarn",
			half: pass.Half{AtWork: work, Select: forward, Setting: machine.Slipping, Yarns: both},
			want: "main L3,L1,R2-R3 slip 1/1, main L2,R1 knit 1/1"},
		{name: "outward", half: pass.Half{AtWork: work, Select: forward, Hold: hold, Setting: machine.Outward,
			Yarns: one},
			want: "main L3,L1,R2 knit 1/1, main L2,R1 hold 1/1, main R3 hold 1/1"},
		{name: "back", half: pass.Half{AtWork: work, Select: forward, Hold: hold, Setting: machine.Back, Yarns: one},
			want: "main L3,L1,R2 slip 1/1, main L2,R1 knit 1/1, main R3 knit 1/1"},
		{name: "tuck forward", half: pass.Half{AtWork: work, Select: forward, Setting: machine.TuckForward, Yarns: one},
			want: "main L3,L1,R2-R3 knit 1/1, main L2,R1 tuck 1/1"},
		{name: "free", half: pass.Half{AtWork: work, Setting: machine.Free}, free: true, want: "main L3-R3 slip 0/0"},
		{name: "laid by hand", half: pass.Half{AtWork: work, Setting: machine.LaidYarns}, laidNow: true,
			want: "main R1-R2 knit 2/0, main L3-L2 knit 1/0, main L1,R3 knit 0/0"},
		{name: "brought to the laying position", half: pass.Half{AtWork: work, Setting: machine.LaidYarns}, free: true,
			want: ""},
		{name: "forward needles that are out of work",
			half: pass.Half{AtWork: hold, Select: forward, Setting: machine.TwoColour, Yarns: both},
			want: "main R3 knit 1/1"},
	} {
		p := pass.Pass{Dir: machine.Left, Free: c.free, Beds: [2]pass.Half{c.half}}
		if c.laidNow {
			p.Lays = lays
		}
		var got []string
		for g := range p.Groups() {
			got = append(got, fmt.Sprintf("%v %v %v %d/%d", g.Bed, g.Needles, g.Action, g.Yarn, g.Feeder))
		}
		if strings.Join(got, ", ") != c.want {
			t.Errorf("%s: %s, want %s", c.name, strings.Join(got, ", "), c.want)
		}
	}
	// The second bed has groups of its own, and a setting may differ by the way.
	ways := machine.Setting{Key: "by turns", Ways: [2]machine.Cams{machine.Plain.Ways[0], machine.Slipping.Ways[0]}}
	p := pass.Pass{Dir: machine.Right, Beds: [2]pass.Half{{}, {AtWork: work, Setting: ways, Yarns: one}}}
	for g := range p.Groups() {
		if g.Bed != machine.Second || g.Action != machine.Slip {
			t.Errorf("the second bed, to the right: %v %v", g.Bed, g.Action)
		}
	}
}

// TestID: an identity is read as it was written; what is none is an error.
func TestID(t *testing.T) {
	for _, id := range []pass.ID{{}, {Section: "s2", Repeat: 1, Row: 14, Nth: 2},
		{Section: "band-b", Repeat: 3, Row: 0, Part: "second", Nth: 1}} {
		if got, err := pass.ParseID(id.String()); err != nil || got != id {
			t.Errorf("%s: %+v, %v", id, got, err)
		}
	}
	for _, bad := range []string{"", "s2", "s2/1/14/1", "s2/x/14//1", "s2/1/14//1/9"} {
		if id, err := pass.ParseID(bad); err == nil {
			t.Errorf("%q is read as %+v", bad, id)
		}
	}
	order := []pass.ID{{Repeat: 1, Row: 0, Nth: 1}, {Repeat: 1, Row: 1, Nth: 1}, {Repeat: 1, Row: 1, Nth: 2},
		{Repeat: 2, Row: 1, Nth: 1}, {Part: "first", Repeat: 1, Row: 1, Nth: 1}, {Part: "second", Repeat: 1, Row: 1,
			Nth: 1}}
	for i := range order {
		for j := range order {
			if order[i].Before(order[j]) != (i < j) {
				t.Errorf("%s before %s: %v", order[i], order[j], !(i < j))
			}
		}
	}
}

// TestOwnWords: what is set is said in the owner's words for it, or in ours.
func TestOwnWords(t *testing.T) {
	p := &piece.Piece{Machine: machine.Profile{Words: map[string]string{"slip": "left lever up"}}}
	slip := step.Cams{Setting: machine.Slipping, Lever: step.Pattern}
	plain := step.Cams{Setting: machine.Plain, Lever: step.Pattern}
	if got := slip.Say(p); !strings.Contains(got, "left lever up") {
		t.Errorf("slip: %s", got)
	}
	if got := plain.Say(p); !strings.Contains(got, "plain") {
		t.Errorf("plain: %s", got)
	}
}
