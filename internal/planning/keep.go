package planning

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"strconv"
	"strings"

	"orpine/internal/core/plan"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Keepers put steps that were added by hand, and visits, right. No hold rests on them.
func Keepers(p *Planning) []ledger.Keeper {
	return []ledger.Keeper{
		{Kind: "step", Load: loadStep, Judge: judgeStep, Put: putStep, Withdraw: withdrawStep, Holds: none},
		{Kind: "order", Load: loadOrder, Judge: p.judgeOrder, Put: putOrder, Withdraw: withdrawOrder, Holds: none},
		{Kind: "visit", Load: loadVisit, Judge: p.judgeVisit, Put: putVisit, Withdraw: withdrawVisit, Holds: none},
	}
}

func none(context.Context, *query.Queries, string) ([]query.Hold, error) { return nil, nil }

// spoken writes hours as they are typed in a line.
func spokenHours(h Hours) string {
	write := func(v float64) string { return strconv.FormatFloat(math.Round(v*100)/100, 'f', -1, 64) }
	if h.Low == h.High {
		return write(h.Likely) + " h"
	}
	return write(h.Low) + " - " + write(h.Likely) + " - " + write(h.High) + " h"
}

func loadStep(ctx context.Context, q *query.Queries, id string, _ map[string]string) (t ledger.Thing, err error) {
	s, err := q.PlanStep(ctx, id)
	if err != nil {
		return t, ledger.Found(err)
	}
	var h Hours
	if err := json.Unmarshal([]byte(s.Hours), &h); err != nil {
		return t, fmt.Errorf("reading the step %s: %w", s.Name, err)
	}
	path := "/order?airframe=" + s.AirframeID
	whole := ""
	if s.Whole == 1 {
		whole = "yes"
	}
	return ledger.Thing{Kind: "step", ID: id, Title: s.Name, Path: path, After: path, Seen: s.Revised, Withdrawn: s.Withdrawn, Fields: []ledger.ThingField{
		{Key: "name", Label: "What is done", Value: s.Name}, {Key: "hours", Label: "How long: 6 h, or low, likely and high", Value: spokenHours(h)}, {Key: "people", Label: "People", Value: fmt.Sprint(s.People)},
		{Key: "kind", Label: "Kind of work", Value: s.Kind}, {Key: "cure", Label: "Cures for so many hours", Value: strconv.FormatFloat(s.Cure, 'f', -1, 64)}, {Key: "whole", Label: "it is done in one go", Value: whole, Tick: true},
	}}, nil
}

func judgeStep(_ context.Context, _ *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	if values == nil {
		return laid{Name: t.Field("name")}, nil
	}
	name, kind := values["name"], values["kind"]
	wrong.Text("name", &name, ledger.MaxName, "what is done?")
	wrong.Text("kind", &kind, ledger.MaxName, "")
	line, err := plan.ParseLine("x, "+values["hours"], nil, nil)
	if err != nil {
		wrong.Add("hours", "how long: 6 h, 40 min, or 4-6-12 h")
	}
	f := laid{Name: name, Title: kind}
	if people, err := strconv.Atoi(strings.TrimSpace(values["people"])); err != nil || people < 1 || people > 50 {
		wrong.Add("people", "how many people? 1 or more")
	} else {
		f.People = int64(people)
	}
	if f.Cure, err = strconv.ParseFloat(strings.Replace(strings.TrimSpace(values["cure"]), ",", ".", 1), 64); err != nil || f.Cure < 0 || f.Cure > 100_000 {
		wrong.Add("cure", "how many hours? 0 for none")
		f.Cure = 0
	}
	if values["whole"] != "" {
		f.Whole = 1
	}
	f.Hours, err = json.Marshal(Hours{line.Low, line.Likely, line.High})
	return f, err
}

func putStep(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	var f laid
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	return q.ChangePlanStep(ctx, query.ChangePlanStepParams{Name: f.Name, Kind: f.Title, Hours: string(f.Hours), People: f.People, Whole: f.Whole, Cure: f.Cure, Revised: e.Seq, ID: id})
}

func withdrawStep(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string, _ json.RawMessage) error {
	return q.WithdrawPlanStep(ctx, query.WithdrawPlanStepParams{Withdrawn: reason, Revised: e.Seq, ID: id})
}

func loadVisit(ctx context.Context, q *query.Queries, id string, _ map[string]string) (t ledger.Thing, err error) {
	v, err := q.PlanVisit(ctx, id)
	if err != nil {
		return t, ledger.Found(err)
	}
	day, from, _ := strings.Cut(v.FromWall, "T")
	path := "/order?airframe=" + v.AirframeID
	return ledger.Thing{Kind: "visit", ID: id, Title: v.Who + ", " + day, Path: path, After: path, Seen: v.Revised, Withdrawn: v.Withdrawn, Fields: []ledger.ThingField{
		{Key: "who", Label: "Who", Value: v.Who}, {Key: "date", Label: "Day", Value: day}, {Key: "from", Label: "From", Value: from}, {Key: "long", Label: "For", Value: spokenHours(Hours{v.Hours, v.Hours, v.Hours})}, {Key: "people", Label: "People in all", Value: fmt.Sprint(v.People)},
	}}, nil
}

// cameAs is a visit as it was put right.
type cameAs struct {
	come
	Who string `json:"who"`
}

func (p *Planning) judgeVisit(_ context.Context, _ *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	if values == nil {
		return cameAs{Who: t.Field("who")}, nil
	}
	n := NewVisit{Date: values["date"], From: values["from"], Long: values["long"], People: values["people"], Who: values["who"]}
	f := n.read(p.ledger.Now(), wrong)
	return cameAs{f, n.Who}, nil
}

func putVisit(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	var f cameAs
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	return q.ChangePlanVisit(ctx, query.ChangePlanVisitParams{FromWall: f.Wall, Hours: f.Hours, People: f.People, Who: f.Who, Revised: e.Seq, ID: id})
}

func withdrawVisit(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string, _ json.RawMessage) error {
	return q.WithdrawPlanVisit(ctx, query.WithdrawPlanVisitParams{Withdrawn: reason, Revised: e.Seq, ID: id})
}
