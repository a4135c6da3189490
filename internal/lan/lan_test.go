package lan

import (
	"crypto/ecdsa"
	"crypto/tls"
	"crypto/x509"
	"io"
	"log"
	"net"
	"net/http"
	"net/netip"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var day = time.Date(2026, 11, 26, 9, 0, 0, 0, time.UTC)

func authority(t *testing.T, now *time.Time) *Authority {
	t.Helper()
	a, err := Open(t.TempDir(), func() time.Time { return *now })
	require.NoError(t, err)
	return a
}

// dialled is a connection that was dialled at an address of this machine.
type dialled struct {
	net.Conn
	at net.Addr
}

func (d dialled) LocalAddr() net.Addr { return d.at }

func hello(addr string) *tls.ClientHelloInfo {
	return &tls.ClientHelloInfo{Conn: dialled{at: net.TCPAddrFromAddrPort(netip.MustParseAddrPort(addr))}}
}

func TestAPhoneThatTrustsTheAuthorityReachesTheShop(t *testing.T) {
	a := authority(t, new(time.Now()))
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	server := &http.Server{Handler: http.NotFoundHandler(), TLSConfig: a.Config(), ErrorLog: log.New(io.Discard, "", 0)}
	go func() { _ = server.ServeTLS(listener, "", "") }()
	defer server.Close()
	trusting := x509.NewCertPool()
	trusting.AddCert(a.Certificate)
	_, port, err := net.SplitHostPort(listener.Addr().String())
	require.NoError(t, err)
	for host, trusts := range map[string]bool{"127.0.0.1": true, "localhost": true} {
		client := &http.Client{Transport: &http.Transport{TLSClientConfig: &tls.Config{RootCAs: trusting, MinVersion: tls.VersionTLS12}}}
		response, err := client.Get("https://" + net.JoinHostPort(host, port))
		assert.Equal(t, trusts, err == nil, "%s: %v", host, err)
		if err == nil {
			response.Body.Close()
		}
	}
	_, err = (&http.Client{Transport: &http.Transport{}}).Get("https://127.0.0.1:" + port)
	assert.ErrorContains(t, err, "unknown authority", "one that does not trust it refuses")
}

// A laptop that comes into another network, and a certificate that ends, need nothing done.
func TestACertificateFollowsTheAddressAndTheCalendar(t *testing.T) {
	now := day
	a := authority(t, &now)
	first, err := a.answer(hello("192.168.7.20:8443"))
	require.NoError(t, err)
	require.NoError(t, first.Leaf.VerifyHostname("192.168.7.20"))
	assert.LessOrEqual(t, first.Leaf.NotAfter.Sub(first.Leaf.NotBefore), 398*24*time.Hour, "phones refuse longer ones")
	again, err := a.answer(hello("192.168.7.20:8443"))
	require.NoError(t, err)
	assert.Same(t, first, again)
	moved, err := a.answer(hello("10.1.2.3:8443"))
	require.NoError(t, err)
	require.NoError(t, moved.Leaf.VerifyHostname("10.1.2.3"))
	now = day.AddDate(0, 0, 350)
	near, err := a.answer(hello("10.1.2.3:8443"))
	require.NoError(t, err)
	assert.Same(t, moved, near)
	now = day.AddDate(0, 0, 370)
	renewed, err := a.answer(hello("10.1.2.3:8443"))
	require.NoError(t, err)
	assert.NotSame(t, moved, renewed)
	assert.True(t, renewed.Leaf.NotAfter.After(moved.Leaf.NotAfter))
	now = day.AddDate(0, 0, -30) // the clock was set back before it begins
	_, err = a.answer(hello("10.1.2.3:8443"))
	require.NoError(t, err)
	_, err = a.answer(hello("203.0.113.9:8443"))
	assert.ErrorContains(t, err, "no address of a private network")
}

// The authority cannot speak for the world, even with its key in wrong hands.
func TestTheAuthorityIsBoundToTheShopsNetwork(t *testing.T) {
	now := day
	a := authority(t, &now)
	roots := x509.NewCertPool()
	roots.AddCert(a.Certificate)
	for addr, good := range map[string]bool{"192.168.7.20": true, "fd12::7": true, "203.0.113.9": false, "2001:db8::1": false} {
		leaf, err := a.sign([]netip.Addr{netip.MustParseAddr(addr)})
		require.NoError(t, err)
		_, err = leaf.Leaf.Verify(x509.VerifyOptions{Roots: roots, CurrentTime: day})
		assert.Equal(t, good, err == nil, addr)
	}
}

func TestTheAuthorityStaysAndDamageIsNamed(t *testing.T) {
	dir := t.TempDir()
	open := func(at time.Time) (*Authority, error) { return Open(dir, func() time.Time { return at }) }
	first, err := open(day)
	require.NoError(t, err)
	second, err := open(day)
	require.NoError(t, err)
	assert.Equal(t, first.Fingerprint(), second.Fingerprint())
	assert.Len(t, first.Fingerprint(), 32*3-1)
	assert.IsType(t, &ecdsa.PrivateKey{}, second.key)
	path := filepath.Join(dir, "authority.pem")
	info, err := os.Stat(path)
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode().Perm())
	_, err = open(day.AddDate(11, 0, 0))
	require.ErrorContains(t, err, "was good until 26 November 2036")
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(path, data[:len(data)/2], 0o600))
	_, err = open(day)
	require.ErrorContains(t, err, "is damaged")
}
