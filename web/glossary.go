package web

import (
	"net/http"
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

// words shows what the words mean.
func (s *Server) words(c *gin.Context) {
	v := struct {
		Page      Page
		Terms     []term
		Languages []*language
		Language  string
	}{Page: s.page(c, "What the words mean"), Terms: glossary()}
	for _, l := range s.languages {
		v.Languages = append(v.Languages, l)
	}
	if l := s.languageOf(c); l != nil {
		v.Language = l.Code
	}
	s.render(c, "glossary", v)
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
