package web

import (
	"fmt"
	"html/template"
)

// icon is one of our own drawings, 24 units square.
func icon(name string) (template.HTML, error) {
	d, ok := icons[name]
	if !ok {
		return "", fmt.Errorf("no icon %q", name)
	}
	return template.HTML(`<svg class="icon-draw" viewBox="0 0 24 24" width="24" height="24" aria-hidden="true" ` +
		`focusable="false">` + d + `</svg>`), nil
}

var icons = map[string]string{
	"pencil":      `<path d="M5 19l1-4L16 5l3 3L9 18z"/><path d="M14 7l3 3"/>`,
	"line":        `<path d="M5 19L19 5"/>`,
	"fill":        `<path d="M12 4l7 7-7 7-7-7z"/><path d="M5 11h14"/>`,
	"erase":       `<path d="M8 19l-4-4 9-9 6 6-7 7z"/><path d="M9 10l6 6M8 19h11"/>`,
	"pick":        `<path d="M4 20l2-5 8-8 3 3-8 8z"/><path d="M13 4l7 7"/>`,
	"undo":        `<path d="M9 6L5 10l4 4"/><path d="M5 10h9a5 5 0 010 10h-3"/>`,
	"redo":        `<path d="M15 6l4 4-4 4"/><path d="M19 10h-9a5 5 0 000 10h3"/>`,
	"row+":        `<path d="M4 16h16v4H4zM12 4v8M8 8h8"/>`,
	"row-":        `<path d="M4 16h16v4H4zM8 8h8"/>`,
	"col+":        `<path d="M4 4h4v16H4zM16 8v8M12 12h8"/>`,
	"col-":        `<path d="M4 4h4v16H4zM12 12h8"/>`,
	"bigger":      `<path d="M12 5v14M5 12h14"/>`,
	"less":        `<path d="M5 12h14"/>`,
	"theme":       `<circle cx="12" cy="12" r="8"/><path d="M12 4a8 8 0 010 16z" class="icon-full"/>`,
	"keys":        `<path d="M3 7h18v10H3zM7 11h1M11.500 11h1M16 11h1M8 14h8"/>`,
	"left":        `<path d="M14 6l-6 6 6 6"/>`,
	"right":       `<path d="M10 6l6 6-6 6"/>`,
	"rectangle":   `<path d="M5 7h14v10H5z"/>`,
	"ellipse":     `<ellipse cx="12" cy="12" rx="8" ry="6"/>`,
	"replace":     `<path d="M4 5h6v6H4zM14 13h6v6h-6z"/><path d="M13 8h5v3M11 16H6v-3"/>`,
	"select":      `<path d="M5 8V5h3M11 5h2M16 5h3v3M19 11v2M19 16v3h-3M13 19h-2M8 19H5v-3M5 13v-2"/>`,
	"stamp":       `<path d="M6 19h12M7 16h10v-3h-3l-1-4a2 2 0 10-2 0l-1 4H7z"/>`,
	"flip-x":      `<path d="M12 4v16M9 8l-4 4 4 4zM15 8l4 4-4 4z"/>`,
	"flip-y":      `<path d="M4 12h16M8 9l4-4 4 4zM8 15l4 4 4-4z"/>`,
	"wrap":        `<path d="M5 8h11a3 3 0 010 6h-2M17 11l-3 3 3 3M8 5L5 8l3 3"/>`,
	"repeat":      `<path d="M4 4h7v7H4zM13 4h7v7h-7zM4 13h7v7H4zM13 13h7v7h-7z"/>`,
	"square":      `<path d="M6 6h12v12H6zM12 6v12M6 12h12"/>`,
	"marks":       `<path d="M5 18L10 6M14 12a3 3 0 106 0 3 3 0 10-6 0"/>`,
	"mirror":      `<path d="M10 6L4 18h6zM14 6l6 12h-6z"/>`,
	"upside":      `<path d="M6 10l12-6v6zM6 14l12 6v-6z"/>`,
	"turn":        `<path d="M6 9a7 7 0 117 10M6 4v5h5"/>`,
	"turn-right":  `<path d="M18 9A7 7 0 1011 19M18 4v5h-5"/>`,
	"copy":        `<path d="M5 5h10v10H5zM9 15v4h10V9h-4"/>`,
	"cut":         `<path d="M6 5l12 11M18 5L6 16M7 19a2 2 0 100-4 2 2 0 000 4zM17 19a2 2 0 100-4 2 2 0 000 4z"/>`,
	"yarn-letter": `<rect x="4" y="4" width="16" height="16" rx="3"/><path d="M9 16l3-8 3 8M10 13.500h4"/>`,
	"yarn-mark": `<rect x="4" y="4" width="16" height="16" rx="3"/><path d="M4 12h16M12 4v16"/><circle cx="8" ` +
		`cy="8" r="1.200"/><path d="M14.500 17.500l3-3"/>`,
	"letters":  `<path d="M5 19L10 6l5 13M7 14h6M17 12v7M15 19h5M15 12h2"/>`,
	"size":     `<path d="M4 9V4h5M20 15v5h-5M4 4l6 6M20 20l-6-6"/>`,
	"up":       `<path d="M12 19V6M7 11l5-5 5 5"/>`,
	"down":     `<path d="M12 5v13M7 13l5 5 5-5"/>`,
	"to-left":  `<path d="M19 12H6M11 7l-5 5 5 5"/>`,
	"to-right": `<path d="M5 12h13M13 7l5 5-5 5"/>`,
	"fit":      `<path d="M4 9V4h5M15 4h5v5M20 15v5h-5M9 20H4v-5"/>`,
	"more":     `<path d="M6 12h.01M12 12h.01M18 12h.01"/>`,
	"plus":     `<path d="M12 6v12M6 12h12"/>`,
	"centre":   `<path d="M12 4v16M7 9h10M9 15h6"/>`,
}
