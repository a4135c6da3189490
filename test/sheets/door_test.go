package sheets_test

import (
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/account"
	"orpine/internal/lan"
	"orpine/internal/ledger"
	"orpine/internal/logbook"
	"orpine/test/loft"
	"orpine/test/site"
)

// phone is a browser with its cookies; it follows no redirect.
type phone struct {
	t    *testing.T
	http *http.Client
	url  string
}

func (s *shop) phone() *phone {
	server := httptest.NewServer(s.handler)
	s.T.Cleanup(server.Close)
	jar, err := cookiejar.New(nil)
	require.NoError(s.T, err)
	t, _ := s.T.(*testing.T)
	return &phone{t, &http.Client{Jar: jar, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}, server.URL}
}

func (p *phone) post(path string, fields ...string) (status int, to, body string) {
	p.t.Helper()
	form := url.Values{}
	for i := 0; i+1 < len(fields); i += 2 {
		form.Set(fields[i], fields[i+1])
	}
	r, err := p.http.PostForm(p.url+path, form)
	return p.read(r, err)
}

func (p *phone) get(path string) (status int, to, body string) {
	p.t.Helper()
	r, err := p.http.Get(p.url + path)
	return p.read(r, err)
}

func (p *phone) read(r *http.Response, err error) (status int, to, body string) {
	p.t.Helper()
	require.NoError(p.t, err)
	defer r.Body.Close()
	var b strings.Builder
	_, err = io.Copy(&b, r.Body)
	require.NoError(p.t, err)
	return r.StatusCode, r.Header.Get("Location"), b.String()
}

// session is the phone's session; "" for none.
func (p *phone) session() string {
	at, err := url.Parse(p.url)
	require.NoError(p.t, err)
	for _, c := range p.http.Jar.Cookies(at) {
		if c.Name == "orpine" {
			return c.Value
		}
	}
	return ""
}

const words = "three plain words"

// with gives someone a password.
func (s *shop) with(who *account.Person) *account.Person {
	s.T.Helper()
	require.NoError(s.T, s.door.SetPassword(s.T.Context(), who.ID, words))
	return who
}

func TestOnAMachineAloneNobodySignsInUntilSomebodyIsNamed(t *testing.T) {
	t.Parallel()
	s := guarded(t, loft.Empty(t))
	p := s.phone()
	status, _, body := p.get("/people")
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, body, "You work alone on this machine")
	status, _, _ = p.post("/people", "id", loft.ID("viewer"), "name", "viewer", "role", "viewer")
	assert.Equal(t, http.StatusUnprocessableEntity, status, "a shop without a builder would let nobody in")
	status, _, body = p.post("/welcome", "id", loft.ID("builder"), "name", "the builder", "password", "short")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, body, "at least 8 characters")
	assert.Contains(t, body, `value="the builder"`, "what was typed stays")
	status, to, _ := p.post("/welcome", "id", loft.ID("builder"), "name", "the builder", "password", words)
	assert.Equal(t, http.StatusSeeOther, status)
	assert.Equal(t, "/people", to)
	status, to, _ = p.get("/people")
	assert.Equal(t, http.StatusSeeOther, status, "from now on one signs in")
	assert.Equal(t, "/sign-in?back=%2Fpeople", to)
	status, to, _ = p.post("/sign-in", "name", "The Builder", "password", words, "back", "/people")
	assert.Equal(t, http.StatusSeeOther, status)
	assert.Equal(t, "/people", to)
	_, _, body = p.get("/people")
	assert.Contains(t, body, "the builder</b> builder, you")
	status, _, _ = p.get("/welcome")
	assert.Equal(t, http.StatusSeeOther, status, "there is one first builder")
}

