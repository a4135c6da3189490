// Package account is the door of a shop: signing in, the people, and how a phone comes to trust the
// shop's own certificate.
package account

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"net"
	"net/http"
	"net/netip"
	"slices"
	"strconv"
	"strings"
	"sync/atomic"
	"time"

	"github.com/alexedwards/scs/sqlite3store"
	"github.com/alexedwards/scs/v2"
	lru "github.com/hashicorp/golang-lru/v2"
	"golang.org/x/time/rate"

	"orpine/internal/account"
	"orpine/internal/lan"
	"orpine/internal/ledger"
	"orpine/internal/web/ui"
)

// How long a session lasts, and how often one may try to get in: some tries at once, then one in
// a while, from one address and for one name.
const (
	sessionLasts = 30 * 24 * time.Hour
	triesFrom    = 10 // phones may come by one address
	triesFor     = 5
	tryEvery     = 12 * time.Second
	deviceLasts  = 400 * 24 * time.Hour
)

// Door lets people in.
type Door struct {
	Proxies []netip.Prefix // that are trusted to say whom they forward for
	*account.Accounts
	Authority *lan.Authority // of the shop's network; nil on this machine alone
	At        netip.AddrPort // that phones dial; every address of this machine where it names none

	plain, secure *scs.SessionManager
	attempts      *lru.Cache[string, *rate.Limiter]
	named         atomic.Bool // somebody is, so that an account is asked for
}

// NewDoor returns the door of a shop.
func NewDoor(a *account.Accounts) (*Door, error) {
	attempts, err := lru.New[string, *rate.Limiter](10_000)
	if err != nil {
		return nil, err
	}
	kept := sqlite3store.New(a.DB())
	manager := func(secure bool, name string) *scs.SessionManager {
		m := scs.New()
		m.Store, m.Lifetime, m.HashTokenInStore = kept, sessionLasts, true // who reads the file has no session
		m.Cookie.Name, m.Cookie.Secure, m.Cookie.HttpOnly, m.Cookie.SameSite = name, secure, true, http.SameSiteLaxMode
		return m
	}
	return &Door{Accounts: a, plain: manager(false, "orpine"), secure: manager(true, "__Host-orpine"), attempts: attempts}, nil
}

// Close stops tidying the sessions.
func (d *Door) Close() {
	for _, m := range []*scs.SessionManager{d.plain, d.secure} {
		if s, ok := m.Store.(*sqlite3store.SQLite3Store); ok {
			s.StopCleanup()
			return // they share it
		}
	}
}

type managerKey struct{}

// Handler finds out who makes each request. Where nobody is named and nobody can come from the
// network, no account is asked for.
func (d *Door) Handler(next http.Handler) http.Handler {
	seated := http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		seat, err := d.seat(r)
		if err != nil {
			http.Error(w, "Who you are could not be looked up: access.db in the data directory cannot be read. Nothing was stored.", http.StatusServiceUnavailable)
			return
		}
		next.ServeHTTP(w, r.WithContext(account.Sit(r.Context(), seat)))
	})
	plain, secure := d.plain.LoadAndSave(seated), d.secure.LoadAndSave(seated)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if strings.HasPrefix(r.URL.Path, "/assets/") {
			next.ServeHTTP(w, nobodys(r))
			return
		}
		guarded, err := d.guarded(r.Context())
		switch {
		case err != nil:
			http.Error(w, "The shop cannot be read. Nothing was stored.", http.StatusServiceUnavailable)
		case !guarded:
			next.ServeHTTP(w, r)
		case r.TLS != nil:
			secure.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), managerKey{}, d.secure)))
		default:
			plain.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), managerKey{}, d.plain)))
		}
	})
}

// nobodys is a request of nobody, for what needs nobody.
func nobodys(r *http.Request) *http.Request {
	return r.WithContext(account.Sit(r.Context(), account.Seat{}))
}

// guarded tells whether an account is asked for.
func (d *Door) guarded(ctx context.Context) (bool, error) {
	if d.Authority != nil || d.named.Load() {
		return true, nil
	}
	empty, err := d.Empty(ctx)
	if err == nil && !empty {
		d.named.Store(true)
	}
	return !empty, err
}

func manager(ctx context.Context) *scs.SessionManager {
	m, _ := ctx.Value(managerKey{}).(*scs.SessionManager)
	return m
}

// seat is who makes a request.
func (d *Door) seat(r *http.Request) (account.Seat, error) {
	ctx := r.Context()
	id := manager(ctx).GetString(ctx, "person")
	if id == "" {
		return account.Seat{}, nil
	}
	who, err := d.Here(ctx, id)
	if errors.Is(err, ledger.ErrNotFound) {
		return account.Seat{}, nil
	}
	if err != nil {
		return account.Seat{}, err
	}
	ended, err := d.Ended(ctx, id)
	if err != nil || ended != manager(ctx).GetInt64(ctx, "ended") {
		return account.Seat{}, err
	}
	return account.Seat{Person: who, Ended: ended}, nil
}

// seated tells whether who once signed in still is.
func (d *Door) seated(ctx context.Context, seat account.Seat) bool {
	if seat.Person == nil {
		return false
	}
	who, err := d.Here(ctx, seat.ID)
	ended, wrong := d.Ended(ctx, seat.ID)
	return err == nil && wrong == nil && who.Role == seat.Role && ended == seat.Ended
}

// signIn begins a session of someone, under a name of its own: one that was known before is none.
func (d *Door) signIn(ctx context.Context, person string) error {
	m := manager(ctx)
	if m == nil { // it was unguarded a moment ago
		return errNoSession
	}
	if err := m.RenewToken(ctx); err != nil {
		return fmt.Errorf("beginning a session: %w", err)
	}
	ended, err := d.Ended(ctx, person)
	if err != nil {
		return err
	}
	m.Remove(ctx, byCode)
	m.Put(ctx, "person", person)
	m.Put(ctx, "ended", ended)
	return nil
}

