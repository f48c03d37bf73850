package web

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"net/http"
	"net/netip"
	"strings"
	"sync"
	"time"
	"unicode/utf8"

	"github.com/gin-gonic/gin"
	"golang.org/x/crypto/bcrypt"
	"golang.org/x/time/rate"

	"vindel/store"
)

const (
	sessionCookie = "vindel"
	sessionLife   = 30 * 24 * time.Hour
	leastLetters  = 12
	mostBytes     = 72 // that the hash looks at
	mostAgent     = 120
	loginTitle    = "Passphrase"
)

// SetPassphrase stores the passphrase that any address but loopback asks for, and ends every
// session. One that was set when shorter ones were taken works until it is changed.
func SetPassphrase(ctx context.Context, st *store.Store, phrase string) error {
	if utf8.RuneCountInString(phrase) < leastLetters || len(phrase) > mostBytes {
		return fmt.Errorf("a passphrase has at least %d letters, and at most %d bytes", leastLetters, mostBytes)
	}
	if common(phrase) {
		return errors.New("that is one of the first that are tried; take a few words of your own")
	}
	hash, err := bcrypt.GenerateFromPassword([]byte(phrase), bcrypt.DefaultCost)
	if err != nil {
		return err
	}
	return st.SetPassphrase(ctx, string(hash))
}

// common says that a passphrase is among those that are tried first: a well-known one, digits
// or letters in their order, or a short part over and over.
func common(phrase string) bool {
	p := strings.ToLower(phrase)
	bare := strings.Map(func(r rune) rune {
		if r == ' ' || r == '-' || r == '_' || r == '.' {
			return -1
		}
		return r
	}, p)
	for _, known := range []string{"password", "passphrase", "passwort", "letmein", "iloveyou", "administrator",
		"welcome",
		"qwerty", "qwertz", "azerty", "asdfgh", "zxcvbn", "knitting", "vindel", "correcthorsebatterystaple"} {
		rest := strings.Trim(strings.ReplaceAll(bare, known, ""), "0123456789!?")
		if strings.Contains(bare, known) && len(rest) < 4 {
			return true
		}
	}
	for n := 1; n <= 6 && n < len(bare); n++ { // a part over and over
		if strings.Repeat(bare[:n], len(bare)/n+1)[:len(bare)] == bare {
			return true
		}
	}
	for _, order := range []string{"01234567890123456789", "98765432109876543210", "abcdefghijklmnopqrstuvwxyz",
		"qwertyuiopasdfghjklzxcvbnm"} {
		if strings.Contains(order, bare) {
			return true
		}
	}
	return len(bare) < leastLetters/2
}

// HasPassphrase says whether one is set.
func HasPassphrase(ctx context.Context, st *store.Store) (bool, error) {
	hash, err := st.Setting(ctx, store.PassphraseKey)
	return hash != "", err
}

type loginView struct {
	Page  Page
	Wrong string
}

func (s *Server) loginPage(c *gin.Context) {
	s.render(c, "login", loginView{Page: s.page(c, loginTitle)})
}

// tries are the guesses at the passphrase by the address that they come from, so that a
// guesser never keeps its owner out.
type tries struct {
	mu sync.Mutex
	by map[string]*rate.Limiter
}

// Each address has so many tries at once, and then one every tryAgain.
const (
	triesAtOnce = 5
	tryAgain    = 12 * time.Second
	mostTried   = 4096 // addresses that are remembered
)

func (t *tries) allow(addr string, now time.Time) bool {
	if ip, err := netip.ParseAddr(addr); err == nil && ip.Is6() && !ip.Is4In6() {
		if net, err := ip.WithZone("").Prefix(64); err == nil { // one who guesses has the whole of it
			addr = net.String()
		}
	}
	t.mu.Lock()
	defer t.mu.Unlock()
	if len(t.by) >= mostTried {
		for a, l := range t.by {
			if l.TokensAt(now) >= triesAtOnce {
				delete(t.by, a)
			}
		}
	}
	l := t.by[addr]
	if l == nil {
		if len(t.by) >= mostTried {
			return false
		}
		l = rate.NewLimiter(rate.Every(tryAgain), triesAtOnce)
		t.by[addr] = l
	}
	return l.AllowN(now, 1)
}

