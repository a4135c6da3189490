package riveting

import (
	"context"
	"encoding/json"
	"slices"

	"orpine/internal/core/hold"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Keepers put rows right.
var Keepers = []ledger.Keeper{{Kind: "row", Load: loadRow, Judge: judgeRow, Put: putRow, Withdraw: withdrawRow}}

func loadRow(ctx context.Context, q *query.Queries, id string, _ map[string]string) (t ledger.Thing, err error) {
	r, err := One(ctx, q, id)
	if err != nil {
		return t, err
	}
	kept, err := q.Row(ctx, id)
	if err != nil {
		return t, err
	}
	t = ledger.Thing{Kind: "row", ID: id, Title: r.AssemblyName + ": " + r.Name, Path: "/rows/" + id, After: "/assemblies/" + r.AssemblyID, Seen: r.Planned, Withdrawn: kept.RivetRow.Withdrawn, Fields: []ledger.ThingField{{Key: "name", Label: "Name", Value: r.Name}}}
	texts := r.Texts()
	for _, f := range PlanFields() {
		words := f.Words
		t.Fields = append(t.Fields, ledger.ThingField{Key: f.Key, Label: f.Label, Value: texts[f.Key], Words: words, Columns: f.Columns})
	}
	done, err := q.AnyOperation(ctx, id)
	if done > 0 {
		t.Stays = "something was done at its holes: undo that first, or abandon them one by one"
	}
	return t, err
}

// rowFacts are a row as it was put right.
type rowFacts struct {
	Name  string          `json:"name"`
	Plan  json.RawMessage `json:"plan"`
	Line  json.RawMessage `json:"line"`
	Hold  string          `json:"hold,omitempty"`  // that was made with it, and goes with it
	Asked []gate.Asked    `json:"asked,omitempty"` // the hold that asked for it, without it
}

func judgeRow(ctx context.Context, q *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	r, err := One(ctx, q, t.ID)
	if err != nil {
		return nil, err
	}
	f := rowFacts{Name: r.Name}
	if values == nil {
		return f, f.leaves(r)
	}
	f.Name = values["name"]
	wrong.Text("name", &f.Name, ledger.MaxName, "which row is it?")
	values["sure"] = "yes" // it is put right with a reason
	form := rowReader{values, r.Airframe.Unit, wrong}
	plan, line := form.plan(), form.line()
	plan.Final = r.Final
	if line.From == line.To {
		line = r.Line
	}
	if f.Plan, err = json.Marshal(plan); err != nil {
		return f, err
	}
	f.Line, err = json.Marshal(line)
	return f, err
}

// leaves finds what becomes of the hold of a row that is withdrawn.
func (f *rowFacts) leaves(r Row) error {
	if r.Rivets.ID == ledger.Child(r.ID, "hold") {
		f.Hold = r.Rivets.ID
		return nil
	}
	less, err := gate.AskLess(r.Rivets, r.ID, "the row “"+r.Name+"” was withdrawn", hold.Met, func(q hold.Requirement) bool { return q.Of == r.ID })
	f.Asked = slices.Clip([]gate.Asked{less})
	return err
}

func putRow(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	var f rowFacts
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	return q.ChangeRow(ctx, query.ChangeRowParams{Name: f.Name, Plan: string(f.Plan), Line: string(f.Line), Planned: e.Seq, Revised: e.Seq, ID: id})
}

func withdrawRow(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string, judged json.RawMessage) error {
	var f rowFacts
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	if f.Hold != "" {
		if err := gate.PutHoldWithdrawn(ctx, q, e, f.Hold, reason); err != nil {
			return err
		}
	}
	if err := gate.PutAsked(ctx, q, e, f.Asked); err != nil {
		return err
	}
	return q.WithdrawRow(ctx, query.WithdrawRowParams{Withdrawn: reason, Revised: e.Seq, ID: id})
}
