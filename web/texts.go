package web

import (
	"bytes"
	"cmp"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"path"
	"regexp"
	"slices"
	"strings"
	"unicode"

	"github.com/gin-gonic/gin"
	"golang.org/x/net/html"
)

// Texts of the pages are written in English where they are made, in templates and in the core's
// sentences. A page in another language is put over on its way out: every text of it, and every
// attribute that is read out, is looked up in that language's catalogue, texts/de.txt. What stands in
// no catalogue stays English. JSON, files and the command line are English always.

// language is a catalogue: sentences by their English, and patterns with places for what differs.
type language struct {
	Code, Name string
	exact      map[string]string
	patterns   map[string][]pattern // by the first word of their English, "" where it is a place
}

// pattern is an English sentence with places, {name}, and the sentence in the other language, which has
// the same ones in its own order. What stands in a place is put over by itself.
type pattern struct {
	english *regexp.Regexp
	parts   []string // of the other sentence: texts and, at odd indexes, numbers of groups
	literal int      // letters that are no place: the more, the more it says
}

var place = regexp.MustCompile(`\{([a-z0-9]+)\}`)

// readLanguage reads a catalogue: a line "English = other", the name of the language on the first line
// after ";", other lines that begin with ; are remarks. An empty other side is not put over yet.
func readLanguage(code, text string) (*language, error) {
	l := &language{Code: code, exact: map[string]string{}, patterns: map[string][]pattern{}}
	for n, line := range strings.Split(text, "\n") {
		line = strings.TrimSpace(line)
		if remark, ok := strings.CutPrefix(line, ";"); ok || line == "" {
			if l.Name == "" {
				l.Name = strings.TrimSpace(remark)
			}
			continue
		}
		english, other, ok := strings.Cut(line+" ", " = ")
		if !ok {
			return nil, fmt.Errorf("%s, line %d: English = other", code, n+1)
		}
		if other = strings.TrimSpace(other); other == "" {
			continue
		}
		if !place.MatchString(english) {
			l.exact[english] = other
			continue
		}
		p, err := newPattern(english, other)
		if err != nil {
			return nil, fmt.Errorf("%s, line %d: %w", code, n+1, err)
		}
		first := firstWord(english)
		if strings.Contains(first, "{") {
			first = ""
		}
		l.patterns[first] = append(l.patterns[first], p)
	}
	for _, list := range l.patterns {
		slices.SortStableFunc(list, func(a, b pattern) int { return cmp.Compare(b.literal, a.literal) })
	}
	return l, nil
}

func firstWord(s string) string {
	word, _, _ := strings.Cut(s, " ")
	return word
}

func newPattern(english, other string) (p pattern, err error) {
	groups := map[string]string{}
	expr, at := "^", 0
	for _, m := range place.FindAllStringSubmatchIndex(english, -1) {
		literal, name := english[at:m[0]], english[m[2]:m[3]]
		p.literal += len(literal)
		expr += regexp.QuoteMeta(literal)
		switch {
		case name[0] == 'n': // a number
			expr += `([\d.–×+−]+)`
		case name == "x" || name == "what" || name == "text": // anything
			expr += `(.+?)`
		default: // one thing, without what goes between several; labels have commas without blanks
			expr += `((?:[^,;]|,[^ ])+?)`
		}
		groups[name], at = fmt.Sprint(len(groups)+1), m[1]
	}
	if len(groups) > 9 {
		return p, fmt.Errorf("%q has more than nine places", english)
	}
	p.literal += len(english[at:])
	if p.english, err = regexp.Compile(expr + regexp.QuoteMeta(english[at:]) + "$"); err != nil {
		return p, err
	}
	at = 0
	for _, m := range place.FindAllStringSubmatchIndex(other, -1) {
		group, ok := groups[other[m[2]:m[3]]]
		if !ok {
			return p, fmt.Errorf("%s: %q has no such place", other[m[0]:m[1]], english)
		}
		p.parts, at = append(p.parts, other[at:m[0]], group), m[1]
	}
	p.parts = append(p.parts, other[at:])
	return p, nil
}

// mostDeep bounds how often a place's text is put over within another's.
const mostDeep = 6

// over is a text in the language; missing is told what of it stands in no catalogue.
func (l *language) over(text string, deep int, missing func(string)) string {
	lead := text[:len(text)-len(strings.TrimLeftFunc(text, unicode.IsSpace))]
	tail := text[len(strings.TrimRightFunc(text, unicode.IsSpace)):]
	core := strings.Join(strings.Fields(text), " ")
	if core == "" || !strings.ContainsFunc(core, unicode.IsLetter) {
		return text
	}
	if to, ok := l.exact[core]; ok {
		return lead + to + tail
	}
	if deep < mostDeep {
		for _, list := range [][]pattern{l.patterns[firstWord(core)], l.patterns[""]} {
			for i := range list {
				m := list[i].english.FindStringSubmatch(core)
				if m == nil {
					continue
				}
				var b strings.Builder
				b.WriteString(lead)
				for k, part := range list[i].parts {
					if k%2 == 0 {
						b.WriteString(part)
						continue
					}
					b.WriteString(l.over(m[part[0]-'0'], deep+1, missing))
				}
				return b.String() + tail
			}
		}
	}
	if deep < mostDeep {
		for _, between := range []string{"; ", " · ", ", "} {
			parts := strings.Split(core, between)
			if len(parts) == 1 {
				continue
			}
			for i, part := range parts {
				parts[i] = l.over(part, deep+1, missing)
			}
			return lead + strings.Join(parts, between) + tail
		}
		for _, edge := range []string{", ", "; ", ","} { // what goes on from a text before, or into one after
			if rest, ok := strings.CutPrefix(core, edge); ok {
				return lead + edge + l.over(rest, deep+1, missing) + tail
			}
			if rest, ok := strings.CutSuffix(core, edge); ok {
				return lead + l.over(rest, deep+1, missing) + edge + tail
			}
		}
	}
	if missing != nil {
		missing(core)
	}
	if !wordy.MatchString(core) { // needles, yarns by their letter
		return text
	}
	return lead + ownFrom + text[len(lead):len(text)-len(tail)] + ownTo + tail
}

