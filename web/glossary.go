package web

import (
	"maps"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"
)

// term is a word of ours, and what it means.
type term struct{ Word, Meaning string }

// glossary is read from its file: a word a line.
func glossary() (list []term) {
	data, err := files.ReadFile("templates/glossary.txt")
	if err != nil {
		return nil
	}
	for line := range strings.Lines(string(data)) {
		word, meaning, ok := strings.Cut(strings.TrimSpace(line), ": ")
		if ok {
			list = append(list, term{word, meaning})
		}
	}
	return list
}

// spokenView is the languages that the pages beside the machine can be had in, and which is chosen; "": English.
type spokenView struct {
	Languages []*language
	Language  string
}

func (s *Server) spoken(c *gin.Context) (v spokenView) {
	for _, code := range slices.Sorted(maps.Keys(s.languages)) {
		v.Languages = append(v.Languages, s.languages[code])
	}
	if l := s.languageOf(c); l != nil {
		v.Language = l.Code
	}
	return v
}

// words shows what the words mean.
func (s *Server) words(c *gin.Context) {
	s.render(c, "glossary", struct {
		Page   Page
		Terms  []term
		Spoken spokenView
	}{s.page(c, "What the words mean"), glossary(), s.spoken(c)})
}

// wordList is the glossary for the pages' script, which explains words where they stand.
func (s *Server) wordList(c *gin.Context) {
	list := map[string]string{}
	for _, t := range glossary() {
		for word := range strings.SplitSeq(t.Word, ", ") {
			list[strings.ToLower(word)] = t.Meaning
		}
	}
	c.Header("Cache-Control", "private, max-age=3600")
	c.JSON(http.StatusOK, list)
}
