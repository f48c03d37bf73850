package recipe

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
	"unicode/utf8"
)

// Pos is a place in a recipe's text: line and column, both from 1, columns in characters.
type Pos struct{ Line, Col int }

// Before says that a place comes before another.
func (p Pos) Before(q Pos) bool { return p.Line < q.Line || p.Line == q.Line && p.Col < q.Col }

// Error is a fault of a recipe at a place.
type Error struct {
	Pos
	Text string
	Len  int // characters of the word at fault; 0: something is missing there
}

func (e *Error) Error() string { return fmt.Sprintf("line %d, column %d: %s", e.Line, e.Col, e.Text) }

// Errors are the faults of a text in its order. Its text is the first and how many more.
type Errors []*Error

func (l Errors) Error() string {
	switch len(l) {
	case 0:
		return "no faults"
	case 1:
		return l[0].Error()
	}
	return fmt.Sprintf("%v (and %d more)", l[0], len(l)-1)
}

func (l Errors) sorted() Errors {
	slices.SortStableFunc(l, func(a, b *Error) int {
		switch {
		case a.Before(b.Pos):
			return -1
		case b.Before(a.Pos):
			return 1
		}
		return 0
	})
	return l
}

// sort of a word
type sort uint8

const (
	end     sort = iota // of the line
	word                // small letters and figures, a letter first, two or more: of the language, or a name
	letter              // one letter: a yarn
	figures             // a number
	label               // needles by their labels
	text                // between quotation marks
	mark                // = : | , ( ) [ ] + - *
	strange
)

// token is a word of a line with its column, from 1.
type token struct {
	sort sort
	text string // of a text: what stands between its marks
	col  int
	len  int // in characters
}

var (
	labelAt   = regexp.MustCompile(`^[LR][0-9]+(-[LR][0-9]+)?(,[LR][0-9]+(-[LR][0-9]+)?)*`)
	labelHead = regexp.MustCompile(`^[LR][0-9]+`)
	figureAt  = regexp.MustCompile(`^[0-9]+(\.[0-9]*)?`)
	wordAt    = regexp.MustCompile(`^[\pL\pN_]+`)
	isWord    = regexp.MustCompile(`^[a-z][a-z0-9]+$`)
	isLetter  = regexp.MustCompile(`^[A-Za-z]$`)
)

// lex is the words of a line, the last of them its end: one past the last word, without a
// comment. The error is a text without its second mark, or a character that means nothing.
func lex(no int, line string) (tokens []token, err *Error) {
	col, last := 1, 1
	for line != "" {
		r, size := utf8.DecodeRuneInString(line)
		t := token{col: col, text: string(r), len: 1}
		switch {
		case r == ' ' || r == '\t' || r == '\r':
			line, col = line[size:], col+1
			continue
		case r == ';':
			line = ""
			continue
		case r == '"':
			i := strings.IndexByte(line[1:], '"')
			if i < 0 {
				return append(tokens, token{end, "", last, 0}),
					&Error{Pos{no, col}, "a text ends with a quotation mark, on the same line",
						utf8.RuneCountInString(line)}
			}
			t.sort, t.text, size = text, line[1:1+i], i+2
		case strings.ContainsRune("=:|,()[]+-*", r):
			t.sort = mark
		case labelAt.MatchString(line) && wordAt.FindString(line) == labelHead.FindString(line):
			t.text, t.sort = labelAt.FindString(line), label
			size = len(t.text)
		case r >= '0' && r <= '9':
			t.text, t.sort = figureAt.FindString(line), figures
			if w := wordAt.FindString(line[len(t.text):]); w != "" {
				t.text, t.sort = t.text+w, strange
			}
			size = len(t.text)
		default:
			if w := wordAt.FindString(line); w != "" {
				t.text, size = w, len(w)
			}
			switch {
			case isWord.MatchString(t.text):
				t.sort = word
			case isLetter.MatchString(t.text):
				t.sort = letter
			default:
				t.sort = strange
			}
		}
		t.len = utf8.RuneCountInString(line[:size])
		line, col = line[size:], col+t.len
		last = col
		tokens = append(tokens, t)
	}
	return append(tokens, token{end, "", last, 0}), nil
}

// vocabulary is the words of the language, which are no names.
var vocabulary = func() map[string]bool {
	set := map[string]bool{}
	for _, w := range strings.Fields(
		`param from to fits plus starts bare repeat end name pass left right free knit tuck slip held in work
		hold out drop wrap move across cross with by hand cast on bind off take short long yarn none and size rack half full choose card
		program follow at row each counter weights up every lower raise attach remove note look check carriage empty single main second
		but of run all ends middle first last inside place numbered cut runs working others marks width round step`) {
		set[w] = true
	}
	return set
}()
