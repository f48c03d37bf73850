package step

import (
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Standing is what hands change: how everything stands, on the bed, at its edges and on the carriages. Who simulates,
// or wants to know where something is, fulfils it; Idle fulfils all of it and does nothing.
type Standing interface {
	Forward(bed machine.BedNo, on machine.Set)
	Hold(bed machine.BedNo, on machine.Set)
	Work(bed machine.BedNo, on machine.Set)
	Enter(bed machine.BedNo, on machine.Set)
	Out(bed machine.BedNo, on machine.Set)

	CastOn(bed machine.BedNo, on machine.Set, y piece.YarnNo)
	Wrap(bed machine.BedNo, on machine.Set)
	Transfer(bed machine.BedNo, on machine.Set, way machine.Side, by int)
	Across(from machine.BedNo, on machine.Set)
	Cross(on, with machine.Set)
	KnitByHand(s KnitByHand)
	Reform(on machine.Set)
	Drop(bed machine.BedNo, on machine.Set)
	TakeOff(bed machine.BedNo, on machine.Set)
	BindOff(bed machine.BedNo, on machine.Set)

	// Of a shaped piece: its edges, and the part that waits.
	Widen(e Widen)
	Narrow(e Narrow)
	CastOnEdge(bed machine.BedNo, on machine.Set, y piece.YarnNo)
	WrapEdge(on machine.Set, y piece.YarnNo)
	HoldEdge(bed machine.BedNo, on machine.Set)
	WorkEdge(bed machine.BedNo, on machine.Set)
	Mark(off bool)
	Wait(bed machine.BedNo, on machine.Set)
	TakeUp(bed machine.BedNo, on machine.Set)
	Return()
	BindOffWaiting(bed machine.BedNo, on machine.Set)

	Thread(s Thread)
	Unthread(s Unthread)
	Cut(s Cut)

	PutOn(c machine.Carriage, from machine.Side)
	PutOff(s Remove)
	Cams(s Cams)
	Size(bed machine.BedNo, size string)
	Switch(s Switch)
	Console(s Console)
	Rack(to int, pitch machine.Pitch)
	Card(section, line int)
	Sweep(line int)
	Counter(reading int)
}

// Idle is a Standing that nothing changes.
type Idle struct{}

func (Idle) Forward(machine.BedNo, machine.Set)                     {}
func (Idle) Hold(machine.BedNo, machine.Set)                        {}
func (Idle) Work(machine.BedNo, machine.Set)                        {}
func (Idle) Enter(machine.BedNo, machine.Set)                       {}
func (Idle) Out(machine.BedNo, machine.Set)                         {}
func (Idle) CastOn(machine.BedNo, machine.Set, piece.YarnNo)        {}
func (Idle) Wrap(machine.BedNo, machine.Set)                        {}
func (Idle) Transfer(machine.BedNo, machine.Set, machine.Side, int) {}
func (Idle) Across(machine.BedNo, machine.Set)                      {}
func (Idle) Cross(_, _ machine.Set)                                 {}
func (Idle) KnitByHand(KnitByHand)                                  {}
func (Idle) Reform(machine.Set)                                     {}
func (Idle) Drop(machine.BedNo, machine.Set)                        {}
func (Idle) TakeOff(machine.BedNo, machine.Set)                     {}
func (Idle) BindOff(machine.BedNo, machine.Set)                     {}
func (Idle) Widen(Widen)                                            {}
func (Idle) Narrow(Narrow)                                          {}
func (Idle) CastOnEdge(machine.BedNo, machine.Set, piece.YarnNo)    {}
func (Idle) WrapEdge(machine.Set, piece.YarnNo)                     {}
func (Idle) HoldEdge(machine.BedNo, machine.Set)                    {}
func (Idle) WorkEdge(machine.BedNo, machine.Set)                    {}
func (Idle) Mark(bool)                                              {}
func (Idle) Wait(machine.BedNo, machine.Set)                        {}
func (Idle) TakeUp(machine.BedNo, machine.Set)                      {}
func (Idle) Return()                                                {}
func (Idle) BindOffWaiting(machine.BedNo, machine.Set)              {}
func (Idle) PutOn(machine.Carriage, machine.Side)                   {}
func (Idle) PutOff(Remove)                                          {}
func (Idle) Cams(Cams)                                              {}
func (Idle) Size(machine.BedNo, string)                             {}
func (Idle) Switch(Switch)                                          {}
func (Idle) Console(Console)                                        {}
func (Idle) Rack(int, machine.Pitch)                                {}
func (Idle) Card(_, _ int)                                          {}
func (Idle) Sweep(int)                                              {}
func (Idle) Counter(int)                                            {}
func (Idle) Thread(Thread)                                          {}
func (Idle) Unthread(Unthread)                                      {}
func (Idle) Cut(Cut)                                                {}