func TestTheFirstBuilderFromTheNetworkHasTheCodeOfTheConsole(t *testing.T) {
	t.Parallel()
	s := guarded(t, loft.Empty(t))
	authority, err := lan.Open(t.TempDir(), time.Now)
	require.NoError(t, err)
	s.door.Authority = authority
	code, err := s.door.Code(t.Context(), "")
	require.NoError(t, err)
	p := s.phone()
	_, to, _ := p.get("/sign-in")
	assert.Equal(t, "/welcome", to)
	for _, wrong := range []string{"", "12345678", code[:7]} {
		status, _, body := p.post("/welcome", "id", loft.ID("builder"), "name", "the builder", "password", words, "code", wrong)
		assert.Equal(t, http.StatusUnprocessableEntity, status)
		assert.Contains(t, body, "is not the one that the console shows")
	}
	status, _, body := p.post("/welcome", "id", loft.ID("builder"), "name", strings.Repeat("x", 100), "password", words, "code", code)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, body, "longer than 80 characters", "and the code is not spent by that")
	status, to, _ = p.post("/welcome", "id", loft.ID("builder"), "name", "the builder", "password", words, "code", code[:4]+" "+code[4:])
	assert.Equal(t, http.StatusSeeOther, status)
	assert.Equal(t, "/people", to)
	status, _, _ = p.get("/people")
	assert.Equal(t, http.StatusOK, status)
	status, to, _ = s.phone().post("/welcome", "id", loft.ID("other"), "name", "another", "password", words, "code", code)
	assert.Equal(t, http.StatusSeeOther, status, "the code is spent, and so is the page")
	assert.Equal(t, "/sign-in", to)
}

// A code lets in once, within its time, whom it was given for; the session has a new name then, so
// that one which was planted before is worth nothing.
func TestACodeLetsInOnceAndASessionIsNewThen(t *testing.T) {
	t.Parallel()
	s := guarded(t, loft.Empty(t))
	helper := s.person("helper", account.Helper)
	old, err := s.door.Code(t.Context(), helper.ID)
	require.NoError(t, err)
	code, err := s.door.Code(t.Context(), helper.ID)
	require.NoError(t, err)
	p := s.phone()
	status, _, _ := p.post("/sign-in/code", "code", old)
	assert.Equal(t, http.StatusUnprocessableEntity, status, "a new code voids the one before")
	status, to, _ := p.post("/sign-in/code", "code", code, "back", "//elsewhere.example/")
	assert.Equal(t, http.StatusSeeOther, status)
	assert.Equal(t, "/", to, "it leads to no other site")
	first := p.session()
	assert.NotEmpty(t, first)
	status, _, _ = s.phone().post("/sign-in/code", "code", code)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	code, err = s.door.Code(t.Context(), helper.ID)
	require.NoError(t, err)
	p.post("/sign-in/code", "code", code)
	assert.NotEqual(t, first, p.session())
	stolen := s.phone()
	at, err := url.Parse(stolen.url)
	require.NoError(t, err)
	stolen.http.Jar.SetCookies(at, []*http.Cookie{{Name: "orpine", Value: first}})
	status, _, _ = stolen.get("/")
	assert.Equal(t, http.StatusSeeOther, status, "the name of before is none any more")
}

func TestWhoLeftOrLostAPhoneIsOutEverywhere(t *testing.T) {
	t.Parallel()
	s := guarded(t, loft.Empty(t))
	builder, helper := s.with(s.person("builder", account.Builder)), s.with(s.person("helper", account.Helper))
	in := func(who *account.Person) *phone {
		p := s.phone()
		status, _, _ := p.post("/sign-in", "name", who.Name, "password", words)
		require.Equal(t, http.StatusSeeOther, status)
		return p
	}
	laptop, phone1, phone2 := in(builder), in(helper), in(helper)
	out := func(p *phone) bool { status, _, _ := p.get("/setups"); return status == http.StatusSeeOther }
	require.False(t, out(phone1) || out(phone2) || out(laptop))
	status, _, _ := laptop.post("/people/" + helper.ID + "/out")
	require.Equal(t, http.StatusSeeOther, status)
	assert.True(t, out(phone1) && out(phone2), "a lost phone")
	assert.False(t, out(laptop))
	phone1 = in(helper)
	status, _, _ = laptop.post("/people/"+helper.ID, "id", loft.ID("leaves"), "seen", "0", "role", "helper", "left", "true")
	assert.Equal(t, http.StatusUnprocessableEntity, status, "a page that was made before something changed")
	require.NoError(t, s.door.Change(t.Context(), account.PersonChanged{Form: ledger.Form{ID: loft.ID("leaves")}, Person: helper.ID, Seen: helper.Revised, Role: account.Helper, Left: true}))
	assert.True(t, out(phone1), "a helper who left")
	assert.Equal(t, "Left the shop: helper", s.Log(1)[0].What)
	status, _, _ = phone1.post("/sign-in", "name", "helper", "password", words)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	err := s.door.Change(t.Context(), account.PersonChanged{Form: ledger.Form{ID: loft.ID("first leaves")}, Person: loft.ID("first" + t.Name()), Seen: 1, Role: account.Viewer})
	require.NoError(t, err, "there is another builder")
	err = s.door.Change(t.Context(), account.PersonChanged{Form: ledger.Form{ID: loft.ID("last leaves")}, Person: builder.ID, Seen: builder.Revised, Role: account.Builder, Left: true})
	assert.ErrorContains(t, err, "the only builder")
}

