package instrument

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Keepers put instruments right.
var Keepers = []ledger.Keeper{{Kind: "instrument", Load: load, Judge: judge, Put: put, Withdraw: withdraw}}

func load(ctx context.Context, q *query.Queries, id string, _ map[string]string) (t ledger.Thing, err error) {
	r, err := q.Instrument(ctx, id)
	if err != nil {
		return t, ledger.Found(err)
	}
	due := ""
	if r.DueDays > 0 {
		due = fmt.Sprint(r.DueDays)
	}
	t = ledger.Thing{Kind: "instrument", ID: id, Title: r.Name, Path: "/instruments", After: "/instruments", Seen: r.Revised, Withdrawn: r.Withdrawn, Fields: []ledger.ThingField{
		{Key: "name", Label: "Name", Value: r.Name}, {Key: "resolution", Label: "Smallest step", Value: r.Resolution}, {Key: "offset", Label: "Constant error at most", Value: r.OffsetMax}, {Key: "spread", Label: "Spread", Value: r.Spread}, {Key: "due_days", Label: "A proof is good for days", Value: due},
	}}
	if r.Serial != "" {
		t.Fields = append(t.Fields, ledger.ThingField{Key: "serial", Label: "Serial number that it sends; empty where another came in its place and was proven", Value: r.Serial})
	}
	switch {
	case r.Sort == "board":
		t.Fields = append(t.Fields, ledger.ThingField{Key: "own", Label: "Its own angle", Value: r.Own})
	case r.Measures == "angle":
		t.Fields = append(t.Fields, ledger.ThingField{Key: "type", Label: "What kind of level", Value: labelOf(r.Type), Words: typesOf(r.Sort)}, ledger.ThingField{Key: "spot", Label: "Where it stands, u", Value: r.Spot}, ledger.ThingField{Key: "per_degree", Label: "Error in proportion, degrees in a degree", Value: r.PerDegree})
	case r.Measures == "length":
		t.Fields = append(t.Fields, ledger.ThingField{Key: "type", Label: "What kind", Value: labelOf(r.Type), Words: typesOf(r.Sort)}, ledger.ThingField{Key: "spot", Label: "Where it stands, u", Value: r.Spot})
		t.Fields = append(t.Fields, ledger.ThingField{Key: "per_metre", Label: "Error in proportion, in a metre", Value: r.PerMetre}, ledger.ThingField{Key: "material", Label: "Made of", Value: r.Material, Words: append([]string{""}, Materials...)})
		if r.Sort == "tape" {
			t.Fields = append(t.Fields, ledger.ThingField{Key: "weight", Label: "Weight, grams a metre", Value: r.Weight}, ledger.ThingField{Key: "pull", Label: "Held at, newtons", Value: r.Pull})
		}
	}
	return t, nil
}

// labelOf is what a type is called; "" for none.
func labelOf(name string) string {
	t, _ := typeNamed(name)
	return t.Label
}

// typesOf are the types that an instrument of a sort may be; "" for not said.
func typesOf(sort string) []string {
	out := []string{""}
	for _, t := range Types {
		if t.Sort == sort && t.Name != "" {
			out = append(out, t.Label)
		}
	}
	return out
}

// figures are an instrument as it was put right.
type figures struct {
	NewInstrument
	Due    int64  `json:"due"`
	Serial string `json:"serial,omitempty"`
	Sent   string `json:"sent_step,omitempty"`
}

func judge(ctx context.Context, q *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	r, err := q.Instrument(ctx, t.ID)
	if err != nil {
		return nil, err
	}
	f := figures{NewInstrument: NewInstrument{Name: r.Name, Sort: r.Sort}}
	if values == nil {
		return f, nil
	}
	f.NewInstrument = NewInstrument{Name: values["name"], Sort: r.Sort, Type: values["type"], Spot: values["spot"], PerDegree: values["per_degree"], Resolution: values["resolution"], Offset: values["offset"], Spread: values["spread"], PerMetre: values["per_metre"], Weight: values["weight"], Pull: values["pull"], Material: values["material"], Own: values["own"], DueDays: values["due_days"]}
	if f.Serial = strings.TrimSpace(values["serial"]); f.Serial != "" { // what another sent counts no more
		f.Sent = r.SentStep
	}
	f.Due = f.NewInstrument.read(wrong).DueDays
	switch other, err := q.InstrumentNamed(ctx, f.Name); {
	case err == nil && other.ID != t.ID:
		wrong.Add("name", "there is one of that name already")
	case err != nil && !errors.Is(ledger.Found(err), ledger.ErrNotFound):
		return f, err
	}
	return f, nil
}

func put(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	var f figures
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	return q.ChangeInstrument(ctx, query.ChangeInstrumentParams{Name: f.Name, Serial: f.Serial, SentStep: f.Sent, Resolution: f.Resolution, OffsetMax: f.Offset, Spread: f.Spread, PerMetre: f.PerMetre, Own: f.Own, DueDays: f.Due, Weight: f.Weight, Pull: f.Pull, Material: f.Material, Type: f.Type, Spot: f.Spot, PerDegree: f.PerDegree, Revised: e.Seq, ID: id})
}

func withdraw(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string, judged json.RawMessage) error {
	var f figures
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	return q.WithdrawInstrument(ctx, query.WithdrawInstrumentParams{Withdrawn: reason, Name: fmt.Sprintf("%s (withdrawn, entry %d)", f.Name, e.Seq), Revised: e.Seq, ID: id})
}
