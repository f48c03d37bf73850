package web

import (
	"errors"
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"vindel/knit/piece"
)

// Places in a piece file count from 0, as files do; on the pages everything counts from 1, and has the
// name that its field has there.

// things are what lists of a piece hold, by the list.
var things = map[string]string{"sections": "section", "areas": "area", "yarns": "yarn", "shape": "step of the shape",
	"stripes":  "yarn of the row",
	"variants": "setting", "columns": "columns of the chart,", "rows": "rows,", "racks": "position of the handle",
	"recipe": "line of the recipe"}

// fieldNames are how the pages call members of a piece, by their key in the file.
var fieldNames = map[string]string{"first": "first needle", "from": "from needle", "to": "to needle",
	"out": "out of work", "columns": "columns of the chart",
	"rows": "rows", "drop": "half-drop", "size": "stitch size", "yarn": "yarn", "weft": "woven yarn",
	"needles": "needles", "gauge": "gauge", "swatch": "swatch",
	"second_out": "out of work on the second bed", "second_size": "stitch size of the second bed",
	"from_line": "first line of the card or program",
	"width_mm":  "width", "height_mm": "height", "second": "second bed", "outline": "outline", "colour": "colour",
	"charts": "chart", "start": "the carriage's first side",
	"have": "balls in hand", "ball": "a ball", "machine": "machine", "name": "name", "options": "setting"}

var placeIndex = regexp.MustCompile(`^([a-z_]+)\[(\d+)\]$`)

// placeWords is a place of a piece file as the pages count and call it: "section 3, first needle".
func placeWords(path string) string {
	var parts []string
	segments := strings.Split(path, ".")
	for i, seg := range segments {
		if m := placeIndex.FindStringSubmatch(seg); m != nil {
			n, _ := strconv.Atoi(m[2])
			ends := i == len(segments)-1 && (m[1] == "columns" || m[1] == "rows") && n < 2
			switch {
			case ends:
				parts = append(parts, things[m[1]]+" "+[]string{"the first", "the last"}[n])
			case things[m[1]] != "":
				parts = append(parts, fmt.Sprintf("%s %d", things[m[1]], n+1))
			default:
				parts = append(parts, fmt.Sprintf("%s %d", calledOnPages(m[1]), n+1))
			}
			continue
		}
		if i > 0 && segments[i-1] == "charts" {
			parts[len(parts)-1] = "chart " + strconv.Quote(seg)
			continue
		}
		if seg == "needles" && i+1 < len(segments) { // her fields are called by the needle
			continue
		}
		parts = append(parts, calledOnPages(seg))
	}
	return strings.Join(parts, ", ")
}

func calledOnPages(key string) string {
	if w := fieldNames[key]; w != "" {
		return w
	}
	return strings.ReplaceAll(key, "_", " ")
}

// counted is an error's text with places as the pages count and call them.
func counted(err error) string {
	text := err.Error()
	var list piece.ErrorList
	if errors.As(err, &list) && len(list) > 0 && list[0].Path != "" {
		return strings.Replace(text, list[0].Path, placeWords(list[0].Path), 1)
	}
	var one *piece.Error
	if errors.As(err, &one) && one.Path != "" {
		return strings.Replace(text, one.Path, placeWords(one.Path), 1)
	}
	return text
}
