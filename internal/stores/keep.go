package stores

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"orpine/internal/core/part"
	"orpine/internal/core/say"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Keepers put parts, notices and lines of stock right.
var Keepers = []ledger.Keeper{
	{Kind: "part", Load: loadPart, Judge: judgePart, Put: putPart, Withdraw: withdrawPart},
	{Kind: "notice", Load: loadNotice, Judge: judgeNotice, Put: putNotice, Withdraw: withdrawNotice},
	{Kind: "stock", Load: loadStock, Judge: judgeStock, Put: putStock, Withdraw: withdrawStock},
}

func loadPart(ctx context.Context, q *query.Queries, id string, _ map[string]string) (t ledger.Thing, err error) {
	p, err := q.Part(ctx, id)
	if err != nil {
		return t, ledger.Found(err)
	}
	return ledger.Thing{Kind: "part", ID: id, Title: p.Number + ", " + p.Name, Path: "/stores?airframe=" + p.AirframeID, After: "/stores?airframe=" + p.AirframeID, Seen: p.Revised, Withdrawn: p.Withdrawn, Fields: []ledger.ThingField{
		{Key: "number", Label: "Number in the plans", Value: p.Number}, {Key: "name", Label: "What it is", Value: p.Name}, {Key: "hand", Label: "Hand on its label", Value: p.Hand, Words: append([]string{part.HandUnknown}, part.Hands...)},
		{Key: "supplier", Label: "Supplier", Value: p.Supplier}, {Key: "lot", Label: "Lot", Value: p.Lot}, {Key: "process", Label: "Process", Value: p.Process}, {Key: "condition", Label: "Condition on arrival", Value: p.Condition}, {Key: "clue", Label: "How it lies when it is right", Value: p.Clue},
	}}, nil
}

// partFacts are a part as it was put right.
type partFacts struct {
	Number    string `json:"number"`
	Name      string `json:"name"`
	Hand      string `json:"hand"`
	Supplier  string `json:"supplier"`
	Lot       string `json:"lot"`
	Process   string `json:"process"`
	Condition string `json:"condition"`
	Clue      string `json:"clue"`
}

func judgePart(_ context.Context, _ *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	if values == nil {
		return partFacts{Number: t.Field("number"), Name: t.Field("name")}, nil
	}
	f := partFacts{values["number"], values["name"], values["hand"], values["supplier"], values["lot"], values["process"], values["condition"], values["clue"]}
	wrong.Text("number", &f.Number, ledger.MaxName, "")
	wrong.Text("name", &f.Name, ledger.MaxName, "what is it?")
	for field, into := range map[string]*string{"supplier": &f.Supplier, "lot": &f.Lot, "process": &f.Process} {
		wrong.Text(field, into, ledger.MaxName, "")
	}
	wrong.Text("condition", &f.Condition, ledger.MaxNote, "")
	wrong.Text("clue", &f.Clue, ledger.MaxNote, "")
	if !part.HandKnown(f.Hand) {
		wrong.Add("hand", "left, right, either or none?")
	}
	return f, nil
}

func putPart(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	var f partFacts
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	return q.ChangePart(ctx, query.ChangePartParams{Number: f.Number, Name: f.Name, Hand: f.Hand, Supplier: f.Supplier, Lot: f.Lot, Process: f.Process, Condition: f.Condition, Clue: f.Clue, Revised: e.Seq, ID: id})
}

func withdrawPart(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string, _ json.RawMessage) error {
	return q.WithdrawPart(ctx, query.WithdrawPartParams{Withdrawn: reason, Revised: e.Seq, ID: id})
}

func loadNotice(ctx context.Context, q *query.Queries, id string, _ map[string]string) (t ledger.Thing, err error) {
	n, err := q.Notice(ctx, id)
	if err != nil {
		return t, ledger.Found(err)
	}
	lines := func(text string) string {
		var list []string
		if json.Unmarshal([]byte(text), &list) != nil {
			return ""
		}
		return strings.Join(list, "\n")
	}
	return ledger.Thing{Kind: "notice", ID: id, Title: n.Title, Path: "/stores?airframe=" + n.AirframeID, After: "/stores?airframe=" + n.AirframeID, Seen: n.Revised, Withdrawn: n.Withdrawn, Fields: []ledger.ThingField{
		{Key: "title", Label: "What it is about", Value: n.Title}, {Key: "numbers", Label: "Part numbers, one to a line", Value: lines(n.Numbers), Lines: true}, {Key: "lots", Label: "Lots, one to a line", Value: lines(n.Lots), Lines: true},
		{Key: "processes", Label: "Processes, one to a line", Value: lines(n.Processes), Lines: true}, {Key: "note", Label: "Note", Value: n.Note},
	}}, nil
}

