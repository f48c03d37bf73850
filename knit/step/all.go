package step

// All is one of every verb, empty: what lists them all, or is tested on all.
var All = []Step{
	Care{}, CastOn{}, CastOnEdge{}, Counter{}, Thread{}, Unthread{}, Cut{},
	BringForward{}, ToHold{}, HoldEdge{}, ToWork{}, WorkEdge{}, Enter{}, ToOut{}, PushBack{}, Widen{}, Narrow{},
	Mark{Marked: &Marked{}}, Wait{}, TakeUp{}, Return{Marked: &Marked{}},
	Transfer{}, Move{}, Across{}, Cross{}, KnitByHand{}, Wrap{}, WrapEdge{}, Reform{}, Drop{}, TakeOff{},
	BindOff{}, BindOffThese{}, BindOffEdge{}, BindOffMiddle{},
	Attach{}, Remove{}, Kit{}, AttachPart{}, RemovePart{}, Lower{}, Raise{}, Rack{},
	Cams{}, Switch{}, Console{}, Size{}, SetCard{}, CardLock{}, CardRelease{}, Sweep{},
	WeightsOn{}, WeightsUp{}, WeightsOff{}, Lifeline{}, Inspect{}, Look{}, Note{},
}
