package main

import (
	"bytes"
	"context"
	"crypto/tls"
	"crypto/x509"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// console is what a program that runs has said so far.
type console struct {
	mu sync.Mutex
	b  bytes.Buffer
}

func (c *console) Write(p []byte) (int, error) {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.b.Write(p)
}

// says waits until something was said, and returns its first group.
func (c *console) says(t *testing.T, pattern string) string {
	t.Helper()
	re := regexp.MustCompile(pattern)
	var found []string
	require.Eventually(t, func() bool {
		c.mu.Lock()
		defer c.mu.Unlock()
		found = re.FindStringSubmatch(c.b.String())
		return found != nil
	}, 20*time.Second, 20*time.Millisecond, pattern)
	return found[1]
}

// network starts a shop that phones reach, in dir.
func network(t *testing.T, dir string, more ...string) (said *console, stop func()) {
	t.Helper()
	ctx, cancel := context.WithCancel(t.Context())
	said = new(console)
	cmd := root()
	cmd.SetArgs(append([]string{"serve", "--lan", "--data", dir, "--addr", "127.0.0.1:0", "--lan-addr", "127.0.0.1:0"}, more...))
	cmd.SetOut(said)
	cmd.SetErr(io.Discard)
	ended := make(chan error, 1)
	go func() { ended <- cmd.ExecuteContext(ctx) }()
	return said, func() {
		cancel()
		require.NoError(t, <-ended)
	}
}

// phone is a browser that trusts the shop of dir, and nothing else.
func phone(t *testing.T, dir string) *http.Client {
	t.Helper()
	data, err := os.ReadFile(filepath.Join(dir, "lan", "authority.pem"))
	require.NoError(t, err)
	trusted := x509.NewCertPool()
	require.True(t, trusted.AppendCertsFromPEM(data))
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	return &http.Client{Jar: jar, Transport: &http.Transport{TLSClientConfig: &tls.Config{RootCAs: trusted, MinVersion: tls.VersionTLS12}, ForceAttemptHTTP2: true}}
}

func send(t *testing.T, client *http.Client, at string, form url.Values) string {
	t.Helper()
	answer, err := client.PostForm(at, form)
	require.NoError(t, err)
	return page(t, answer)
}

func page(t *testing.T, answer *http.Response) string {
	t.Helper()
	defer answer.Body.Close()
	data, err := io.ReadAll(answer.Body)
	require.NoError(t, err)
	return string(data)
}

// From the console's code to a copy on another laptop: the shop's people come in again by a code that
// whoever stands at it reads off.
func TestAShopMovesToAnotherLaptopWithItsPeople(t *testing.T) {
	dir, copies := t.TempDir(), t.TempDir()
	said, stop := network(t, dir, "--copies", copies)
	at, code := said.says(t, `reach it at (https://\S+)`), said.says(t, `code is (\d{4} \d{4})`)
	builder := phone(t, dir)
	_, err := http.Get(at) //nolint:noctx // it is refused
	require.ErrorContains(t, err, "certificate", "who does not trust it does not come in")
	body := send(t, builder, at+"/welcome", url.Values{"id": {uuid.NewString()}, "name": {"the builder"}, "password": {"three plain words"}, "code": {code}})
	require.Contains(t, body, "the builder</b> builder, you")
	assert.Contains(t, page(t, get(t, builder, at+"/files")), copies)

	// A host that is not this machine's is refused, whatever leads here.
	r, err := http.NewRequestWithContext(t.Context(), http.MethodGet, at, nil)
	require.NoError(t, err)
	r.Host = "rebound.example"
	answer, err := builder.Do(r)
	require.NoError(t, err)
	page(t, answer)
	assert.Equal(t, http.StatusMisdirectedRequest, answer.StatusCode)

	// While it runs: a code for who forgot, and a copy.
	out, err := run(t, "", "code", "The Builder", "--data", dir)
	require.NoError(t, err)
	again := phone(t, dir)
	assert.Contains(t, send(t, again, at+"/sign-in/code", url.Values{"code": {out[:9]}}), "the builder")
	_, err = run(t, "", "code", "nobody", "--data", dir)
	require.ErrorContains(t, err, `nobody of this shop is called "nobody"`)
	out, err = run(t, "", "backup", "--data", dir, "--to", copies)
	require.NoError(t, err)
	file := strings.Fields(out)[0]
	stop()

	elsewhere := filepath.Join(t.TempDir(), "laptop")
	out, err = run(t, "", "restore", file, "--data", elsewhere)
	require.NoError(t, err)
	assert.Contains(t, out, "holds 1 entries")
	said, stop = network(t, elsewhere)
	defer stop()
	at = said.says(t, `reach it at (https://\S+)`)
	fresh := phone(t, elsewhere)
	assert.Contains(t, send(t, fresh, at+"/sign-in", url.Values{"name": {"the builder"}, "password": {"three plain words"}}), "do not belong together", "no secret travels in a copy")
	out, err = run(t, "", "code", "the builder", "--data", elsewhere)
	require.NoError(t, err)
	send(t, fresh, at+"/sign-in/code", url.Values{"code": {out[:9]}})
	assert.Contains(t, page(t, get(t, fresh, at+"/people")), "the builder</b> builder, you")
}

func get(t *testing.T, client *http.Client, at string) *http.Response {
	t.Helper()
	answer, err := client.Get(at)
	require.NoError(t, err)
	return answer
}
