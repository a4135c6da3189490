// Package overview sets side by side what several capabilities know: the airframe at a
// glance, one assembly with all that belongs to it, the sheets on which one works. It
// writes nothing.
package overview

import (
	"context"
	"errors"
	"sync"

	"orpine/internal/airframe"
	"orpine/internal/amending"
	"orpine/internal/asking"
	"orpine/internal/closing"
	"orpine/internal/coating"
	"orpine/internal/finding"
	"orpine/internal/gate"
	"orpine/internal/gauge"
	"orpine/internal/holding"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/logbook"
	"orpine/internal/measuring"
	"orpine/internal/photo"
	"orpine/internal/planning"
	"orpine/internal/riveting"
	"orpine/internal/store/query"
	"orpine/internal/stores"
	"orpine/internal/supplier"
)

// Workshop is everything that a workshop can do.
type Workshop struct {
	Ledger      *ledger.Ledger
	Gate        *gate.Gate
	Airframes   *airframe.Airframes
	Instruments *instrument.Instruments
	Measuring   *measuring.Measuring
	Riveting    *riveting.Riveting
	Closing     *closing.Closing
	Stores      *stores.Stores
	Photos      *photo.Photos
	Logbook     *logbook.Logbook
	Planning    *planning.Planning
	Asking      *asking.Asking
	Coating     *coating.Coating
	Holding     *holding.Holding
	Amending    *amending.Amending
	Checks      *Checker
	Keeper      *Keeper
	Supplier    *supplier.Client // that is asked over the wire; nil for none
	Gauges      *gauge.Desk      // instruments that are listened to
	Plays       []Played         // simulated ones that run beside it
	FindIn      string           // the file of the index of what can be found; "" keeps it in memory

	finder struct {
		sync.Mutex
		index *finding.Index
	}

	PlaysAtMost int // of an order of work; 0 for as many as are usual
	forecasts   forecasts

	running kept[runs]
	aheads  kept[Ahead]
	waiting kept[[]Wait]
}

// Played is a simulated instrument.
type Played struct{ Sort, Unit, Address string }

// New returns the workshop over a ledger.
func New(l *ledger.Ledger) *Workshop {
	g := gate.New(l)
	m := measuring.New(l, g)
	checks := &Checker{ledger: l}
	return &Workshop{
		Ledger: l, Gate: g, Airframes: airframe.New(l), Instruments: instrument.New(l), Measuring: m, Riveting: riveting.New(l, g), Closing: closing.New(l, g),
		Stores: stores.New(l, g, m.Compare), Photos: photo.New(l, g), Logbook: logbook.New(l), Planning: planning.New(l), Asking: asking.New(l), Coating: coating.New(l), Holding: holding.New(l, g, m), Amending: amending.New(l, m), Checks: checks, Keeper: &Keeper{ledger: l, checks: checks}, Gauges: new(gauge.Desk),
	}
}

// view reads one state of the workshop, and then keeps what was worked out on the way.
func (w *Workshop) view(ctx context.Context, read func(q *query.Queries) error) error {
	err := w.Ledger.View(ctx, read)
	return errors.Join(err, w.Measuring.Settle(ctx, measuring.Several))
}
