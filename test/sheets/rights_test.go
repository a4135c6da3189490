package sheets_test

import (
	"context"
	"html"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/cmd/wiring"
	"orpine/internal/account"
	"orpine/internal/airframe"
	"orpine/internal/amending"
	"orpine/internal/asking"
	"orpine/internal/closing"
	"orpine/internal/demo"
	"orpine/internal/holding"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/planning"
	"orpine/internal/riveting"
	"orpine/internal/stores"
	accountsheet "orpine/internal/web/account"
	"orpine/internal/web/ui"
	"orpine/test/loft"
)

// shop is a workshop with a door: people sign in.
type shop struct {
	*loft.Loft
	door    *accountsheet.Door
	handler http.Handler // behind the door
	inside  http.Handler // as it is without, for whom the test says
}

func guarded(t testing.TB, l *loft.Loft) *shop {
	t.Helper()
	access, err := account.OpenAccess(t.Context(), t.TempDir(), time.Now)
	require.NoError(t, err)
	door, err := accountsheet.NewDoor(account.New(l.Ledger, access))
	require.NoError(t, err)
	t.Cleanup(func() { door.Close(); assert.NoError(t, access.Close()) })
	inside, err := wiring.HandlerBeside(l.Workshop, slog.New(slog.DiscardHandler), "test", wiring.Beside{Door: door})
	require.NoError(t, err)
	return &shop{l, door, door.Handler(inside), inside}
}

// person is someone taken into the shop.
func (s *shop) person(name string, role account.Role) *account.Person {
	s.T.Helper()
	n := account.NewPerson{Form: ledger.Form{ID: loft.ID("person " + name + s.T.Name())}, Name: name, Role: role}
	empty, err := s.door.Empty(s.T.Context())
	require.NoError(s.T, err)
	if empty {
		require.NoError(s.T, s.door.Begin(s.T.Context(), account.NewPerson{Form: ledger.Form{ID: loft.ID("first" + s.T.Name())}, Name: "first builder"}))
	}
	require.NoError(s.T, s.door.Add(s.T.Context(), n))
	who, err := s.door.Here(s.T.Context(), n.ID)
	require.NoError(s.T, err)
	return who
}

// as sends a request as someone; nil is nobody.
func (s *shop) as(who *account.Person, method, path string, form url.Values) *httptest.ResponseRecorder {
	r := httptest.NewRequest(method, path, strings.NewReader(form.Encode()))
	if method == http.MethodPost {
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	}
	r.Host = "127.0.0.1:8080"
	w := httptest.NewRecorder()
	s.inside.ServeHTTP(w, r.WithContext(account.Sit(r.Context(), account.Seat{Person: who})))
	return w
}

// exampleOf is an address of a route.
func exampleOf(path string) string {
	parts := strings.Split(path, "/")
	for i, p := range parts {
		if strings.HasPrefix(p, ":") || strings.HasPrefix(p, "*") {
			parts[i] = "11111111-1111-4111-8111-111111111111"
		}
	}
	return strings.Join(parts, "/")
}

// Every route stands in the table of rights, and the table names no other.
func TestTheTableOfRightsNamesEveryRouteAndNoOther(t *testing.T) {
	t.Parallel()
	s := guarded(t, loft.Empty(t))
	all, err := wiring.Routes(s.Workshop, s.door)
	require.NoError(t, err)
	require.Greater(t, len(all), 150)
	known := map[string]bool{}
	for _, route := range all {
		known[route] = true
		method, path, _ := strings.Cut(route, " ")
		assert.NotEmpty(t, ui.Asks(method, path), "%s is in no line of the table: nobody may use it", route)
	}
	for _, route := range ui.AllAsked() {
		assert.True(t, known[route], "%s is in the table, and there is no such route", route)
	}
}

// Every route × every role: what the table does not grant is refused, and what it grants is not.
// written is who may what, as a file of testdata has it: routes, or kinds of entries.
func written(t testing.TB, file string) map[string]string {
	t.Helper()
	data, err := os.ReadFile(filepath.Join("testdata", file))
	require.NoError(t, err)
	out, who := map[string]string{}, ""
	for line := range strings.Lines(string(data)) {
		line = strings.TrimSpace(line)
		switch {
		case strings.HasPrefix(line, "["):
			who = strings.Trim(line, "[]")
		case line != "" && !strings.HasPrefix(line, "#"):
			assert.Empty(t, out[line], "%s is written twice", line)
			out[line] = who
		}
	}
	return out
}

