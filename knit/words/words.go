// Package words puts numbers and beginnings of sentences together, for findings, steps and
// pages alike. It imports nothing of Vindel's.
package words

import (
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Count is a number with its word: "1 stitch", "3 stitches".
func Count(n int, one, many string) string { return strconv.Itoa(n) + " " + Plural(n, one, many) }

// Stitches is so many stitches.
func Stitches(n int) string { return Count(n, "stitch", "stitches") }

// Plural is the word for n of something.
func Plural(n int, one, many string) string {
	if n == 1 {
		return one
	}
	return many
}

// Capital begins a text with a capital letter, Small with a small one.
func Capital(s string) string { return first(s, unicode.ToUpper) }

// Small begins a text with a small letter.
func Small(s string) string { return first(s, unicode.ToLower) }

func first(s string, f func(rune) rune) string {
	r, n := utf8.DecodeRuneInString(s)
	if n == 0 {
		return s
	}
	return string(f(r)) + s[n:]
}

// List joins words: "2, 4 or 8", the last with a word of its own.
func List(parts []string, last string) string {
	if n := len(parts); n > 1 {
		return strings.Join(parts[:n-1], ", ") + " " + last + " " + parts[n-1]
	}
	return strings.Join(parts, "")
}
