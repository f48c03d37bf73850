package pass

import "vindel/knit/machine"

// Mixed is the needles of the second bed of a plated pass that stand between two of the main bed
// which take different yarns: there the picture of the one face is not quite the other's reversed.
func (p *Pass) Mixed() (mixed machine.Set) {
	if p.Pitch != machine.HalfPitch || !p.Second().Plated {
		return mixed
	}
	lie, main := machine.Across{Shift: p.Shift, Pitch: p.Pitch}, p.Main()
	for n := range p.Second().AtWork.All() {
		a, b := lie.Left(n), lie.Left(n)+1
		if main.AtWork.Has(a) && main.AtWork.Has(b) && main.Select.Has(a) != main.Select.Has(b) {
			mixed.Add(n)
		}
	}
	return mixed
}
