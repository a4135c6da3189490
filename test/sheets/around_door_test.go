package sheets_test

import (
	"bytes"
	"mime/multipart"
	"net"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/account"
	"orpine/internal/archive"
	"orpine/internal/core/row"
	"orpine/internal/demo"
	"orpine/test/loft"
	"orpine/test/site"
)

// in is a phone on which someone is signed in by their password.
func (s *shop) in(who *account.Person) *phone {
	s.T.Helper()
	p := s.phone()
	status, _, _ := p.post("/sign-in", "name", who.Name, "password", words)
	require.Equal(s.T, http.StatusSeeOther, status)
	return p
}

// A code lets one in, and a lost password is replaced once; the log says so.
func TestACodeReplacesALostPasswordOnce(t *testing.T) {
	t.Parallel()
	s := guarded(t, loft.Empty(t))
	helper := s.with(s.person("helper", account.Helper))
	code, err := s.door.Code(t.Context(), helper.ID)
	require.NoError(t, err)
	p := s.phone()
	p.post("/sign-in/code", "code", code)
	_, _, body := p.get("/me")
	assert.NotContains(t, body, "The one before")
	status, _, _ := p.post("/me/password", "id", loft.ID("replaced"), "password", "four other plain words")
	require.Equal(t, http.StatusSeeOther, status)
	assert.Equal(t, "Password replaced: helper", s.Log(1)[0].What)
	status, _, body = p.post("/me/password", "id", loft.ID("again"), "password", "five other plain words")
	assert.Equal(t, http.StatusUnprocessableEntity, status, "once")
	assert.Contains(t, body, "The one before")
	status, _, _ = s.phone().post("/sign-in", "name", "helper", "password", words)
	assert.Equal(t, http.StatusUnprocessableEntity, status, "the lost one is none any more")
	status, _, _ = s.phone().post("/sign-in", "name", "helper", "password", "four other plain words")
	assert.Equal(t, http.StatusSeeOther, status)
	s.Verify()
}

// What is put away from a helper's page takes nothing else with it: every tag is closed.
func TestAHelpersPageIsWhole(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	s := guarded(t, l)
	p := s.in(s.with(s.person("helper", account.Helper)))
	for _, path := range []string{"/", "/holds/" + demo.HoldOf("tailplane on rails"), "/setups/" + loft.OnRails, "/rows/" + demo.ID("row 3"), "/order", "/stores", "/instruments", "/bays/" + demo.Bay(), "/questions", "/cures"} {
		status, _, body := p.get(path)
		require.Equal(t, http.StatusOK, status, path)
		for _, tag := range []string{"form", "label", "button", "section", "fieldset", "select"} {
			assert.Equal(t, strings.Count(body, "<"+tag+" ")+strings.Count(body, "<"+tag+">"), strings.Count(body, "</"+tag+">"), "%s: <%s>", path, tag)
		}
		assert.NotRegexp(t, `hidden>[a-z]+="`, body, path)
		assert.NotRegexp(t, `readonly value="[^"]*">[a-z-]+="`, body, path)
	}
}

// Files takes an archive where people sign in, too.
func TestAnArchiveIsLookedAtWherePeopleSignIn(t *testing.T) {
	t.Parallel()
	from := loft.Demo(t)
	var data bytes.Buffer
	_, err := archive.Write(t.Context(), from.Ledger, demo.ID("campion"), &data)
	require.NoError(t, err)
	s := guarded(t, loft.Bench(t, 2))
	p := s.in(s.with(s.person("builder", account.Builder)))
	var form bytes.Buffer
	w := multipart.NewWriter(&form)
	part, err := w.CreateFormFile("archive", "campion.zip")
	require.NoError(t, err)
	_, err = part.Write(data.Bytes())
	require.NoError(t, err)
	require.NoError(t, w.Close())
	r, err := p.http.Post(p.url+"/files/archive", w.FormDataContentType(), &form)
	status, _, body := p.read(r, err)
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, body, "What would come of this archive")
}