// What stands in no catalogue is hers: a name, a note, a word of her machine. It is between these until it is written,
// and then in an element without a language, since nobody knows which one it is in.
const ownFrom, ownTo = "\uE000", "\uE001"

var (
	wordy    = regexp.MustCompile(`\pL{2,}`)
	ownMarks = strings.NewReplacer(ownFrom, "", ownTo, "")
	ownSpans = strings.NewReplacer(ownFrom, `<span lang="">`, ownTo, "</span>")
)

// plainOnly are the elements that hold text and nothing else.
var plainOnly = []string{"title", "option", "text", "tspan"}

// readOut are the attributes of a page that are read out.
var readOut = []string{"title", "aria-label", "placeholder", "alt", "data-say", "data-words"}

// page is a page in the language.
func (l *language) page(data []byte, missing func(string)) []byte {
	var out bytes.Buffer
	z := html.NewTokenizer(bytes.NewReader(data))
	var silent, within string // the element whose text is not for readers, the one that was opened last
	for {
		kind := z.Next()
		raw := z.Raw()
		switch kind {
		case html.ErrorToken:
			if z.Err() != io.EOF {
				return data
			}
			return out.Bytes()
		case html.TextToken:
			if silent != "" {
				out.Write(raw)
				continue
			}
			text := html.UnescapeString(string(raw))
			switch to := l.over(text, 0, missing); {
			case to == text:
				out.Write(raw)
			case slices.Contains(plainOnly, within):
				out.WriteString(html.EscapeString(ownMarks.Replace(to)))
			default:
				out.WriteString(ownSpans.Replace(html.EscapeString(to)))
			}
		case html.StartTagToken, html.SelfClosingTagToken:
			raw = slices.Clone(raw)
			name, more := z.TagName()
			tag := string(name)
			within = tag
			if tag == "script" || tag == "style" || tag == "textarea" {
				silent = tag
			}
			for more {
				var key, value []byte
				key, value, more = z.TagAttr()
				if slices.Contains(readOut, string(key)) && len(value) > 0 {
					if to := ownMarks.Replace(l.over(string(value), 0, missing)); to != string(value) {
						raw = replaceAttr(raw, string(key), to)
					}
				}
			}
			if tag == "html" {
				raw = replaceAttr(raw, "lang", l.Code)
			}
			out.Write(raw)
		case html.EndTagToken:
			raw = slices.Clone(raw)
			if name, _ := z.TagName(); string(name) == silent {
				silent = ""
			}
			out.Write(raw)
		default:
			out.Write(raw)
		}
	}
}

// replaceAttr gives an attribute of a tag another value.
func replaceAttr(tag []byte, key, value string) []byte {
	at := bytes.Index(tag, []byte(" "+key+`="`))
	if at < 0 {
		return tag
	}
	from := at + len(key) + 3
	end := bytes.IndexByte(tag[from:], '"')
	if end < 0 {
		return tag
	}
	return slices.Concat(tag[:from], []byte(html.EscapeString(value)), tag[from+end:])
}

// languages are the catalogues that ship, by their code.
func languages() (map[string]*language, error) {
	all := map[string]*language{}
	entries, err := files.ReadDir("texts")
	if err != nil {
		return nil, err
	}
	for _, e := range entries {
		code := strings.TrimSuffix(e.Name(), ".txt")
		if code == "en" { // what there is to put over
			continue
		}
		data, err := files.ReadFile(path.Join("texts", e.Name()))
		if err != nil {
			return nil, err
		}
		if all[code], err = readLanguage(code, string(data)); err != nil {
			return nil, err
		}
	}
	return all, nil
}

// languageOf is the catalogue that a browser has chosen; nil: English.
func (s *Server) languageOf(c *gin.Context) *language {
	code, _ := c.Cookie("language")
	return s.languages[code]
}

// setLanguage remembers a language for this browser.
func (s *Server) setLanguage(c *gin.Context) {
	code := c.PostForm("language")
	if s.languages[code] == nil {
		code = ""
	}
	http.SetCookie(c.Writer, &http.Cookie{Name: "language", Value: code, Path: "/", MaxAge: 400 * 24 * 3600,
		HttpOnly: true,
		SameSite: http.SameSiteLaxMode})
	to := "/words"
	if from, err := url.Parse(c.Request.Referer()); err == nil && from.Path == "/" {
		to = "/"
	}
	c.Redirect(http.StatusSeeOther, to)
}