func TestGuessingIsSlowedDown(t *testing.T) {
	t.Parallel()
	s := guarded(t, loft.Empty(t))
	s.with(s.person("builder", account.Builder))
	p := s.phone()
	var statuses []string
	for range 8 {
		_, _, body := p.post("/sign-in", "name", "builder", "password", "wrong words")
		statuses = append(statuses, map[bool]string{true: "slow", false: "wrong"}[strings.Contains(body, "tried too often")])
	}
	assert.Equal(t, []string{"wrong", "wrong", "wrong", "wrong", "wrong", "slow", "slow", "slow"}, statuses)
	_, _, body := p.post("/sign-in", "name", "builder", "password", words)
	assert.Contains(t, body, "tried too often", "the right one, too: else one could go on guessing")
	_, _, known := s.phone().post("/sign-in", "name", "builder", "password", "x")
	assert.Contains(t, known, "tried too often", "from another phone, for the same name")
}

// Nobody learns from the answer whether a name is known.
func TestAnUnknownNameAndAWrongPasswordAreAnsweredAlike(t *testing.T) {
	t.Parallel()
	s := guarded(t, loft.Empty(t))
	s.with(s.person("builder", account.Builder))
	p := s.phone()
	_, _, known := p.post("/sign-in", "name", "builder", "password", "wrong words")
	_, _, unknown := p.post("/sign-in", "name", "nobody", "password", "wrong words")
	assert.Contains(t, known, "do not belong together")
	assert.Contains(t, unknown, "do not belong together")
}

// What was entered carries the name of the account, whatever the form said; what was before
// accounts keeps its typed name, and all of it verifies.
func TestNamesAtDeedsComeFromTheAccount(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 3)
	require.NoError(t, l.Logbook.Log(t.Context(), logbook.NewSlip{Form: l.Form(), Assembly: loft.BenchBoom, Step: "rivet", Place: "row, hole 2", Cause: "tool slipped"}))
	s := guarded(t, l)
	helper := s.person("the helper", account.Helper)
	page := s.as(helper, http.MethodGet, "/rows/"+loft.BenchRow, nil).Body.String()
	assert.Contains(t, page, `readonly value="the helper"`)
	w := s.as(helper, http.MethodPost, "/rows/"+loft.BenchRow+"/holes", url.Values{"id": {loft.ID("drill")}, "number": {"1"}, "seen": {fmt.Sprint(s.Log(1)[0].Seq)}, "do": {"drill"}, "by": {"somebody else"}})
	require.Equal(t, http.StatusSeeOther, w.Code, w.Body.String())
	hold := s.as(helper, http.MethodGet, "/holds/"+loft.BenchRivet, nil).Body.String()
	assert.Regexp(t, `<form [^>]*action="/looks"[^>]*class="ask">`, hold, "theirs to do")
	assert.NotRegexp(t, `<form [^>]*action="/holds/[^"]*/release"[^>]*class="sign">`, hold, "put away: not theirs to do")
	w = s.as(helper, http.MethodPost, "/slips", url.Values{"id": {loft.ID("slip by account")}, "assembly": {loft.BenchBoom}, "step": {"rivet"}, "place": {"hole 2"}, "cause": {"tool slipped"}, "back": {"/"}})
	require.Equal(t, http.StatusSeeOther, w.Code, w.Body.String())
	by := map[string][]string{}
	for _, e := range s.Log(100) {
		by[e.Kind] = append(by[e.Kind], e.By)
	}
	assert.Equal(t, []string{"the helper", ""}, by["slip"])
	assert.Equal(t, []string{"the helper"}, by["holes"])
	s.Verify()
}

