package recipe

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
)

// Numbers are kept in tenths: at most one figure stands after the point, as on a dial.

var typed = regexp.MustCompile(`^([0-9]{1,6})(?:[.,]([0-9]))?$`)

// Tenths reads a number that is typed for a parameter, with a point or a comma.
func Tenths(text string) (int, error) {
	m := typed.FindStringSubmatch(strings.TrimSpace(text))
	if m == nil {
		return 0, fmt.Errorf("%q: a number with at most one figure after the point", text)
	}
	whole, _ := strconv.Atoi(m[1])
	tenth, _ := strconv.Atoi(m[2])
	return 10*whole + tenth, nil
}

// value works a number out; leaf gives what is no sum, product, bracket or figure.
func (n *Number) value(leaf func(*Number) (int, *Error)) (int, *Error) {
	switch n.Op {
	case opFigures:
		return n.Value, nil
	case opGroup:
		return n.A.value(leaf)
	case '+', '-', '*':
		a, err := n.A.value(leaf)
		if err != nil {
			return 0, err
		}
		b, err := n.B.value(leaf)
		if err != nil {
			return 0, err
		}
		v := a + b
		switch n.Op {
		case '-':
			v = a - b
		case '*':
			if v = a * b; v%10 != 0 {
				return 0, &Error{n.Pos, fmt.Sprintf("%v: it has more than one figure after the point", n), 0}
			}
			v /= 10
		}
		if v > 1e9 || v < -1e9 {
			return 0, &Error{n.Pos, fmt.Sprintf("%v: the number is too large", n), 0}
		}
		return v, nil
	}
	return leaf(n)
}

// number is a number in the round at hand.
func (r *Run) number(n *Number) (int, *Error) {
	return n.value(func(n *Number) (int, *Error) {
		switch n.Op {
		case opWidth:
			return 10 * r.bases[0].Len(), nil
		case opRound:
			return 10 * r.round(), nil
		case opTurns:
			return r.number(n.List[(r.round()-1)%len(n.List)])
		case opSeries:
			a, err := r.number(n.A)
			if err != nil {
				return 0, err
			}
			d, err := r.number(n.B)
			if err != nil {
				return 0, err
			}
			v := a + d*(r.round()-1)
			if v > 1e9 || v < -1e9 {
				return 0, &Error{n.Pos, fmt.Sprintf("%v: the number is too large", n), 0}
			}
			return v, nil
		}
		return r.params[n.Name], nil
	})
}

// count is a number that must be whole and at least so much; other where it is left out.
func (r *Run) count(n *Number, l least, other int) int {
	if n == nil {
		return other
	}
	v, err := r.number(n)
	if err != nil {
		panic(err)
	}
	if wrong := l.wrong(v); wrong != "" {
		panic(&Error{n.Pos, wrong, n.width})
	}
	if l.part {
		return v
	}
	return v / 10
}