// Each entry asks for a right where it is made, whichever way that is: a role that has none of them is
// refused by the use case itself, and nothing is stored.
func TestEveryKindWithEveryRole(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 2)
	kinds := written(t, "kinds.txt")
	for kind, takes := range l.Ledger.Takes() {
		for _, r := range account.Roles {
			assert.Equal(t, slices.Contains(strings.Split(kinds[kind], ", "), string(r.Role)), r.Role.May(takes...), "%s by a %s", kind, r.Role)
		}
		delete(kinds, kind)
	}
	assert.Empty(t, kinds, "testdata/kinds.txt names kinds that are none")
	form := func() ledger.Form { return l.Form() }
	for kind, try := range map[string]func(ctx context.Context) error{
		"reading": func(ctx context.Context) error { return l.Measuring.Take(ctx, measuring.NewReading{Form: form()}) },
		"setup":   func(ctx context.Context) error { return l.Measuring.Begin(ctx, measuring.NewSetup{Form: form()}) },
		"event": func(ctx context.Context) error {
			return l.Measuring.SomethingMoved(ctx, measuring.SomethingMoved{Form: form()})
		},
		"check": func(ctx context.Context) error {
			return l.Measuring.AddCheck(ctx, measuring.AddedCheck{Form: form(), Setup: loft.BenchSetup, Kind: "level"})
		},
		"holes":      func(ctx context.Context) error { return l.Riveting.Operate(ctx, riveting.HoleOperation{Form: form()}) },
		"holes-fact": func(ctx context.Context) error { return l.Riveting.TellFact(ctx, riveting.HolesFact{Form: form()}) },
		"row":        func(ctx context.Context) error { return l.Riveting.Lay(ctx, riveting.NewRow{Form: form()}) },
		"release":    func(ctx context.Context) error { return l.Holding.Release(ctx, holding.NewRelease{Form: form()}) },
		"step":       func(ctx context.Context) error { return l.Holding.RecordStep(ctx, holding.NewStep{Form: form()}) },
		"withdrawal": func(ctx context.Context) error { return l.Holding.Withdraw(ctx, holding.Withdrawal{Form: form()}) },
		"step-fact":  func(ctx context.Context) error { return l.Holding.TellFact(ctx, holding.StepFact{Form: form()}) },
		"hold":       func(ctx context.Context) error { return l.Holding.StandBefore(ctx, holding.NewStand{Form: form()}) },
		"count":      func(ctx context.Context) error { return l.Closing.Count(ctx, closing.NewCount{Form: form()}) },
		"bay-opened": func(ctx context.Context) error { return l.Closing.OpenAgain(ctx, closing.OpenAgain{Form: form()}) },
		"question":   func(ctx context.Context) error { return l.Asking.Ask(ctx, asking.NewQuestion{Form: form()}) },
		"answer":     func(ctx context.Context) error { return l.Asking.AnswerIt(ctx, asking.Answered{Form: form()}) },
		"part":       func(ctx context.Context) error { return l.Stores.AddPart(ctx, stores.NewPart{Form: form()}) },
		"notice":     func(ctx context.Context) error { return l.Stores.AddNotice(ctx, stores.NewNotice{Form: form()}) },
		"put-right": func(ctx context.Context) error {
			return l.Amending.PutRight(ctx, amending.PutRight{Form: form(), Kind: "hold", Thing: loft.BenchRivet})
		},
		"plan-step-state": func(ctx context.Context) error { return l.Planning.MoveStep(ctx, planning.StepMoved{Form: form()}) },
		"zero-test":       func(ctx context.Context) error { return l.Instruments.Test(ctx, instrument.EndForEnd{Form: form()}) },
		"airframe":        func(ctx context.Context) error { return l.Airframes.Add(ctx, airframe.NewAirframe{Form: form()}) },
	} {
		for _, r := range account.Roles {
			ctx := account.Sit(t.Context(), account.Seat{Person: &account.Person{ID: loft.ID("someone"), Name: "someone", Role: r.Role}})
			before := l.Ledger.Seq()
			err := try(ctx)
			require.Error(t, err, "it says nothing that could be taken")
			refused := strings.Contains(err.Error(), "it is not yours to do, someone")
			assert.Equal(t, !r.Role.May(l.Ledger.Takes()[kind]...), refused, "%s by a %s: %v", kind, r.Role, err)
			assert.Equal(t, before, l.Ledger.Seq())
		}
	}
}

// routeOf is the route of an address, as rights.txt names it; the one with the fewest open places.
func routeOf(all map[string]string, method, address string) (best string) {
	path, _, _ := strings.Cut(address, "?")
	for route := range all {
		pattern, ok := strings.CutPrefix(route, method+" ")
		if !ok {
			continue
		}
		a, b := strings.Split(pattern, "/"), strings.Split(path, "/")
		if len(a) != len(b) || slices.ContainsFunc(a, func(p string) bool {
			i := slices.Index(a, p)
			return p != b[i] && !strings.HasPrefix(p, ":")
		}) {
			continue
		}
		if best == "" || strings.Count(route, ":") < strings.Count(best, ":") {
			best = route
		}
	}
	return best
}

