package chart_test

import (
	"strings"
	"testing"

	"vindel/knit/chart"
)

// TestEdit: each change of a drawing, worked out by hand on an unsymmetrical figure.
func TestEdit(t *testing.T) {
	figure := "#..+ .##. ...."
	for _, c := range []struct {
		name string
		e    chart.Edit
		lace bool
		want string // or how the error begins
	}{
		{"mirror a part", chart.Edit{Do: "transform", Names: []string{"mirror"}, Columns: [2]int{1, 2},
			Rows: [2]int{2, 3}},
			false, ".#.+ #.#. ...."},
		{"turn the whole", chart.Edit{Do: "transform", Names: []string{"turn"}}, false, "+.. .#. .#. #.."},
		{"turn a part that fits", chart.Edit{Do: "transform", Names: []string{"turn-right"}, Columns: [2]int{1, 3},
			Rows: [2]int{2, 3}}, false, "error"},
		{"turn a square", chart.Edit{Do: "transform", Names: []string{"turn-right"}, Columns: [2]int{1, 2},
			Rows: [2]int{2, 3}}, false, ".#.+ #.#. ...."},
		{"double the whole", chart.Edit{Do: "transform", Names: []string{"double-width"}}, false,
			"##....++ ..####.. ........"},
		{"invert three characters", chart.Edit{Do: "transform", Names: []string{"invert"}}, false, "error"},
		{"lace leans", chart.Edit{Do: "transform", Names: []string{"mirror"}}, true, "+..# .##. ...."},
		{"lace cannot turn", chart.Edit{Do: "transform", Names: []string{"turn"}}, true, "error"},
		{"room above and right", chart.Edit{Do: "resize", W: 5, H: 4, At: "bottom left"}, false,
			"..... #..+. .##.. ....."},
		{"cropped to the top right", chart.Edit{Do: "resize", W: 2, H: 2, At: "top right"}, false, ".+ #."},
		{"middle", chart.Edit{Do: "resize", W: 6, H: 3, At: "middle"}, false, ".#..+. ..##.. ......"},
		{"nothing left", chart.Edit{Do: "resize", W: 0, H: 3}, false, "error"},
		{"shift round", chart.Edit{Do: "shift", DX: 1, DY: 1, Wrap: true}, false, "..## .... +#.."},
		{"shift out", chart.Edit{Do: "shift", DX: -1}, false, "..+. ##.. ...."},
		{"replace", chart.Edit{Do: "replace", From: "#", To: "+", Rows: [2]int{2, 2}, Columns: [2]int{1, 4}}, false,
			"#..+ .++. ...."},
		{"insert rows", chart.Edit{Do: "insert-rows", First: 3, N: 2}, false, "#..+ .... .... .##. ...."},
		{"insert a column", chart.Edit{Do: "insert-columns", First: 5}, false, "#..+. .##.. ....."},
		{"delete rows", chart.Edit{Do: "delete-rows", First: 1, N: 2}, false, "#..+"},
		{"delete columns", chart.Edit{Do: "delete-columns", First: 2, N: 2}, false, "#+ .. .."},
		{"delete all", chart.Edit{Do: "delete-rows", First: 1, N: 3}, false, "error"},
		{"outside", chart.Edit{Do: "shift", Columns: [2]int{2, 9}, Rows: [2]int{1, 1}}, false, "error"},
	} {
		drawn, err := chart.FromRows(strings.Fields(figure))
		if err != nil {
			t.Fatal(err)
		}
		m, err := c.e.Apply(drawn.Runes(), '.', c.lace)
		got := strings.Join(chart.RowTexts(m), " ")
		if err != nil {
			got = "error"
		}
		if got != c.want {
			t.Errorf("%s: got %s (%v), want %s", c.name, got, err, c.want)
		}
		if strings.Join(drawn.Rows(), " ") != figure {
			t.Errorf("%s: the drawing it was given is changed", c.name)
		}
	}
	lace, _ := chart.FromRows([]string{`/o.\`})
	m, _ := (&chart.Edit{Do: "transform", Names: []string{"mirror"}}).Apply(lace.Runes(), '.', true)
	if got := chart.RowTexts(m)[0]; got != `/.o\` {
		t.Errorf("lace in a mirror: %s", got)
	}
}
