package piece

import "vindel/knit/machine"

// ReadMachine reads what a piece file holds under "machine"; faults name the field.
func ReadMachine(data []byte) (*machine.Profile, error) {
	v, err := Decode(data)
	if err != nil {
		return nil, ErrorList{{Err: err}}
	}
	var errs ErrorList
	r := reader{p: &Piece{}}
	if r.machine(node{"machine", v, &errs}); len(errs) > 0 {
		return nil, errs
	}
	return &r.p.Machine, nil
}

// machine reads a shipped profile by its id, and over it what stands beside the id.
func (r *reader) machine(n node) {
	if n.missing() {
		n.fail("missing; name a profile, such as { \"profile\": \"card-preselect\" }")
		return
	}
	if !n.object(machineKeys()...) {
		return
	}
	m, err := machine.Shipped(n.at("profile").text())
	if err != nil {
		n.at("profile").fail("%v", err)
		return
	}
	if name := n.at("name").short(); name != "" {
		m.Name = name
	}
	for i := range MachineFields {
		f := &MachineFields[i]
		if v := n.at(f.Key); !v.missing() {
			f.read(r, v, &m)
		}
	}
	if v := n.at("words"); !v.missing() {
		m.Words = map[string]string{}
		for _, k := range v.members() {
			if m.Words[k] = v.at(k).short(); k == takeBack && v.at(holdingOff).missing() {
				m.Words[holdingOff] = m.Words[k]
			}
		}
	}
	if v := n.at("homes"); !v.missing() && v.object("knit", "lace", "purl", "second") {
		m.Homes = map[string]string{}
		for _, k := range v.members() {
			m.Homes[k] = v.at(k).short()
		}
	}
	for i := range n.at("kit").list() {
		v := n.at("kit").index(i)
		if !v.object("carriage", "side", "text", "always") {
			continue
		}
		kit := machine.Kit{Text: v.at("text").short(), Always: !v.at("always").missing() && v.at("always").yes()}
		if word := v.at("carriage").word("knit", "lace", "purl", "second"); word != "" && word != "knit" {
			kit.For, _ = CarriageNamed(word)
		}
		switch v.at("side").word("left", "right") {
		case "left":
			kit.Side = machine.Left
		case "right":
			kit.Side = machine.Right
		}
		if kit.Text == "" {
			v.at("text").fail("missing; what has to be there, in words")
			continue
		}
		m.Kit = append(m.Kit, kit)
	}
	if n.at("advances").missing() && m.PurlCarriage && len(m.Advances) > 0 {
		m.Advances = []string{"lace", "purl"}
	}
	m.EndSwitch = m.EndSwitch && m.Selects() // fingers have none, nor has a reader of pairs
	r.p.Machine = m
}

// What was once a setting of its own, taking back what waits in hold, is holding off.
const takeBack, holdingOff = "take-back", "holding-off"

func machineKeys() []string {
	keys := []string{"profile", "name", "words", "homes", "kit"}
	for i := range MachineFields {
		keys = append(keys, MachineFields[i].Key)
	}
	return keys
}