// noticeFacts are a notice as it was put right.
type noticeFacts struct {
	Title string `json:"title"`
	Note  string `json:"note"`
	listed
}

func judgeNotice(_ context.Context, _ *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	f := noticeFacts{Title: t.Field("title")}
	if values == nil {
		return f, nil
	}
	f.Title, f.Note = values["title"], values["note"]
	wrong.Text("title", &f.Title, ledger.MaxName, "what is it about?")
	wrong.Text("note", &f.Note, ledger.MaxNote, "")
	all := 0
	for key, into := range map[string]*json.RawMessage{"numbers": &f.Numbers, "lots": &f.Lots, "processes": &f.Processes} {
		list := []string{}
		for _, line := range strings.Split(values[key], "\n") {
			if line = strings.TrimSpace(line); line != "" {
				list = append(list, line)
			}
		}
		all += len(list)
		data, err := json.Marshal(list)
		if err != nil {
			return f, err
		}
		*into = data
	}
	if all == 0 {
		wrong.Add("numbers", "a notice names part numbers, lots or processes")
	}
	return f, nil
}

func putNotice(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	var f noticeFacts
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	return q.ChangeNotice(ctx, query.ChangeNoticeParams{Title: f.Title, Numbers: string(f.Numbers), Lots: string(f.Lots), Processes: string(f.Processes), Note: f.Note, Revised: e.Seq, ID: id})
}

func withdrawNotice(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string, _ json.RawMessage) error {
	return q.WithdrawNotice(ctx, query.WithdrawNoticeParams{Withdrawn: reason, Revised: e.Seq, ID: id})
}

func loadStock(ctx context.Context, q *query.Queries, id string, _ map[string]string) (t ledger.Thing, err error) {
	s, err := q.StockCount(ctx, id)
	if err != nil {
		return t, ledger.Found(err)
	}
	return ledger.Thing{Kind: "stock", ID: id, Title: fmt.Sprintf("%d × %s", s.Number, s.Name), Path: "/stores?airframe=" + s.AirframeID, After: "/stores?airframe=" + s.AirframeID, Seen: s.Revised, Withdrawn: s.Withdrawn, Fields: []ledger.ThingField{
		{Key: "sort", Label: "What", Value: s.Sort, Words: StockSorts}, {Key: "name", Label: "Which", Value: s.Name}, {Key: "number", Label: "How many", Value: fmt.Sprint(s.Number)}, {Key: "place", Label: "Where: box, shelf", Value: s.Place}, {Key: "lot", Label: "Lot", Value: s.Lot}, {Key: "best", Label: "Best before", Value: s.Best}, {Key: "note", Label: "Note", Value: s.Note},
	}}, nil
}

// stockFacts are a count as it was put right.
type stockFacts struct {
	Sort   string `json:"sort"`
	Name   string `json:"name"`
	Number int64  `json:"number"`
	Note   string `json:"note"`
	Place  string `json:"place,omitempty"`
	Lot    string `json:"lot,omitempty"`
	Best   string `json:"best,omitempty"`
}

func judgeStock(_ context.Context, _ *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	f := stockFacts{Name: t.Field("name")}
	if values == nil {
		return f, nil
	}
	f = stockFacts{Sort: values["sort"], Name: values["name"], Note: values["note"], Place: values["place"], Lot: values["lot"]}
	wrong.Text("lot", &f.Lot, ledger.MaxName, "")
	f.Best = bestBefore(values["best"], time.Time{}, wrong)
	wrong.Text("place", &f.Place, ledger.MaxName, "")
	wrong.Text("name", &f.Name, ledger.MaxName, "which one: solid 1/8 × "+say.Example("6 mm", "1/4 in")+"?")
	wrong.Text("note", &f.Note, ledger.MaxNote, "")
	if !slices.Contains(StockSorts, f.Sort) {
		wrong.Add("sort", "what is it? Choose one of the list")
	}
	var err error
	if f.Number, err = strconv.ParseInt(strings.TrimSpace(values["number"]), 10, 64); err != nil || f.Number == 0 || f.Number > 1_000_000 || f.Number < -1_000_000 {
		wrong.Add("number", "how many? A whole number")
	}
	return f, nil
}

func putStock(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	var f stockFacts
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	return q.ChangeStockCount(ctx, query.ChangeStockCountParams{Sort: f.Sort, Name: f.Name, Number: f.Number, Note: f.Note, Place: f.Place, Lot: f.Lot, Best: f.Best, Revised: e.Seq, ID: id})
}

func withdrawStock(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string, _ json.RawMessage) error {
	return q.WithdrawStockCount(ctx, query.WithdrawStockCountParams{Withdrawn: reason, Revised: e.Seq, ID: id})
}
