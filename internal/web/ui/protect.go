package ui

import (
	"context"
	"fmt"
	"net"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"orpine/internal/ledger"
)

// policy lets a page use nothing but this program's own files.
const policy = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self'; font-src 'self'; connect-src 'self'; manifest-src 'self'; worker-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"

// usualForm is how large a form may be that does not say otherwise.
const usualForm = 1 << 20

// longestWait is how long an entry may have waited in a phone for its time to be believed.
const longestWait = 30 * 24 * time.Hour

// waiting are the routes of what waits in a phone: a release, a step or a closing is always asked as of
// now.
var waiting = []string{"/rows/:id/holes", "/setups/:id/readings"}

type hostKey struct{}

// AtHost marks a request as one that came to this machine by a name, or an address, of its own.
func AtHost(ctx context.Context, host string) context.Context {
	return context.WithValue(ctx, hostKey{}, host)
}

func named(r *http.Request, host string) bool {
	own, ok := r.Context().Value(hostKey{}).(string)
	return ok && own == host
}

// protect refuses hosts that are not this machine (a name that someone else made
// lead here) and sets the headers that every answer carries.
func (u *UI) protect(c *gin.Context) {
	host := c.Request.Host
	if h, _, err := net.SplitHostPort(host); err == nil {
		host = h
	}
	if ip := net.ParseIP(strings.Trim(host, "[]")); host != "localhost" && (ip == nil || !ip.IsLoopback()) && !named(c.Request, host) {
		c.AbortWithStatus(http.StatusMisdirectedRequest)
		return
	}
	if meant := c.GetHeader("X-Shop"); meant != "" && meant != u.Shop() { // it waited in a phone, for another shop
		c.AbortWithStatus(http.StatusMisdirectedRequest)
		return
	}
	if age, err := strconv.ParseInt(c.GetHeader("X-Age"), 10, 64); err == nil && age > 0 && age < longestWait.Milliseconds() {
		ctx := ledger.TakenAt(c.Request.Context(), u.Ledger.Now().Add(-time.Duration(age)*time.Millisecond))
		waits := slices.Contains(waiting, strings.TrimPrefix(c.FullPath(), u.Base))
		if seen, err := strconv.ParseInt(c.GetHeader("X-Seen"), 10, 64); err == nil && seen > 0 && waits {
			ctx = ledger.Knowing(ctx, seen)
		}
		c.Request = c.Request.WithContext(ctx)
	}
	c.Header("X-Entry", strconv.FormatInt(u.Ledger.Seq(), 10))
	c.Header("Content-Security-Policy", policy)
	c.Header("X-Content-Type-Options", "nosniff")
	c.Header("Referrer-Policy", "same-origin")
	c.Header("Cache-Control", "no-store")
	most := int64(usualForm)
	if large, ok := u.limits[c.FullPath()]; ok {
		most = large
	}
	if c.Request.ContentLength > most {
		says := fmt.Sprintf("What was sent is larger than the %d kB that are taken here. Nothing was stored: go back, and send less of it.", most>>10)
		u.Render(c, http.StatusRequestEntityTooLarge, "error", u.Page(c, "", "Too large", failure{What: "Too large", Next: says}))
		c.Abort()
		return
	}
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, most)
}

// Shop is what tells this workshop from others that may answer at the same address; "" while it has
// no entry.
func (u *UI) Shop() string {
	if id, ok := u.shop.Load().(string); ok {
		return id
	}
	id, err := u.Ledger.Identity(context.Background())
	if err != nil || id == "" {
		return ""
	}
	u.shop.Store(id[:min(len(id), 16)])
	return id[:min(len(id), 16)]
}
