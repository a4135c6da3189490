// Package lan gives a shop's network a certificate that its phones can trust: an authority of its
// own, kept in the data directory, and certificates for the addresses that this machine has.
//
// Whoever has the authority's key could pose as any site to a phone that trusts it. So the
// authority is bound, by its own name constraints (RFC 5280, 4.2.1.10), to addresses of private
// networks and to names under .local: for anything else a phone refuses what it signs.
package lan

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/sha256"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/hex"
	"encoding/pem"
	"errors"
	"fmt"
	"io/fs"
	"math/big"
	"net"
	"net/netip"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"
)

// How long each is good for. Phones refuse a certificate that is good for longer than 398 days.
const (
	authorityYears = 10
	leafDays       = 397
	renewDays      = 30 // before it ends
)

// private are the addresses that the authority may speak for.
var private = prefixes("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "127.0.0.0/8", "fc00::/7", "fe80::/10", "::1/128")

func prefixes(texts ...string) []netip.Prefix {
	out := make([]netip.Prefix, len(texts))
	for i, t := range texts {
		out[i] = netip.MustParsePrefix(t)
	}
	return out
}

// Authority signs for one shop.
type Authority struct {
	Certificate *x509.Certificate
	key         *ecdsa.PrivateKey
	now         func() time.Time

	mu   sync.Mutex
	leaf *tls.Certificate
	held []netip.Addr // addresses that the leaf speaks for
}

// Open reads the authority in a directory, or makes one there.
func Open(dir string, now func() time.Time) (*Authority, error) {
	a := &Authority{now: now}
	path := filepath.Join(dir, "authority.pem")
	data, err := os.ReadFile(path)
	switch {
	case errors.Is(err, fs.ErrNotExist):
		if data, err = newAuthority(now()); err != nil {
			return nil, fmt.Errorf("making an authority: %w", err)
		}
		if err = os.MkdirAll(dir, 0o700); err == nil {
			err = os.WriteFile(path, data, 0o600)
		}
		if err != nil {
			return nil, fmt.Errorf("keeping the authority: %w", err)
		}
	case err != nil:
		return nil, fmt.Errorf("reading the authority: %w", err)
	}
	if err := a.read(data); err != nil {
		return nil, fmt.Errorf("%s is damaged (%w): restore it from a copy, or take it away and let each phone trust a new one", path, err)
	}
	if now().After(a.Certificate.NotAfter) {
		return nil, fmt.Errorf("%s was good until %s: take it away and let each phone trust a new one", path, a.Certificate.NotAfter.Format("2 January 2006"))
	}
	return a, nil
}

func (a *Authority) read(data []byte) error {
	for len(data) > 0 {
		var block *pem.Block
		if block, data = pem.Decode(data); block == nil {
			break
		}
		var err error
		switch block.Type {
		case "CERTIFICATE":
			a.Certificate, err = x509.ParseCertificate(block.Bytes)
		case "EC PRIVATE KEY":
			a.key, err = x509.ParseECPrivateKey(block.Bytes)
		}
		if err != nil {
			return err
		}
	}
	if a.Certificate == nil || a.key == nil || !a.key.PublicKey.Equal(a.Certificate.PublicKey) {
		return errors.New("certificate and key do not belong together")
	}
	return nil
}

// newAuthority makes an authority: its certificate and its key as PEM.
func newAuthority(now time.Time) ([]byte, error) {
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return nil, err
	}
	number, err := serial()
	if err != nil {
		return nil, err
	}
	of := &x509.Certificate{
		SerialNumber: number, Subject: pkix.Name{CommonName: "Orpine of this shop, made " + now.Format("2 January 2006")},
		NotBefore: now.Add(-24 * time.Hour), NotAfter: now.AddDate(authorityYears, 0, 0),
		IsCA: true, BasicConstraintsValid: true, MaxPathLenZero: true, KeyUsage: x509.KeyUsageCertSign,
		ExtKeyUsage:                 []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth},
		PermittedDNSDomainsCritical: true, PermittedDNSDomains: []string{"local", "localhost"}, PermittedIPRanges: ranges(),
	}
	der, err := x509.CreateCertificate(rand.Reader, of, of, key.Public(), key)
	if err != nil {
		return nil, err
	}
	private, err := x509.MarshalECPrivateKey(key)
	if err != nil {
		return nil, err
	}
	return append(pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der}), pem.EncodeToMemory(&pem.Block{Type: "EC PRIVATE KEY", Bytes: private})...), nil
}

func ranges() []*net.IPNet {
	out := make([]*net.IPNet, len(private))
	for i, p := range private {
		out[i] = &net.IPNet{IP: p.Addr().AsSlice(), Mask: net.CIDRMask(p.Bits(), p.Addr().BitLen())}
	}
	return out
}

