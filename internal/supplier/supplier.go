// Package supplier asks a supplier over HTTP, in the small open protocol of docs/supplier.md:
// what it costs and how long it takes, an order, and how far an order is.
package supplier

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/url"
	"strings"
	"time"
)

// Asked is what is ordered; the same ID is the same order, however often it is sent.
type Asked struct {
	ID    string `json:"id"`
	Item  string `json:"item"`
	Count int    `json:"count"`          // 1 where nobody said
	Hand  string `json:"hand,omitempty"` // left or right
	Day   string `json:"day"`            // 2026-11-26
}

// Quote is what it costs, in minor units, and how long it takes.
type Quote struct {
	Price    int64  `json:"price"`
	Currency string `json:"currency"`
	LeadDays int    `json:"lead_days"`
}

// Standing is how far an order is; days are "" while they are not known.
type Standing struct {
	Quote
	Ref       string `json:"ref"`
	Promised  string `json:"promised"`
	Sent      string `json:"sent,omitempty"`
	Delivered string `json:"delivered,omitempty"`
	Credited  string `json:"credited,omitempty"` // once it was sent back
	Says      string `json:"says,omitempty"`
}

// Parcel is what lies in the box once it has come. Label is what it says, and Looks what an eye
// sees; they need not agree.
type Parcel struct {
	Label  string `json:"label"`
	Pieces int    `json:"pieces"`
	Looks  string `json:"looks,omitempty"`
}

// ErrAway is returned where the supplier does not answer.
var ErrAway = errors.New("the supplier does not answer now; nothing was ordered, or it is ordered and will be found when it is asked again")

// Client asks one supplier.
type Client struct {
	Name string // as orders name it
	base string
	http *http.Client
}

// New returns a client of the supplier at an address of this machine: "NAME=http://127.0.0.1:PORT".
func New(at string) (*Client, error) {
	name, address, ok := strings.Cut(at, "=")
	u, err := url.Parse(address)
	if !ok || name == "" || err != nil || u.Scheme != "http" {
		return nil, fmt.Errorf("--supplier %s: NAME=http://127.0.0.1:PORT is wanted", at)
	}
	if ip := net.ParseIP(u.Hostname()); u.Hostname() != "localhost" && (ip == nil || !ip.IsLoopback()) {
		return nil, fmt.Errorf("--supplier %s: only a supplier on this machine is asked", at)
	}
	return &Client{Name: strings.TrimSpace(name), base: strings.TrimSuffix(address, "/"), http: &http.Client{Timeout: 5 * time.Second}}, nil
}

// mostAnswer is how long an answer may be.
const mostAnswer = 1 << 16

func (c *Client) do(ctx context.Context, method, path string, ask, into any) error {
	var body io.Reader
	if ask != nil {
		data, err := json.Marshal(ask)
		if err != nil {
			return fmt.Errorf("writing to the supplier: %w", err)
		}
		body = bytes.NewReader(data)
	}
	r, err := http.NewRequestWithContext(ctx, method, c.base+path, body)
	if err != nil {
		return fmt.Errorf("writing to the supplier: %w", err)
	}
	r.Header.Set("Content-Type", "application/json")
	answer, err := c.http.Do(r)
	if err != nil {
		return ErrAway
	}
	defer answer.Body.Close()
	data, err := io.ReadAll(io.LimitReader(answer.Body, mostAnswer))
	if err != nil {
		return ErrAway
	}
	if answer.StatusCode != http.StatusOK {
		var wrong struct{ Error string }
		if json.Unmarshal(data, &wrong) == nil && wrong.Error != "" && len(wrong.Error) < 300 {
			return fmt.Errorf("%s refuses: %s", c.Name, wrong.Error)
		}
		return fmt.Errorf("%s answers with %s", c.Name, answer.Status)
	}
	if err := json.Unmarshal(data, into); err != nil {
		return fmt.Errorf("%s answers what cannot be read", c.Name)
	}
	return nil
}

// Quote asks what it costs.
func (c *Client) Quote(ctx context.Context, a Asked) (q Quote, err error) {
	return q, c.do(ctx, http.MethodPost, "/quotes", a, &q)
}

// Order orders it.
func (c *Client) Order(ctx context.Context, a Asked) (s Standing, err error) {
	return s, c.do(ctx, http.MethodPost, "/orders", a, &s)
}

// Standing asks how far an order is on a day; returned is when it was sent back, "" for not.
func (c *Client) Standing(ctx context.Context, ref, day, returned string) (s Standing, err error) {
	return s, c.do(ctx, http.MethodGet, "/orders/"+url.PathEscape(ref)+"?"+url.Values{"day": {day}, "returned": {returned}}.Encode(), nil, &s)
}

// Parcel opens what has come.
func (c *Client) Parcel(ctx context.Context, ref, day string) (p Parcel, err error) {
	return p, c.do(ctx, http.MethodGet, "/parcels/"+url.PathEscape(ref)+"?"+url.Values{"day": {day}}.Encode(), nil, &p)
}
