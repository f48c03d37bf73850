package web

import (
	"fmt"
	"reflect"
	"testing"
)

// TestParts: of a list or map only what differs is told, where it has the same members and most are as before.
func TestParts(t *testing.T) {
	t.Parallel()
	for _, c := range []struct{ was, is, want any }{
		{[]int{1, 2, 3}, []int{1, 5, 3}, map[int]any{1: 5}}, {[]int{1, 2}, []int{1, 2, 3}, nil},
		{[]int{1, 2, 3}, []int{4, 5, 3}, nil},
		{map[int]string{1: "a", 2: "b"}, map[int]string{1: "a", 2: "c"}, map[int]any{2: "c"}},
		{map[int]string{1: "a", 2: "b"}, map[int]string{1: "a", 3: "b"}, nil}, {"a", "b", nil},
	} {
		if got := parts(reflect.ValueOf(c.was), reflect.ValueOf(c.is)); fmt.Sprint(got) != fmt.Sprint(c.want) {
			t.Errorf("%v, %v: %v, not %v", c.was, c.is, got, c.want)
		}
	}
}
