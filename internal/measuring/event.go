package measuring

import (
	"context"
	"database/sql"
	"errors"
	"slices"

	"orpine/internal/core/measure"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// SomethingMoved ends the present state of a setup. It names the state that was on
// screen.
type SomethingMoved struct {
	ledger.Form
	Setup string        `json:"setup" form:"-"` // id
	State int64         `json:"state" form:"state"`
	What  measure.Event `json:"what" form:"what"`
}

// Happened is an event with what followed from it, as the facts of an entry have it.
type Happened struct {
	ID       string        `json:"id"` // of the event
	Setup    string        `json:"setup"`
	Title    string        `json:"title"`
	What     measure.Event `json:"what"`
	State    int64         `json:"state"` // from then on
	Stale    []string      `json:"stale"` // readings, by id
	Checks   []string      `json:"checks"`
	Looks    []string      `json:"looks"`
	Releases []string      `json:"releases"`       // that lapsed
	Also     []Happened    `json:"also,omitempty"` // in the setups that are one placing with it
}

var happened = &ledger.Kind[SomethingMoved, Happened]{
	Name: "event", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, _ SomethingMoved, f Happened) error {
		return PutHappened(ctx, q, e, f)
	},
	Words: func(n SomethingMoved, f Happened) ledger.Words {
		return ledger.Words{What: f.Title + ": " + string(n.What), Detail: "readings that it disturbs no longer count"}
	},
}

// SomethingMoved records the event: the readings that it disturbs turn stale,
// and releases that were not spent lapse.
func (m *Measuring) SomethingMoved(ctx context.Context, n SomethingMoved) error {
	_, err := ledger.Do(ctx, m.ledger, happened, n.Form, n, func(q *query.Queries) (Happened, error) {
		if !n.What.Known() {
			return Happened{}, ledger.Problems{"what": "what was it? Choose one of the list"}
		}
		s, err := m.Load(ctx, q, n.Setup)
		if err != nil {
			return Happened{}, err
		}
		if err := s.shows(n.State); err != nil {
			return Happened{}, err
		}
		h, err := s.Happen(ctx, q, n.ID, n.What)
		if err != nil {
			return h, err
		}
		with, err := placedWith(ctx, q, s.ID, "")
		for _, id := range with {
			one, err := m.Load(ctx, q, id)
			if err != nil {
				return h, err
			}
			also, err := one.Happen(ctx, q, ledger.Child(n.ID, "in "+id), n.What)
			if err != nil {
				return h, err
			}
			h.Also = append(h.Also, also)
		}
		return h, err
	})
	return err
}

// Happen returns what follows from an event in the setup.
func (s Setup) Happen(ctx context.Context, q *query.Queries, id string, what measure.Event) (h Happened, err error) {
	h = Happened{ID: id, Setup: s.ID, Title: s.Title(), What: what, State: s.State + 1, Stale: []string{}, Checks: []string{}, Releases: []string{}}
	for _, c := range s.Checks {
		if !c.Input.Disturbed(what) {
			continue
		}
		before := len(h.Stale)
		for _, spot := range c.Spots {
			for _, r := range spot.Counting() {
				h.Stale = append(h.Stale, r.ID)
			}
		}
		if len(h.Stale) > before {
			h.Checks = append(h.Checks, c.ID)
		}
	}
	if h.Looks, err = gate.GoingStale(ctx, q, s.AssemblyID, what); err != nil {
		return h, err
	}
	return h, nil // which releases end by it, the gate finds
}

// PutHappened writes an event and what followed from it.
func PutHappened(ctx context.Context, q *query.Queries, e ledger.Entry, h Happened) error {
	if err := q.AddEvent(ctx, query.AddEventParams{ID: h.ID, SetupID: h.Setup, What: string(h.What), At: e.At, Entry: e.Seq}); err != nil {
		return err
	}
	for ids := range slices.Chunk(h.Stale, 5000) { // SQLite takes some 32,000 at once
		if err := q.MakeStale(ctx, query.MakeStaleParams{StaleEvent: gate.Reference(h.ID), Ids: ids}); err != nil {
			return err
		}
	}
	for _, id := range h.Checks {
		if err := q.ReviseCheck(ctx, query.ReviseCheckParams{Revised: e.Seq, ID: id}); err != nil {
			return err
		}
		if err := q.ReviseSurveyed(ctx, query.ReviseSurveyedParams{Revised: e.Seq, Survey: id}); err != nil {
			return err
		}
	}
	if err := gate.PutStale(ctx, q, h.Looks, h.ID); err != nil {
		return err
	}
	if err := gate.PutLapsed(ctx, q, e, h.Releases, h.ID); err != nil {
		return err
	}
	if err := q.NextState(ctx, query.NextStateParams{State: h.State, SteadyAt: e.At, LastEvent: string(h.What), ID: h.Setup}); err != nil {
		return err
	}
	for _, also := range h.Also {
		if err := PutHappened(ctx, q, e, also); err != nil {
			return err
		}
	}
	return nil
}

// EventMistaken takes an event back that was entered by mistake: the last one of its setup, for as
// long as nothing was read in the state that it began.
type EventMistaken struct {
	ledger.Form
	Setup  string `json:"setup" form:"-"` // id
	State  int64  `json:"state" form:"state"`
	Reason string `json:"reason" form:"reason" text:"lines"`
	By     string `json:"by" form:"by"`
}

