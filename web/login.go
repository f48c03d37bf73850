package web

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"
	"golang.org/x/crypto/bcrypt"

	"vindel/store"
)

const (
	passphraseKey = "passphrase"
	sessionCookie = "vindel"
	sessionLife   = 30 * 24 * time.Hour
	leastLetters  = 8
)

// SetPassphrase stores the passphrase that any address but loopback asks for.
func SetPassphrase(ctx context.Context, st *store.Store, phrase string) error {
	if len(phrase) < leastLetters || len(phrase) > 72 {
		return errors.New("a passphrase has 8 to 72 letters")
	}
	hash, err := bcrypt.GenerateFromPassword([]byte(phrase), bcrypt.DefaultCost)
	if err != nil {
		return err
	}
	return st.SetSetting(ctx, passphraseKey, string(hash))
}

// HasPassphrase says whether one is set.
func HasPassphrase(ctx context.Context, st *store.Store) (bool, error) {
	hash, err := st.Setting(ctx, passphraseKey)
	return hash != "", err
}

type loginView struct {
	Page  Page
	Wrong string
}

func (s *Server) loginPage(c *gin.Context) {
	s.render(c, "login", loginView{Page: s.page(c, "Passphrase")})
}

// login checks the passphrase; five tries, then one every twelve seconds.
func (s *Server) login(c *gin.Context) {
	v := loginView{Page: s.page(c, "Passphrase")}
	if !s.tries.AllowN(s.now(), 1) {
		v.Wrong = "Too many tries. Wait a little."
		c.Status(http.StatusTooManyRequests)
		s.render(c, "login", v)
		return
	}
	hash, err := s.store.Setting(c.Request.Context(), passphraseKey)
	if err != nil || bcrypt.CompareHashAndPassword([]byte(hash), []byte(c.PostForm("passphrase"))) != nil {
		v.Wrong = "That is not the passphrase."
		c.Status(http.StatusUnauthorized)
		s.render(c, "login", v)
		return
	}
	token := rand.Text()
	if err := s.store.AddSession(c.Request.Context(), hashed(token), s.now().Add(sessionLife)); err != nil {
		s.fail(c, err)
		return
	}
	http.SetCookie(c.Writer, &http.Cookie{Name: sessionCookie, Value: token, Path: "/",
		MaxAge: int(sessionLife.Seconds()), HttpOnly: true, SameSite: http.SameSiteStrictMode})
	c.Redirect(http.StatusSeeOther, "/")
}

func hashed(token string) string {
	sum := sha256.Sum256([]byte(token))
	return hex.EncodeToString(sum[:])
}

// checkSession asks for the passphrase where the address is not loopback.
func (s *Server) checkSession(c *gin.Context) {
	if !s.guard {
		return
	}
	if token, err := c.Cookie(sessionCookie); err == nil {
		if ok, err := s.store.HasSession(c.Request.Context(), hashed(token)); err == nil && ok {
			return
		}
	}
	if wantsJSON(c) {
		c.AbortWithStatusJSON(http.StatusUnauthorized, gin.H{"error": "the passphrase is asked for again"})
		return
	}
	c.Redirect(http.StatusSeeOther, "/login")
	c.Abort()
}
