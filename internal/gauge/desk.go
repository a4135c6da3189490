package gauge

import (
	"errors"
	"slices"
	"sync"
)

// Desk is the instruments that a workshop listens to, by the ids that they have in it. Its zero
// value is one without any.
type Desk struct {
	mu     sync.Mutex
	gauges map[string]*Gauge
	order  []string // of connecting
	closed chan struct{}
}

// mostGauges is how many are listened to at once.
const mostGauges = 8

// ErrFull is returned where so many are listened to that no other is.
var ErrFull = errors.New("eight instruments are listened to already; disconnect one first")

// Connect listens to an instrument (its serial number, "" for the first that answers), in place of what it was connected to before.
func (d *Desk) Connect(id, address, serial string) error {
	d.mu.Lock()
	before, full := d.gauges[id], len(d.gauges) >= mostGauges
	d.mu.Unlock()
	if before == nil && full {
		return ErrFull
	}
	g, err := Connect(address, serial)
	if err != nil {
		return err
	}
	d.mu.Lock()
	if d.gauges == nil {
		d.gauges = map[string]*Gauge{}
	}
	before, d.gauges[id] = d.gauges[id], g
	d.order = append(slices.DeleteFunc(d.order, func(o string) bool { return o == id }), id)
	d.mu.Unlock()
	if before != nil {
		before.Close()
	}
	return nil
}

// Of is the line to an instrument; nil for none.
func (d *Desk) Of(id string) *Gauge {
	d.mu.Lock()
	defer d.mu.Unlock()
	return d.gauges[id]
}

// Disconnect stops listening to one.
func (d *Desk) Disconnect(id string) {
	d.mu.Lock()
	g := d.gauges[id]
	delete(d.gauges, id)
	d.order = slices.DeleteFunc(d.order, func(o string) bool { return o == id })
	d.mu.Unlock()
	if g != nil {
		g.Close()
	}
}

// Len is how many are listened to.
func (d *Desk) Len() int {
	d.mu.Lock()
	defer d.mu.Unlock()
	return len(d.gauges)
}

// Oldest stops listening to the one that was connected first.
func (d *Desk) Oldest() {
	d.mu.Lock()
	first := ""
	if len(d.order) > 0 {
		first = d.order[0]
	}
	d.mu.Unlock()
	if first != "" {
		d.Disconnect(first)
	}
}

// Closed is closed with the desk, so that pages that watch let go.
func (d *Desk) Closed() <-chan struct{} {
	d.mu.Lock()
	defer d.mu.Unlock()
	if d.closed == nil {
		d.closed = make(chan struct{})
	}
	return d.closed
}

// Close stops listening to all of them.
func (d *Desk) Close() {
	closed := d.Closed()
	d.mu.Lock()
	gauges := d.gauges
	d.gauges = nil
	select {
	case <-closed:
	default:
		close(d.closed)
	}
	d.mu.Unlock()
	for _, g := range gauges {
		g.Close()
	}
}