var errNoSession = errors.New("there is no session to begin")

// allowed tells whether one more try to get in may be made: wrong ones slow the address that they
// come from, and the name only for devices that never signed in as it, so that nobody is kept out of
// their own phone by others. person is whose name it is, "" for nobody's.
func (d *Door) allowed(r *http.Request, whom, person string) bool {
	if !d.limit("from "+d.from(r), triesFrom).Allow() {
		return false
	}
	if knows, err := d.Knows(r.Context(), deviceOf(r), person); err == nil && knows {
		return true
	}
	return whom == "" || d.limit("for "+account.Skeleton(whom), triesFor).Allow()
}

// from is the address that a request comes from: the one that dialled, or, where that is a trusted proxy,
// the last one that it was forwarded for and that is none itself. What anybody else forwards counts for
// nothing.
func (d *Door) from(r *http.Request) string {
	host, _, _ := net.SplitHostPort(r.RemoteAddr)
	forwarded := strings.Split(strings.Join(r.Header.Values("X-Forwarded-For"), ","), ",")
	for i := len(forwarded) - 1; i >= 0 && d.trusts(host); i-- {
		if one := strings.TrimSpace(forwarded[i]); one != "" {
			host = one
		}
	}
	return host
}

func (d *Door) trusts(host string) bool {
	addr, err := netip.ParseAddr(host)
	return err == nil && slices.ContainsFunc(d.Proxies, func(p netip.Prefix) bool { return p.Contains(addr.Unmap()) })
}

// deviceCookie carries the mark of a device, by which it is known again after it signed out.
const deviceCookie = "orpine-device"

func deviceOf(r *http.Request) string {
	c, err := r.Cookie(deviceCookie)
	if err != nil || len(c.Value) > 64 {
		return ""
	}
	return c.Value
}

// known keeps that someone signed in from the device of a request, marking it where it has no mark.
func (d *Door) known(w http.ResponseWriter, r *http.Request, person string) error {
	mark := deviceOf(r)
	if mark == "" {
		mark = rand.Text()
		http.SetCookie(w, &http.Cookie{Name: deviceCookie, Value: mark, Path: "/", MaxAge: int(deviceLasts.Seconds()), HttpOnly: true, Secure: r.TLS != nil, SameSite: http.SameSiteLaxMode})
	}
	return d.Remember(r.Context(), mark, person)
}

// limit is how often something may be tried. One that is in use is not forgotten for many others.
func (d *Door) limit(key string, tries int) *rate.Limiter {
	if l, ok := d.attempts.Get(key); ok {
		return l
	}
	l := rate.NewLimiter(rate.Every(tryEvery), tries)
	if before, ok, _ := d.attempts.PeekOrAdd(key, l); ok {
		return before
	}
	return l
}

// reenter compares a password with that of whoever is signed in. A Problem is at "password".
func (d *Door) reenter(ctx context.Context, seat account.Seat, password string) error {
	if seat.Person == nil {
		return ledger.ErrNotFound
	}
	has, err := d.HasPassword(ctx, seat.ID)
	switch {
	case err != nil:
		return err
	case !has:
		return ledger.Problems{"password": "you have none yet: set one under your name, then sign"}
	case password == "":
		return ledger.Problems{"password": "your password once more: it is your signature"}
	}
	wrong := d.limit("signs "+seat.ID, triesFor) // only tries that failed count: who signs much is no thief
	if wrong.Tokens() < 1 {
		return ledger.Problems{"password": "tried too often: wait a minute"}
	}
	is, err := d.Is(ctx, seat.ID, password)
	if err == nil && !is {
		wrong.Allow()
		err = ledger.Problems{"password": "is not yours"}
	}
	return err
}

// inspects tells whether a name is an inspector's of this shop.
func (d *Door) inspects(ctx context.Context, name string) bool {
	who, err := d.Named(ctx, name)
	return err == nil && who.Role == account.Inspector
}

// Origins are how phones reach the shop; none on this machine alone.
func (d *Door) Origins() (out []string) {
	if d.Authority == nil {
		return nil
	}
	if !d.At.Addr().IsUnspecified() {
		return []string{"https://" + d.At.String()}
	}
	for _, addr := range lan.Addresses() {
		out = append(out, "https://"+netip.AddrPortFrom(addr, d.At.Port()).String())
	}
	if name := lan.Name(); name != "" {
		out = append(out, "https://"+net.JoinHostPort(name, strconv.Itoa(int(d.At.Port()))))
	}
	return out
}

func (d *Door) origin() string {
	if all := d.Origins(); len(all) > 0 {
		return all[0]
	}
	return ""
}

// FromNetwork lets requests through that came to an address, or the name, of this machine, and
// no other host: a name that someone else made lead here is refused.
func (d *Door) FromNetwork(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		host := r.Host
		if h, _, err := net.SplitHostPort(host); err == nil {
			host = h
		}
		if d.own(r, strings.Trim(host, "[]")) {
			r = r.WithContext(ui.AtHost(r.Context(), host))
		}
		next.ServeHTTP(w, r)
	})
}

func (d *Door) own(r *http.Request, host string) bool {
	if host == lan.Name() {
		return host != ""
	}
	addr, err := netip.ParseAddr(host)
	local, ok := r.Context().Value(http.LocalAddrContextKey).(net.Addr)
	if err != nil || !ok {
		return false
	}
	at, err := netip.ParseAddrPort(local.String())
	return err == nil && at.Addr().Unmap().WithZone("") == addr.Unmap().WithZone("") && lan.Private(addr)
}