// A release is signed by typing the password once more.
func TestAReleaseIsSignedByThePassword(t *testing.T) {
	t.Parallel()
	s := guarded(t, loft.Demo(t))
	builder := s.person("the builder", account.Builder)
	hold := s.holdThat("Ready")
	release := func(password string) *httptest.ResponseRecorder {
		page := s.as(builder, http.MethodGet, "/holds/"+hold, nil).Body.String()
		form := site.FormOn(t, page, "/holds/"+hold+"/release")
		form.Set("id", loft.ID("release"))
		form.Set("password", password)
		return s.as(builder, http.MethodPost, "/holds/"+hold+"/release", form)
	}
	assert.Contains(t, release("").Body.String(), "you have none yet")
	s.with(builder)
	assert.Contains(t, release("").Body.String(), "your password once more")
	w := release("wrong words")
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Contains(t, w.Body.String(), "is not yours")
	assert.NotContains(t, w.Body.String(), "wrong words", "it is never shown again")
	require.Equal(t, http.StatusSeeOther, release(words).Code)
	for range 8 { // who signs much is no thief
		assert.NotContains(t, release(words).Body.String(), "tried too often")
	}
	for range 5 {
		release("wrong words")
	}
	assert.Contains(t, release(words).Body.String(), "tried too often", "and who guesses waits")
	assert.Contains(t, s.as(builder, http.MethodGet, "/holds/"+hold, nil).Body.String(), "by the builder, today")
	assert.Equal(t, "the builder", s.Log(1)[0].By)
}

// An inspector signs dispositions with an account; nobody else uses the name.
func TestADispositionOfAnInspectorIsSignedByTheInspector(t *testing.T) {
	t.Parallel()
	s := guarded(t, loft.Demo(t))
	builder, inspector := s.with(s.person("the builder", account.Builder)), s.with(s.person("visiting inspector", account.Inspector))
	hold := s.holdThat("Stop")
	send := func(who *account.Person, fields ...string) *httptest.ResponseRecorder {
		form := site.FormOn(t, s.as(who, http.MethodGet, "/holds/"+hold, nil).Body.String(), "/holds/"+hold+"/release")
		form.Set("id", loft.ID("release "+who.Name))
		form.Set("password", words)
		for i := 0; i+1 < len(fields); i += 2 {
			form.Set(fields[i], fields[i+1])
		}
		return s.as(who, http.MethodPost, "/holds/"+hold+"/release", form)
	}
	w := send(builder, "answered_by", " Visiting Inspector", "answer", "go on", "answered", "today", "document", "letter 3")
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Contains(t, w.Body.String(), "signs with an account of their own")
	assert.Regexp(t, `<input name="answered_by"[^>]* readonly value="visiting inspector">`, s.as(inspector, http.MethodGet, "/holds/"+hold, nil).Body.String())
	w = send(inspector, "answer", "")
	assert.Contains(t, w.Body.String(), "an inspector signs dispositions")
	w = send(inspector, "answered_by", "the kit maker", "answer", "fly it with the pad as it is", "document", "logbook, page 12")
	require.Equal(t, http.StatusSeeOther, w.Code, w.Body.String())
	page := s.as(builder, http.MethodGet, "/holds/"+hold, nil).Body.String()
	assert.Contains(t, page, "<b>visiting inspector</b> answered")
	assert.NotContains(t, page, "the kit maker</b> answered")
}

var holdHref = regexp.MustCompile(`href="/holds/([0-9a-f-]{36})"`)

// holdThat is a hold that may be released as it stands: Ready, Unsure or Stop.
func (s *shop) holdThat(stands string) string {
	s.T.Helper()
	for _, m := range holdHref.FindAllStringSubmatch(s.as(s.person("somebody who looks", account.Builder), http.MethodGet, "/holds", nil).Body.String(), -1) {
		r := httptest.NewRequest(http.MethodGet, "/holds/"+m[1], nil)
		r.Host = "127.0.0.1"
		w := httptest.NewRecorder()
		s.inside.ServeHTTP(w, r)
		if page := w.Body.String(); strings.Contains(page, "Release and sign") && strings.Contains(page, "<p><b>"+stands+"</b>") {
			return m[1]
		}
	}
	require.Fail(s.T, "no hold stands so: "+stands)
	return ""
}
