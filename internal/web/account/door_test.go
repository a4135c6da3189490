package account

import (
	"net/http"
	"net/http/httptest"
	"net/netip"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Whom a trusted proxy forwards for counts as where a try comes from; what anybody else says does not.
func TestWhomATrustedProxyForwardsFor(t *testing.T) {
	d := &Door{Proxies: []netip.Prefix{netip.MustParsePrefix("10.0.0.0/8"), netip.MustParsePrefix("127.0.0.1/32")}}
	for _, test := range []struct {
		dials     string
		forwarded []string
		from      string
	}{
		{"192.168.1.7:5000", nil, "192.168.1.7"},
		{"192.168.1.7:5000", []string{"203.0.113.9"}, "192.168.1.7"},
		{"10.0.0.1:5000", []string{"203.0.113.9"}, "203.0.113.9"},
		{"10.0.0.1:5000", []string{"198.51.100.1, 203.0.113.9"}, "203.0.113.9"}, // the first was written by whoever dialled
		{"10.0.0.1:5000", []string{"203.0.113.9, 10.0.0.2"}, "203.0.113.9"},     // two proxies
		{"127.0.0.1:5000", []string{"203.0.113.9", "203.0.113.10"}, "203.0.113.10"},
		{"[::ffff:10.0.0.1]:5000", []string{"203.0.113.9"}, "203.0.113.9"},
		{"10.0.0.1:5000", nil, "10.0.0.1"},
		{"10.0.0.1:5000", []string{" , "}, "10.0.0.1"},
		{"10.0.0.1:5000", []string{"nonsense"}, "nonsense"},
	} {
		r := httptest.NewRequest(http.MethodPost, "/sign-in", nil)
		r.RemoteAddr = test.dials
		for _, f := range test.forwarded {
			r.Header.Add("X-Forwarded-For", f)
		}
		assert.Equal(t, test.from, d.from(r), "%v", test)
	}
	r := httptest.NewRequest(http.MethodPost, "/sign-in", nil)
	r.RemoteAddr = "10.0.0.1:5000"
	r.Header.Add("X-Forwarded-For", "203.0.113.9")
	assert.Equal(t, "10.0.0.1", (&Door{}).from(r), "without --proxy nobody is trusted")
}