// Restored is what an event had done, and is so no more.
type Restored struct {
	Event  string        `json:"event"` // its id
	Title  string        `json:"title"`
	What   measure.Event `json:"what"`
	State  int64         `json:"state"` // from then on
	Last   measure.Event `json:"last,omitempty"`
	Steady string        `json:"steady"`
	Checks []string      `json:"checks"`
	Entry  string        `json:"entry,omitempty"` // id of the entry that it came with
	Setup  string        `json:"setup,omitempty"` // id; "" for the one that the entry names
	Also   []Restored    `json:"also,omitempty"`  // in the setups in which it happened too
}

var eventMistaken = &ledger.Kind[EventMistaken, Restored]{
	Name: "event-mistaken", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n EventMistaken, f Restored) error {
		f.Setup = n.Setup
		for _, one := range append([]Restored{f}, f.Also...) {
			if err := one.Put(ctx, q, e, n.Reason); err != nil {
				return err
			}
		}
		return nil
	},
	TakesBack: func(_ EventMistaken, f Restored) []string { return []string{f.Event, f.Entry} },
	Words: func(n EventMistaken, f Restored) ledger.Words {
		return ledger.Words{What: f.Title + ": a *" + string(f.What) + "* was taken back", Detail: n.Reason}
	},
}

// Put writes that the event did not happen.
func (f Restored) Put(ctx context.Context, q *query.Queries, e ledger.Entry, reason string) error {
	if err := q.UndoEvent(ctx, query.UndoEventParams{Undone: reason, ID: f.Event}); err != nil {
		return err
	}
	if err := q.FreshenReadings(ctx, gate.Reference(f.Event)); err != nil {
		return err
	}
	if err := gate.PutFresh(ctx, q, f.Event); err != nil {
		return err
	}
	for _, id := range f.Checks {
		if err := q.ReviseCheck(ctx, query.ReviseCheckParams{Revised: e.Seq, ID: id}); err != nil {
			return err
		}
		if err := q.ReviseSurveyed(ctx, query.ReviseSurveyedParams{Revised: e.Seq, Survey: id}); err != nil {
			return err
		}
	}
	return q.NextState(ctx, query.NextStateParams{State: f.State, SteadyAt: f.Steady, LastEvent: string(f.Last), ID: f.Setup})
}

// TakeEventBack takes an event back. Problems are at "reason", "by" and "".
func (m *Measuring) TakeEventBack(ctx context.Context, n EventMistaken) error {
	wrong := ledger.Problems{}
	wrong.Text("reason", &n.Reason, ledger.MaxNote, "why was it entered by mistake?")
	wrong.Text("by", &n.By, ledger.MaxName, "who says so?")
	_, err := ledger.Do(ctx, m.ledger, eventMistaken, n.Form, n, func(q *query.Queries) (f Restored, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		s, err := m.Load(ctx, q, n.Setup)
		if err != nil {
			return f, err
		}
		if err := s.shows(n.State); err != nil {
			return f, err
		}
		last, err := q.LastEventOf(ctx, n.Setup)
		if err != nil {
			return f, ledger.Found(err)
		}
		if what := measure.Event(last.What); !what.Known() {
			return f, ledger.Problems{"": "it was " + last.What + " by a step that is recorded: take that back"}
		}
		all, err := m.Without(ctx, q, last.Entry)
		if err != nil {
			return f, err
		}
		for _, one := range all {
			if one.Event == last.ID {
				f = one
			} else {
				f.Also = append(f.Also, one)
			}
		}
		entry, err := q.Entry(ctx, last.Entry)
		f.Entry = entry.ID
		return f, err
	})
	return err
}

// Without is what the events that came with an entry had done, setup by setup. Where something happened there since, or
// was read, it is a problem.
func (m *Measuring) Without(ctx context.Context, q *query.Queries, entry int64) (out []Restored, err error) {
	events, err := q.EventsOfEntry(ctx, entry)
	if err != nil {
		return nil, err
	}
	for _, e := range events {
		s, err := m.Load(ctx, q, e.SetupID)
		if err != nil {
			return nil, err
		}
		one, err := s.without(ctx, q, e)
		if err != nil {
			return nil, err
		}
		out = append(out, one)
	}
	return out, nil
}

// without is a setup as it was before its last event.
func (s Setup) without(ctx context.Context, q *query.Queries, last query.Event) (f Restored, err error) {
	newest, err := q.LastEventOf(ctx, s.ID)
	if err != nil {
		return f, ledger.Found(err)
	}
	read, err := q.ReadingsOfState(ctx, query.ReadingsOfStateParams{SetupID: s.ID, State: s.State})
	if err != nil {
		return f, err
	}
	if read > 0 || newest.ID != last.ID {
		return f, ledger.Problems{"": "it was read in “" + s.Name + "” since, or something else happened there: take that back first, or let it stand"}
	}
	f = Restored{Event: last.ID, Setup: s.ID, Title: s.Title(), What: measure.Event(last.What), State: s.State - 1, Checks: []string{}, Steady: ledger.Kept(s.Steady)}
	stale, err := q.ReadingsStaleBy(ctx, gate.Reference(last.ID))
	if err != nil {
		return f, err
	}
	for _, r := range stale {
		if !slices.Contains(f.Checks, r.CheckID) {
			f.Checks = append(f.Checks, r.CheckID)
		}
	}
	before, err := q.EventBefore(ctx, query.EventBeforeParams{SetupID: s.ID, Entry: last.Entry})
	switch {
	case errors.Is(err, sql.ErrNoRows):
		row, err := q.SetupRow(ctx, s.ID)
		f.Steady = row.BegunAt
		return f, err
	case err == nil:
		f.Last, f.Steady = measure.Event(before.What), before.At
	}
	return f, err
}