// login checks the passphrase; five tries for an address, then one every twelve seconds.
func (s *Server) login(c *gin.Context) {
	v := loginView{Page: s.page(c, loginTitle)}
	if !s.tries.allow(c.RemoteIP(), s.now()) {
		v.Wrong = "Too many tries. Wait a little."
		c.Status(http.StatusTooManyRequests)
		s.render(c, "login", v)
		return
	}
	hash, err := s.store.Setting(c.Request.Context(), store.PassphraseKey)
	if err != nil || bcrypt.CompareHashAndPassword([]byte(hash), []byte(c.PostForm("passphrase"))) != nil {
		v.Wrong = "That is not the passphrase."
		c.Status(http.StatusUnauthorized)
		s.render(c, "login", v)
		return
	}
	token := rand.Text()
	agent := []rune(strings.ToValidUTF8(c.Request.UserAgent(), ""))
	if err := s.store.AddSession(c.Request.Context(), store.Session{Token: hashed(token), Begun: s.now(),
		Expires: s.now().Add(sessionLife), Agent: string(agent[:min(len(agent), mostAgent)])}); err != nil {
		s.fail(c, err)
		return
	}
	s.setCookie(c, token, int(sessionLife.Seconds()))
	c.Redirect(http.StatusSeeOther, "/")
}

func (s *Server) setCookie(c *gin.Context, token string, age int) {
	http.SetCookie(c.Writer, &http.Cookie{Name: sessionCookie, Value: token, Path: "/", MaxAge: age, HttpOnly: true,
		Secure: c.Request.TLS != nil, SameSite: http.SameSiteStrictMode})
}

type sessionsView struct {
	Page Page
	List []sessionRow
}

type sessionRow struct {
	Token, Since, Agent string
	Mine                bool
}

// sessions lists the browsers that know the passphrase.
func (s *Server) sessions(c *gin.Context) {
	list, err := s.store.Sessions(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	mine, _ := c.Cookie(sessionCookie)
	v := sessionsView{Page: s.page(c, "Sessions")}
	for _, n := range list {
		row := sessionRow{Token: n.Token, Agent: n.Agent, Since: "before they were dated",
			Mine: n.Token == hashed(mine)}
		if !n.Begun.IsZero() {
			row.Since = since(s.now().Sub(n.Begun))
		}
		v.List = append(v.List, row)
	}
	s.render(c, "sessions", v)
}

// endSession ends the session named, or this one; then the passphrase is asked for again.
func (s *Server) endSession(c *gin.Context) {
	mine, _ := c.Cookie(sessionCookie)
	token := c.PostForm("token")
	if token == "" || token == hashed(mine) {
		token = hashed(mine)
		s.setCookie(c, "", -1)
	}
	if err := s.store.EndSession(c.Request.Context(), token); err != nil {
		s.fail(c, err)
		return
	}
	s.hub.all() // who listens with it looks, and ends
	c.Redirect(http.StatusSeeOther, "/sessions")
}

func hashed(token string) string {
	sum := sha256.Sum256([]byte(token))
	return hex.EncodeToString(sum[:])
}

// checkSession asks for the passphrase where the address is not loopback.
func (s *Server) checkSession(c *gin.Context) {
	if s.mayCome(c) {
		return
	}
	if wantsJSON(c) {
		c.AbortWithStatusJSON(http.StatusUnauthorized, gin.H{"error": "the passphrase is asked for again"})
		return
	}
	c.Redirect(http.StatusSeeOther, "/login")
	c.Abort()
}

// mayCome says that a request has a session, or needs none.
func (s *Server) mayCome(c *gin.Context) bool {
	if !s.guard {
		return true
	}
	token, err := c.Cookie(sessionCookie)
	if err != nil {
		return false
	}
	ok, err := s.store.HasSession(c.Request.Context(), hashed(token))
	return err == nil && ok
}