// A page draws the forms that are one's own to send, and no other; its deeds carry the name of the
// account. Nobody edits it afterwards.
func TestAPageDrawsTheFormsOfItsReader(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	s := guarded(t, l)
	all := written(t, "rights.txt")
	form := regexp.MustCompile(`<form [^>]*method="post"[^>]*action="([^"]*)"|<form [^>]*action="([^"]*)"[^>]*method="post"`)
	drawn := map[account.Role]map[string]bool{}
	for _, r := range account.Roles {
		p := s.in(s.with(s.person("the "+string(r.Role), r.Role)))
		drawn[r.Role] = map[string]bool{}
		for _, path := range []string{"/", "/holds/" + demo.HoldOf("tailplane on rails"), "/setups/" + loft.OnRails + "?spot=1", "/rows/" + demo.ID("row 3"), "/order", "/stores", "/instruments", "/bays/" + demo.Bay(), "/questions", "/cures", "/assemblies/" + demo.ID("tailplane"), "/money", "/hours", "/slips"} {
			status, _, body := p.get(path)
			require.Equal(t, http.StatusOK, status, path)
			for _, m := range form.FindAllStringSubmatch(body, -1) {
				route := routeOf(all, http.MethodPost, html.UnescapeString(m[1]+m[2]))
				require.NotEmpty(t, route, "%s: %s", path, m[0])
				drawn[r.Role][route] = true
				assert.True(t, all[route] == "anybody" || slices.Contains(strings.Split(all[route], ", "), string(r.Role)), "%s draws %s for a %s", path, route, r.Role)
			}
			for _, field := range regexp.MustCompile(`<input name="by"[^>]*>`).FindAllString(body, -1) {
				assert.Equal(t, `<input name="by" readonly value="the `+string(r.Role)+`">`, field, path)
			}
		}
	}
	for role, routes := range map[account.Role][]string{
		account.Builder: {"POST /holds/:id/release", "POST /airframes/:id/step", "POST /rows/:id/holes", "POST /setups/:id/readings", "POST /stock", "POST /slips"},
		account.Helper:  {"POST /rows/:id/holes", "POST /setups/:id/readings", "POST /bays/:id/counts", "POST /slips", "POST /holds/:id/fact"}, account.Inspector: {"POST /holds/:id/release", "POST /airframes/:id/questions/:question/answer"},
	} {
		for _, route := range routes {
			assert.True(t, drawn[role][route], "a %s finds the form of %s", role, route)
		}
	}
	for _, route := range []string{"POST /rows/:id/holes", "POST /holds/:id/release", "POST /slips", "POST /work"} {
		assert.False(t, drawn[account.Viewer][route], "a viewer looks")
	}
}

func TestEveryRouteWithEveryRole(t *testing.T) {
	t.Parallel()
	s := guarded(t, loft.Bench(t, 2))
	roles := map[account.Role]*account.Person{"": nil}
	for _, r := range account.Roles {
		roles[r.Role] = s.person("the "+string(r.Role), r.Role)
	}
	all, err := wiring.Routes(s.Workshop, s.door)
	require.NoError(t, err)
	for _, route := range all {
		method, path, _ := strings.Cut(route, " ")
		if strings.HasPrefix(path, "/exercises") || strings.HasPrefix(path, "/attempts") || path == "/sign-out" {
			continue // of the trainer; of a session
		}
		may := written(t, "rights.txt")[route]
		require.NotEmpty(t, may, "%s: say in testdata/rights.txt who may", route)
		for role, who := range roles {
			status := s.as(who, method, exampleOf(path), nil).Code
			switch {
			case may == "anybody" || who != nil && slices.Contains(strings.Split(may, ", "), string(role)):
				assert.NotContains(t, []int{http.StatusUnauthorized, http.StatusForbidden}, status, "%s as %q", route, role)
			case who == nil:
				assert.Equal(t, map[bool]int{true: http.StatusSeeOther, false: http.StatusUnauthorized}[method == http.MethodGet], status, "%s as nobody", route)
			default:
				assert.Equal(t, http.StatusForbidden, status, "%s as %q", route, role)
			}
		}
	}
	for role, who := range roles { // an address that is none tells nobody anything
		assert.Equal(t, map[bool]int{true: http.StatusSeeOther, false: http.StatusNotFound}[who == nil], s.as(who, http.MethodGet, "/etc/passwd", nil).Code, role)
	}
}