func serial() (*big.Int, error) { return rand.Int(rand.Reader, new(big.Int).Lsh(big.NewInt(1), 120)) }

// Fingerprint is the SHA-256 of the authority's certificate as phones show it, in pairs.
func (a *Authority) Fingerprint() string {
	sum := sha256.Sum256(a.Certificate.Raw)
	text := strings.ToUpper(hex.EncodeToString(sum[:]))
	var pairs []string
	for i := 0; i < len(text); i += 2 {
		pairs = append(pairs, text[i:i+2])
	}
	return strings.Join(pairs, " ")
}

// Name is what this machine is called in its network, under .local; "" where it has no name that
// may stand in a certificate.
func Name() string {
	host, err := os.Hostname()
	host, _, _ = strings.Cut(strings.ToLower(host), ".")
	if err != nil || host == "" || host == "localhost" || strings.Trim(host, "abcdefghijklmnopqrstuvwxyz0123456789-") != "" {
		return ""
	}
	return host + ".local"
}

// Private tells whether the authority may speak for an address.
func Private(addr netip.Addr) bool {
	return slices.ContainsFunc(private, func(p netip.Prefix) bool { return p.Contains(addr.Unmap().WithZone("")) })
}

// Addresses are those of this machine that others in the shop's network can reach, those of
// version 4 first.
func Addresses() []netip.Addr {
	list, err := net.InterfaceAddrs()
	if err != nil {
		return nil
	}
	var out []netip.Addr
	for _, a := range list {
		if prefix, err := netip.ParsePrefix(a.String()); err == nil {
			if addr := prefix.Addr().Unmap(); Private(addr) && !addr.IsLoopback() && !addr.IsLinkLocalUnicast() {
				out = append(out, addr)
			}
		}
	}
	slices.SortFunc(out, netip.Addr.Compare)
	return out
}

// answer answers a handshake: with the certificate in hand where it speaks for the address
// that was dialled and is good for a while, else with a new one. So a laptop that comes into
// another network needs nothing done.
func (a *Authority) answer(hello *tls.ClientHelloInfo) (*tls.Certificate, error) {
	addr := local(hello.Conn)
	if !addr.IsValid() || !Private(addr) {
		return nil, fmt.Errorf("%s is no address of a private network", addr)
	}
	a.mu.Lock()
	defer a.mu.Unlock()
	if a.leaf != nil && slices.Contains(a.held, addr) && a.now().Before(a.leaf.Leaf.NotAfter.AddDate(0, 0, -renewDays)) && !a.now().Before(a.leaf.Leaf.NotBefore) {
		return a.leaf, nil
	}
	held := append(Addresses(), netip.MustParseAddr("127.0.0.1"), netip.MustParseAddr("::1"))
	if !slices.Contains(held, addr) {
		held = append(held, addr)
	}
	leaf, err := a.sign(held)
	if err != nil {
		return nil, fmt.Errorf("making a certificate: %w", err)
	}
	a.leaf, a.held = leaf, held
	return leaf, nil
}

// local is the address of this machine that was dialled.
func local(c net.Conn) netip.Addr {
	at, err := netip.ParseAddrPort(c.LocalAddr().String())
	if err != nil {
		return netip.Addr{}
	}
	return at.Addr().Unmap().WithZone("")
}

func (a *Authority) sign(held []netip.Addr) (*tls.Certificate, error) {
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return nil, err
	}
	number, err := serial()
	if err != nil {
		return nil, err
	}
	now := a.now()
	until := now.AddDate(0, 0, leafDays-1)
	if until.After(a.Certificate.NotAfter) {
		until = a.Certificate.NotAfter
	}
	of := &x509.Certificate{
		SerialNumber: number, Subject: pkix.Name{CommonName: "Orpine"}, NotBefore: now.Add(-24 * time.Hour), NotAfter: until,
		KeyUsage: x509.KeyUsageDigitalSignature, ExtKeyUsage: []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth}, DNSNames: []string{"localhost"},
	}
	if name := Name(); name != "" {
		of.DNSNames = append(of.DNSNames, name)
	}
	for _, addr := range held {
		of.IPAddresses = append(of.IPAddresses, addr.AsSlice())
	}
	der, err := x509.CreateCertificate(rand.Reader, of, a.Certificate, key.Public(), a.key)
	if err != nil {
		return nil, err
	}
	leaf, err := x509.ParseCertificate(der)
	if err != nil {
		return nil, err
	}
	return &tls.Certificate{Certificate: [][]byte{der, a.Certificate.Raw}, PrivateKey: key, Leaf: leaf}, nil
}

// Config is TLS with the authority's certificates.
func (a *Authority) Config() *tls.Config {
	return &tls.Config{MinVersion: tls.VersionTLS12, GetCertificate: a.answer, NextProtos: []string{"h2", "http/1.1"}}
}
