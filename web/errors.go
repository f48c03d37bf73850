package web

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"unicode/utf8"

	"github.com/gin-gonic/gin"

	"vindel/knit/edit"
	"vindel/knit/piece"
	"vindel/store"
)

// inputError is an error that is the user's to mend.
type inputError struct{ error }

func (e inputError) Unwrap() error { return e.error }

// tooLong refuses a text of more characters than it may have.
func tooLong(what, text string, most int) error {
	if n := utf8.RuneCountInString(text); n > most {
		return inputError{fmt.Errorf("%s has %d characters: at most %d", what, n, most)}
	}
	return nil
}

// fail turns an error into an answer, in one place. What is nobody's but ours is logged,
// with the request's id, and the answer names that id instead of the error.
func (s *Server) fail(c *gin.Context, err error) {
	var broken brokenError
	if errors.As(err, &broken) && !wantsJSON(c) {
		s.brokenPiece(c, broken)
		return
	}
	status, words := answerTo(err)
	if status == http.StatusAccepted && (c.Request.Method != http.MethodGet || c.GetHeader("HX-Request") != "") {
		status = http.StatusTooEarly
		words = "This piece is still being worked out, so that was not done. Try it again in a moment."
	}
	if status == http.StatusInsufficientStorage {
		slog.ErrorContext(c.Request.Context(), "the store is in trouble", "request", c.GetString(requestKey),
			"route", c.FullPath(), "error", err)
		if c.Request.Method == http.MethodGet {
			words = store.Explain(err).Words
		}
	}
	if status == http.StatusInternalServerError {
		id := c.GetString(requestKey)
		slog.ErrorContext(c.Request.Context(), "a request failed", "request", id, "method", c.Request.Method, "route",
			c.FullPath(), "error", err)
		words = fmt.Sprintf("Something went wrong here, not in what you did. The log has it under %s.", id)
	}
	if wantsJSON(c) {
		c.AbortWithStatusJSON(status, gin.H{"error": words})
		return
	}
	c.Status(status)
	v := messageView{Page: s.page(c, "Vindel"), Title: "That could not be done", Words: words}
	if status == http.StatusAccepted {
		c.Header("Refresh", "1")
		v.Title = "One moment"
	}
	s.render(c, "message", v)
	c.Abort()
}

// brokenPiece answers with what can be done about a stored piece that cannot be opened.
func (s *Server) brokenPiece(c *gin.Context, broken brokenError) {
	c.Status(http.StatusUnprocessableEntity)
	s.render(c, "message", messageView{Page: s.page(c, "Vindel"), Title: "This piece cannot be opened",
		Words:  broken.Error(),
		Broken: broken.stored.ID, Rev: broken.stored.Rev, CanUndo: broken.stored.CanUndo})
	c.Abort()
}

// answerTo is the status and the words for an error, by what it is.
func answerTo(err error) (status int, words string) {
	var list piece.ErrorList
	var refused *edit.Refused
	var input inputError
	var broken brokenError
	var tooLarge *http.MaxBytesError
	if t := store.Explain(err); t != nil {
		return http.StatusInsufficientStorage, t.Say()
	}
	switch {
	case errors.Is(err, errWorking):
		return http.StatusAccepted, "This piece is large. It is planned and knitted on the simulated bed just now; " +
			"the page comes by itself."
	case errors.Is(err, errBusy):
		return http.StatusTooManyRequests, "Another picture is being read or drawn just now. Try it again in a moment."
	case errors.Is(err, errManyFiles):
		return http.StatusTooManyRequests, "Several files are being taken in just now. Try it again in a moment."
	case errors.Is(err, errCrowded):
		return http.StatusServiceUnavailable, "Too many pages listen already. Close some of them."
	case errors.Is(err, context.DeadlineExceeded):
		return http.StatusServiceUnavailable,
			"That took too long and was given up. A smaller piece or picture goes quicker."
	case errors.Is(err, context.Canceled):
		return http.StatusServiceUnavailable, "The request was ended before it was answered."
	case errors.Is(err, store.ErrStale):
		return http.StatusConflict, "Another page has changed this piece meanwhile, so this was not done. Load the " +
			"page again to see the piece as it is."
	case errors.Is(err, store.ErrStaleOther):
		return http.StatusConflict, "Another page has changed this meanwhile, so it was not kept. Load the page again " +
			"to see how it stands."
	case errors.Is(err, store.ErrNoRevision):
		return http.StatusPreconditionRequired, "The page does not say which state it shows, so this was not done. " +
			"Load the page again, and then do it."
	case errors.Is(err, store.ErrNone):
		return http.StatusNotFound, "There is no such thing here."
	case errors.As(err, &tooLarge):
		return http.StatusRequestEntityTooLarge, fmt.Sprintf("That is too large: at most %d MB.", tooLarge.Limit>>20)
	case errors.As(err, &broken):
		return http.StatusUnprocessableEntity, broken.Error()
	case errors.As(err, &input), errors.As(err, &list), errors.As(err, &refused):
		return http.StatusUnprocessableEntity, counted(err)
	}
	return http.StatusInternalServerError, ""
}

const requestKey = "request"

// requestID gives every request a name of its own, by which the log can be searched.
func requestID(c *gin.Context) {
	id := rand.Text()[:8]
	c.Set(requestKey, id)
	c.Header("X-Request-Id", id)
}

// recovered answers a request whose handler broke.
func (s *Server) recovered(c *gin.Context, broke any) { s.fail(c, fmt.Errorf("panic: %v", broke)) }

// wantsJSON says that a script asks, not a form.
func wantsJSON(c *gin.Context) bool {
	return c.ContentType() == gin.MIMEJSON || c.NegotiateFormat(gin.MIMEHTML, gin.MIMEJSON) == gin.MIMEJSON
}
