package ledger

import (
	"context"
	"encoding/json"

	"orpine/internal/store/query"
)

// Keeper lets what a capability keeps be put right: changed, corrected or withdrawn.
type Keeper struct {
	Kind string // of the thing: "assembly"
	// Load returns a thing as it is; typed is what was typed of its fields, nil for
	// nothing. ErrNotFound where there is none.
	Load func(ctx context.Context, q *query.Queries, id string, typed map[string]string) (Thing, error)
	// Judge reads what was typed and returns what Put writes. Problems are by field. To
	// withdraw a thing values is nil.
	Judge func(ctx context.Context, q *query.Queries, t Thing, values map[string]string, wrong Problems) (any, error)
	// Put writes what was judged; it computes nothing.
	Put func(ctx context.Context, q *query.Queries, e Entry, id string, judged json.RawMessage) error
	// Withdraw takes the thing out, for a reason; judged is what Judge said without values.
	Withdraw func(ctx context.Context, q *query.Queries, e Entry, id, reason string, judged json.RawMessage) error
}

// Thing is something that was entered, with the fields that may be put right.
type Thing struct {
	Kind, ID, Title string
	Path            string // of the sheet that shows it
	After           string // of the sheet to go to once it is withdrawn
	Fields          []ThingField
	Seen            int64  // the entry that changed it last
	Stays           string // why it cannot be withdrawn; "" where it can
	Withdrawn       string // why it was
}

// ThingField is one field of it, as it would be typed.
type ThingField struct {
	Key, Label, Value string
	Words             []string // to choose from; nil: typed
	Lines             bool
	Columns           []string // of a list: lines of columns parted by semicolons, a row of fields for each
	Tick              bool
}

// Field is the value of a field.
func (t Thing) Field(key string) string {
	for _, f := range t.Fields {
		if f.Key == key {
			return f.Value
		}
	}
	return ""
}
