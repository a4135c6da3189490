package coating

import (
	"context"
	"encoding/json"
	"fmt"
	"strconv"
	"strings"

	"orpine/internal/core/cure"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Keepers put makers' tables and clocks right. No hold rests on them.
func Keepers(c *Coating) []ledger.Keeper {
	return []ledger.Keeper{
		{Kind: "material", Load: loadMaterial, Judge: judgeMaterial, Put: putMaterial, Withdraw: withdrawMaterial},
		{Kind: "clock", Load: c.loadClock, Judge: c.judgeClock, Put: putClock, Withdraw: withdrawClock},
	}
}

func loadMaterial(ctx context.Context, q *query.Queries, id string, _ map[string]string) (t ledger.Thing, err error) {
	r, err := q.Material(ctx, id)
	if err != nil {
		return t, ledger.Found(err)
	}
	m, err := materialOf(r)
	if err != nil {
		return t, err
	}
	var lines []string
	for _, l := range m.Lines {
		lines = append(lines, strings.Join([]string{strconv.FormatFloat(l.At, 'f', -1, 64), Spoken(l.Pot), Spoken(l.From), Spoken(l.Until), Spoken(l.Handle), Spoken(l.Full)}, "; "))
	}
	return ledger.Thing{Kind: "material", ID: id, Title: m.Name, Path: "/cures", After: "/cures", Seen: r.Revised, Withdrawn: r.Withdrawn, Fields: []ledger.ThingField{
		{Key: "name", Label: "What it is", Value: m.Name}, {Key: "table", Label: "The maker's table", Value: strings.Join(lines, "\n"), Columns: Columns},
		{Key: "least", Label: "Coats at least", Value: fmt.Sprint(m.Least)}, {Key: "most", Label: "Coats at most", Value: fmt.Sprint(m.Most)},
		{Key: "stop", Label: "It is enough when", Value: m.Stop}, {Key: "caution", Label: "Cautions", Value: m.Caution},
	}}, nil
}

func judgeMaterial(_ context.Context, _ *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	if values == nil {
		return tabled{Name: t.Field("name")}, nil
	}
	n := NewMaterial{Name: values["name"], Table: values["table"], Least: values["least"], Most: values["most"], Stop: values["stop"], Caution: values["caution"]}
	f := n.read(wrong)
	f.Name, f.Stop, f.Caution = n.Name, n.Stop, n.Caution
	return f, nil
}

func putMaterial(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	var f tabled
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	return q.ChangeMaterial(ctx, query.ChangeMaterialParams{Name: f.Name, Lines: string(f.Lines), Least: f.Least, Most: f.Most, Stop: f.Stop, Caution: f.Caution, Revised: e.Seq, ID: id})
}

func withdrawMaterial(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string, _ json.RawMessage) error {
	return q.WithdrawMaterial(ctx, query.WithdrawMaterialParams{Withdrawn: reason, Revised: e.Seq, ID: id})
}

func (c *Coating) loadClock(ctx context.Context, q *query.Queries, id string, _ map[string]string) (t ledger.Thing, err error) {
	r, err := q.Clock(ctx, id)
	if err != nil {
		return t, ledger.Found(err)
	}
	k, err := clockOf(r, rule{}, c.ledger.When)
	if err != nil {
		return t, err
	}
	path := "/cures?airframe=" + r.AirframeID
	return ledger.Thing{Kind: "clock", ID: id, Title: k.What, Path: path, After: path, Seen: r.Revised, Withdrawn: r.Withdrawn, Fields: []ledger.ThingField{
		{Key: "what", Label: "What it is", Value: k.What}, {Key: "temperature", Label: "How warm it was, °C", Value: strconv.FormatFloat(k.Temperature, 'f', -1, 64)}, {Key: "full", Label: "Cured after", Value: Spoken(k.Full)},
	}}, nil
}

// judgeClock judges a clock that is put right: another temperature is read from the table anew.
func (c *Coating) judgeClock(ctx context.Context, q *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	f := begun{What: t.Field("what")}
	if values == nil {
		return f, nil
	}
	f.What = values["what"]
	wrong.Text("what", &f.What, ledger.MaxName, "what is it?")
	k, m, err := c.load(ctx, q, t.ID)
	if err != nil {
		return f, err
	}
	at, err := Celsius(values["temperature"])
	if err != nil {
		wrong.Add("temperature", err.Error())
		return f, nil
	}
	lasts := k.Lasts
	if f.Temperature = at; at != k.Temperature && m.ID != "" {
		lasts = cure.At(m.Lines, at)
	}
	if full := values["full"]; full != t.Field("full") {
		if lasts.Full, err = Hours(full); err != nil {
			wrong.Add("full", err.Error())
		}
	}
	f.Lasts, err = json.Marshal(lasts)
	return f, err
}

func putClock(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	var f begun
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	return q.ChangeClock(ctx, query.ChangeClockParams{What: f.What, Temperature: f.Temperature, Lasts: string(f.Lasts), Revised: e.Seq, ID: id})
}

func withdrawClock(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string, _ json.RawMessage) error {
	return q.WithdrawClock(ctx, query.WithdrawClockParams{Withdrawn: reason, Revised: e.Seq, ID: id})
}