// What waited in a phone for another shop is not taken, and not refused for good.
func TestWhatWaitedForAnotherShopIsNotTaken(t *testing.T) {
	t.Parallel()
	s := guarded(t, loft.Empty(t))
	builder := s.with(s.person("builder", account.Builder))
	p := s.in(builder)
	_, _, body := p.get("/setups")
	identity, err := s.Ledger.Identity(t.Context())
	require.NoError(t, err)
	require.Contains(t, body, `data-shop="`+identity[:16]+`"`)
	send := func(shop string) int {
		r, err := http.NewRequest(http.MethodPost, p.url+"/airframes", strings.NewReader("id="+loft.ID("waited")+"&name=Tansy+T3&unit=mm"))
		require.NoError(t, err)
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		r.Header.Set("X-Shop", shop)
		status, _, _ := p.read(p.http.Do(r))
		return status
	}
	assert.Equal(t, http.StatusMisdirectedRequest, send("0123456789abcdef"))
	assert.Equal(t, http.StatusSeeOther, send(identity[:16]))
}

// Wrong tries from elsewhere keep nobody out of the phone that they signed in on before.
func TestAKnownDeviceIsNotKeptOut(t *testing.T) {
	t.Parallel()
	s := guarded(t, loft.Empty(t))
	builder := s.with(s.person("builder", account.Builder))
	own := s.in(builder)
	own.post("/sign-out")
	elsewhere := s.phone()
	elsewhere.http.Transport = &http.Transport{DialContext: (&net.Dialer{LocalAddr: &net.TCPAddr{IP: net.IPv4(127, 0, 0, 2)}}).DialContext}
	for range 7 {
		elsewhere.post("/sign-in", "name", "builder", "password", "wrong words")
	}
	status, _, _ := own.post("/sign-in", "name", "builder", "password", words)
	assert.Equal(t, http.StatusSeeOther, status)
	status, _, body := s.phone().post("/sign-in", "name", "builder", "password", words)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, body, "tried too often", "a device that never was")
}

// A name that someone else made lead to this machine is refused, before anything is read.
func TestOnlyTheMachinesOwnNamesAreAnswered(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	for host, status := range map[string]int{"127.0.0.1:8080": http.StatusOK, "localhost": http.StatusOK, "[::1]:8080": http.StatusOK,
		"shop.example": http.StatusMisdirectedRequest, "shop.example:8080": http.StatusMisdirectedRequest, "192.168.1.7": http.StatusMisdirectedRequest, "127.0.0.1.example": http.StatusMisdirectedRequest, "": http.StatusMisdirectedRequest} {
		r := httptest.NewRequest(http.MethodGet, "/", nil)
		r.Host = host
		w := httptest.NewRecorder()
		v.Handler.ServeHTTP(w, r)
		assert.Equal(t, status, w.Code, host)
	}
}

// Who left is told nothing more: the line of a sheet that they watch ends with the next change.
func TestWhoLeftKeepsNoLine(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 3)
	s := guarded(t, l)
	helper := s.person("helper", account.Helper)
	ended := make(chan struct{})
	go func() {
		defer close(ended)
		r := httptest.NewRequest(http.MethodGet, "/rows/"+loft.BenchRow+"/live?hole=1", nil)
		r.Host = "127.0.0.1:8080"
		s.inside.ServeHTTP(httptest.NewRecorder(), r.WithContext(account.Sit(t.Context(), account.Seat{Person: helper})))
	}()
	time.Sleep(600 * time.Millisecond) // it watches
	require.NoError(t, l.Do(loft.BenchRow, row.Drill, 1))
	select {
	case <-ended:
		t.Fatal("a change ends no line of one who is here")
	case <-time.After(600 * time.Millisecond):
	}
	require.NoError(t, s.door.Change(t.Context(), account.PersonChanged{Form: l.Form(), Person: helper.ID, Seen: helper.Revised, Role: account.Helper, Left: true}))
	require.NoError(t, l.Do(loft.BenchRow, row.Drill, 2))
	select {
	case <-ended:
	case <-time.After(5 * time.Second):
		t.Fatal("they are still told")
	}
}
