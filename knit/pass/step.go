package pass

import (
	"slices"

	"vindel/knit/step"
)

// Step is one thing that hands do before a pass, and whose it is.
type Step struct {
	step.Step
	Recipe int // among the plan's recipes, from 1; 0: no recipe's
	Source int // its line, from 1
}

// Steps are steps that are no recipe's.
func Steps(list ...step.Step) []Step { return add(make([]Step, 0, len(list)), list) }

func add(to []Step, list []step.Step) []Step {
	for _, st := range list {
		to = append(to, Step{Step: st})
	}
	return to
}

// Add adds steps to what hands do before the pass.
func (p *Pass) Add(list ...step.Step) { p.Before = add(p.Before, list) }

// Find is the index of the first step of a verb, -1 if there is none; Has says that there is one.
func Find[T step.Step](list []Step) int {
	return slices.IndexFunc(list, func(st Step) bool { return step.Is[T](st.Step) })
}

// Has says that a step is of a verb.
func Has[T step.Step](list []Step) bool { return Find[T](list) >= 0 }
