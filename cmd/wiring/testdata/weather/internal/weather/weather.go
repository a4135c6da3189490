// Package weather notes what the day was like: a capability that is only there for the
// test that adds it.
package weather

import (
	"context"

	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Weather is the notes of a workshop.
type Weather struct{ ledger *ledger.Ledger }

// New returns them.
func New(l *ledger.Ledger) *Weather { return &Weather{l} }

// Capability is what the package brings to the ledger.
var Capability = ledger.Capability{Name: "weather", Tables: ledger.Records("weather_notes"), Kinds: ledger.Kinds(noted)}

// NewNote is a note.
type NewNote struct {
	ledger.Form
	Says string `json:"says" form:"says"`
}

var noted = &ledger.Kind[NewNote, struct{}]{
	Name: "weather", Version: 1, Bears: ledger.Apart,
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewNote, _ struct{}) error {
		return q.AddWeatherNote(ctx, query.AddWeatherNoteParams{ID: e.ID, Says: n.Says, At: e.At, Entry: e.Seq})
	},
	Words: func(n NewNote, _ struct{}) ledger.Words { return ledger.Words{What: "Weather: " + n.Says} },
}

// Note keeps a note.
func (w *Weather) Note(ctx context.Context, n NewNote) error {
	wrong := ledger.Problems{}
	wrong.Text("says", &n.Says, ledger.MaxName, "what is it like?")
	_, err := ledger.Do(ctx, w.ledger, noted, n.Form, n, func(*query.Queries) (f struct{}, err error) { return f, wrong.Err() })
	return err
}

// Notes lists them.
func (w *Weather) Notes(ctx context.Context) (says []string, err error) {
	err = w.ledger.View(ctx, func(q *query.Queries) error {
		rows, err := q.WeatherNotes(ctx)
		for _, r := range rows {
			says = append(says, r.Says)
		}
		return err
	})
	return says, err
}
