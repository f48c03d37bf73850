package chart

import (
	"encoding/csv"
	"fmt"
	"io"
	"strings"
	"unicode"
	"unicode/utf8"
)

// ParseText reads a chart written as text: the top row first, one character a
// cell. Lines that begin with ';' are comments; blank lines at either end are
// passed over. Errors name the line, counted from 1.
func ParseText(text string) (*Chart, error) {
	if !utf8.ValidString(text) {
		return nil, fmt.Errorf("the text is not UTF-8")
	}
	var rows, whole []string // blanks are the ground: without those at the ends of lines, and with them
	var lines []int
	for i, line := range strings.Split(strings.TrimPrefix(text, byteOrder), "\n") {
		line = strings.Map(blank, strings.TrimSuffix(line, "\r"))
		cut := strings.TrimRight(line, " ")
		if strings.HasPrefix(line, ";") || cut == "" && len(rows) == 0 {
			continue
		}
		rows, whole, lines = append(rows, strings.ReplaceAll(cut, " ", ".")), append(whole, strings.ReplaceAll(line,
			" ", ".")), append(lines, i+1)
	}
	for len(rows) > 0 && rows[len(rows)-1] == "" {
		rows, whole = rows[:len(rows)-1], whole[:len(whole)-1]
	}
	c, err := fromLines(rows, lines)
	if err != nil {
		if all, bad := fromLines(whole, lines); bad == nil {
			return all, nil
		}
	}
	return c, err
}

// blank makes one blank of all that look like one, tabs and those that do not break a line among them.
func blank(r rune) rune {
	if unicode.IsSpace(r) {
		return ' '
	}
	return r
}

const byteOrder = "\uFEFF" // the mark that some programs put before text

// fromLines is FromRows with errors that name the line of the file.
func fromLines(rows []string, lines []int) (*Chart, error) {
	if len(rows) == 0 {
		return nil, fmt.Errorf("line 1: no rows; a chart has one line a row")
	}
	c, err := FromRows(rows)
	if e, ok := err.(*RowError); ok && e.Index < len(lines) {
		return nil, fmt.Errorf("line %d: %w", lines[e.Index], e.Err)
	}
	return c, err
}

// Text writes what ParseText reads.
func (c *Chart) Text() string {
	return strings.Join(c.Rows(), "\n") + "\n"
}

// ParseCSV reads a chart written as CSV: the top row first, one character a field.
func ParseCSV(r io.Reader) (*Chart, error) {
	data, err := io.ReadAll(r)
	if err != nil {
		return nil, err
	}
	text := strings.TrimPrefix(string(data), byteOrder)
	in := csv.NewReader(strings.NewReader(text))
	in.FieldsPerRecord = -1
	first, _, _ := strings.Cut(text, "\n")
	for _, mark := range ";\t" { // between cells, where no comma is
		if !strings.Contains(first, ",") && strings.ContainsRune(first, mark) {
			in.Comma = mark
		}
	}
	var rows []string
	var lines []int
	for {
		record, err := in.Read()
		if err == io.EOF {
			return fromLines(rows, lines)
		}
		if err != nil {
			return nil, err
		}
		for i, field := range record {
			if strings.TrimSpace(field) == "" { // a blank is the ground
				record[i] = "."
				continue
			}
			if utf8.RuneCountInString(field) != 1 {
				line, col := in.FieldPos(i)
				return nil, fmt.Errorf("line %d, column %d: %q: one character a cell", line, col, field)
			}
		}
		line, _ := in.FieldPos(0)
		rows, lines = append(rows, strings.Join(record, "")), append(lines, line)
	}
}

// WriteCSV writes what ParseCSV reads.
func (c *Chart) WriteCSV(w io.Writer) error {
	out := csv.NewWriter(w)
	for _, row := range c.Rows() {
		if err := out.Write(strings.Split(row, "")); err != nil {
			return err
		}
	}
	out.Flush()
	return out.Error()
}
