package stores

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"orpine/internal/core/hold"
	"orpine/internal/core/part"
	"orpine/internal/core/row"
	"orpine/internal/core/say"
	"orpine/internal/core/stock"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// LotUsed says from which lot of something is drawn from now on.
type LotUsed struct {
	ledger.Form
	Airframe string `json:"airframe" form:"airframe"` // id
	Name     string `json:"name" form:"name"`         // as it was counted in
	Lot      string `json:"lot" form:"lot"`
}

var lotUsed = &ledger.Kind[LotUsed, struct{}]{
	Name: "lot-used", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n LotUsed, _ struct{}) error {
		return q.UseLot(ctx, query.UseLotParams{ID: e.ID, AirframeID: n.Airframe, Name: n.Name, Lot: n.Lot, At: e.At, Entry: e.Seq})
	},
	Words: func(n LotUsed, _ struct{}) ledger.Words {
		return ledger.Words{What: "Lot in use: " + n.Name, Detail: n.Lot}
	},
}

// UseLot changes the lot that is drawn from. What was set before keeps the lot that it was drawn from then.
func (s *Stores) UseLot(ctx context.Context, n LotUsed) error {
	_, err := ledger.Do(ctx, s.ledger, lotUsed, n.Form, n, func(q *query.Queries) (f struct{}, err error) {
		boxes, err := Boxes(ctx, q, n.Airframe)
		if err != nil {
			return f, err
		}
		if !slices.ContainsFunc(boxes.Lots(n.Name), func(b stock.Box) bool { return b.Lot == n.Lot }) {
			return f, ledger.Problems{"lot": "no such lot was counted in: count it in first"}
		}
		return f, nil
	})
	return err
}

// HoleLot says afterwards from which lot the rivets of some holes were.
type HoleLot struct {
	ledger.Form
	Row   string `json:"row" form:"row"`     // id
	Holes string `json:"holes" form:"holes"` // "4, 7, 9-12"
	Lot   string `json:"lot" form:"lot"`
	By    string `json:"by" form:"by"`
}

// toldLot is what was told of the lot of holes.
type toldLot struct {
	Row     string `json:"row"` // its name
	Numbers []int  `json:"numbers"`
}

var holeLot = &ledger.Kind[HoleLot, toldLot]{
	Name: "hole-lot", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n HoleLot, f toldLot) error {
		numbers, err := json.Marshal(f.Numbers)
		if err != nil {
			return err
		}
		return q.AddHoleLot(ctx, query.AddHoleLotParams{ID: e.ID, RowID: n.Row, Numbers: string(numbers), Lot: n.Lot, ByName: n.By, At: e.At, Entry: e.Seq})
	},
	Words: func(n HoleLot, f toldLot) ledger.Words {
		return ledger.Words{What: fmt.Sprintf("%s, hole %s: from lot %s", f.Row, row.Runs(f.Numbers), n.Lot), Detail: "by " + n.By}
	},
}

// TellLot keeps from which lot the rivets of some holes were. Problems are at "row", "holes", "lot" and "by".
func (s *Stores) TellLot(ctx context.Context, n HoleLot) error {
	wrong := ledger.Problems{}
	wrong.Text("lot", &n.Lot, ledger.MaxName, "which lot?")
	wrong.Text("by", &n.By, ledger.MaxName, "who says so?")
	numbers, err := row.ParseNumbers(n.Holes)
	if err != nil {
		wrong.Add("holes", err.Error())
	}
	_, err = ledger.Do(ctx, s.ledger, holeLot, n.Form, n, func(q *query.Queries) (f toldLot, err error) {
		if n.Row == "" {
			wrong.Add("row", "which row?")
			return f, wrong.Err()
		}
		name, err := q.NameOfRow(ctx, n.Row)
		if err != nil {
			return f, ledger.Found(err)
		}
		holes, err := q.Holes(ctx, n.Row)
		if err != nil {
			return f, err
		}
		for _, number := range numbers {
			if number > len(holes) {
				wrong.Add("holes", fmt.Sprintf("%s has %d holes", name, len(holes)))
			}
		}
		return toldLot{name, numbers}, wrong.Err()
	})
	return err
}

// Boxes are what was counted in of an aircraft, with their lots, and the lots that were chosen.
func Boxes(ctx context.Context, q *query.Queries, airframe string) (out stock.Boxes, err error) {
	rows, err := q.Boxes(ctx, airframe)
	if err != nil {
		return nil, fmt.Errorf("reading the lots: %w", err)
	}
	for _, r := range rows {
		out = append(out, stock.Box{Name: r.Name, Lot: r.Lot, Best: r.Best, Entry: r.Entry, Chosen: r.Chosen != 0})
	}
	return out, nil
}

// Thing is what a notice may mean beside single parts: stock of a lot, what was set into holes of a row, a pot.
type Thing struct {
	ID         string // stock, row or clock, what it is of, its name and its lot
	Name       string // as stock has it, or the material
	Lot        string // "" where nobody knows
	Where      string // in words
	Row        string // id of the row that it is set into
	Assembly   string // id
	Numbers    []int  // of the holes
	Count      int    // pieces counted in
	Last       int64  // the last entry that put something to it: what an inspection found before is not of that
	Shelf, Pot bool
}

// Says names it.
func (t Thing) Says() string {
	lot := "lot not written down"
	if t.Lot != "" {
		lot = "lot " + t.Lot
	}
	switch {
	case t.Row != "":
		return fmt.Sprintf("%s, %s: %s, holes %s", t.Name, lot, t.Where, row.Runs(t.Numbers))
	case t.Shelf:
		return fmt.Sprintf("%s, %s: %d counted in", t.Name, lot, t.Count)
	}
	return fmt.Sprintf("%s, %s: %s", t.Name, lot, t.Where)
}

// Of is what a notice means for it. A fastener is named by any spelling of its call-out.
func (t Thing) Of(n part.Notice) part.Answer {
	number := t.Name
	for _, named := range n.Numbers {
		if stock.Key(named) == stock.Key(t.Name) {
			number = named
		}
	}
	return n.Of(part.Part{Number: number, Lot: t.Lot})
}

// Named tells whether a notice names it by its number, or call-out.
func (t Thing) Named(n part.Notice) bool {
	return n.Number(t.Name) || slices.ContainsFunc(n.Numbers, func(named string) bool { return stock.Key(named) == stock.Key(t.Name) })
}

// Things are all of an aircraft, by row and lot.
func Things(ctx context.Context, q *query.Queries, airframe string) (out []Thing, err error) {
	boxes, err := Boxes(ctx, q, airframe)
	if err != nil {
		return nil, err
	}
	counted, err := q.StockOfLots(ctx, airframe)
	if err != nil {
		return nil, fmt.Errorf("reading the stock: %w", err)
	}
	for _, c := range counted {
		out = append(out, Thing{ID: "stock/" + stock.Key(c.Name) + "/" + c.Lot, Name: c.Name, Lot: c.Lot, Count: int(c.Number), Last: c.Newest, Shelf: true})
	}
	told, err := toldLots(ctx, q, airframe)
	if err != nil {
		return nil, err
	}
	assemblies, err := q.Assemblies(ctx, airframe)
	if err != nil {
		return nil, err
	}
	var ids []string
	for _, a := range assemblies {
		ids = append(ids, a.ID)
	}
	used, err := usedUp(ctx, q, airframe, boxes, told, ids, nil)
	return append(out, used...), err
}

// usedUp are what was set into holes, of some assemblies and some rows, and what was mixed.
func usedUp(ctx context.Context, q *query.Queries, airframe string, boxes stock.Boxes, told map[string][]stock.Told, assemblies, rows []string) (out []Thing, err error) {
	rivets, err := q.RivetsIn(ctx, query.RivetsInParams{Assemblies: assemblies, Rows: rows})
	if err != nil {
		return nil, fmt.Errorf("reading what is set: %w", err)
	}
	at := map[string]int{}
	for i, r := range rivets {
		if i+1 < len(rivets) && rivets[i+1].RowID == r.RowID && rivets[i+1].Number == r.Number {
			continue // it was set anew since
		}
		for name := range row.Items(r.Fastener) {
			lot, since := boxes.LotOf(name, int(r.Number), r.Entry, told[r.RowID])
			id := "row/" + r.RowID + "/" + stock.Key(name) + "/" + lot
			if _, known := at[id]; !known {
				at[id] = len(out)
				out = append(out, Thing{ID: id, Name: name, Lot: lot, Where: r.AssemblyName + ", " + r.RowName, Row: r.RowID, Assembly: r.AssemblyID})
			}
			t := &out[at[id]]
			t.Numbers, t.Last = append(t.Numbers, int(r.Number)), max(t.Last, since)
		}
	}
	pots, err := q.Pots(ctx, airframe)
	if err != nil {
		return nil, fmt.Errorf("reading what was mixed: %w", err)
	}
	for _, p := range pots {
		box, _ := boxes.Drawn(p.Material, p.Entry)
		out = append(out, Thing{ID: "clock/" + p.ID, Name: p.Material, Lot: box.Lot, Where: say.List(p.AssemblyName, p.What), Assembly: p.AssemblyID, Last: p.Entry, Pot: true})
	}
	return out, nil
}

// toldLots are what was told afterwards of the lots of holes, by row.
func toldLots(ctx context.Context, q *query.Queries, airframe string) (map[string][]stock.Told, error) {
	rows, err := q.HoleLots(ctx, airframe)
	if err != nil {
		return nil, fmt.Errorf("reading the lots of holes: %w", err)
	}
	out := map[string][]stock.Told{}
	for _, r := range rows {
		one := stock.Told{Lot: r.Lot, Entry: r.Entry}
		if err := json.Unmarshal([]byte(r.Numbers), &one.Numbers); err != nil {
			return nil, fmt.Errorf("reading the lots of holes: %w", err)
		}
		out[r.RowID] = append(out[r.RowID], one)
	}
	return out, nil
}

// lots are the lines of makers' notices at holds for what was set into their rows, or mixed for what they close. Only
// what a notice surely means, or names by its number, stands before a step.
func lots(ctx context.Context, q *query.Queries, holds []gate.Hold, assemblies []string, into *hold.Evidence) error {
	notices, err := q.NoticesOfAssemblies(ctx, assemblies)
	if err != nil || len(notices) == 0 {
		return err
	}
	things := map[string][]Thing{}
	var rows []string
	for _, h := range holds {
		rows = append(rows, into.Guards[h.ID]...)
	}
	for _, r := range notices {
		n, boxes, told, found, err := meant(r)
		if err != nil {
			return err
		}
		if n == nil {
			continue
		}
		if _, known := things[r.Notice.AirframeID]; !known {
			if things[r.Notice.AirframeID], err = usedUp(ctx, q, r.Notice.AirframeID, boxes, told, assemblies, rows); err != nil {
				return err
			}
		}
		for _, t := range things[r.Notice.AirframeID] {
			answer := t.Of(*n)
			if f, looked := found[t.ID]; looked && f.Entry > t.Last {
				answer = f.Answer
			}
			l := hold.Line{Key: "notice/" + r.Notice.ID + "/" + t.ID, What: t.Says() + ", by the notice “" + r.Notice.Title + "”"}
			switch {
			case answer == part.Affected:
				l.Standing, l.Why = hold.Stop, "affected: what may be done with it?"
			case answer == part.Unknown && t.Named(*n):
				l.Standing, l.Why = hold.Unsure, "nobody knows whether it is meant: look"
			default:
				continue
			}
			for _, h := range holds {
				if slices.Contains(into.Guards[h.ID], t.Row) || t.Assembly == h.AssemblyID && slices.ContainsFunc(h.Required, func(r hold.Requirement) bool { return r.Need == hold.Inside }) {
					into.Extra[h.ID] = append(into.Extra[h.ID], l)
				}
			}
		}
	}
	return nil
}

// meant is what a notice names, with what tells lots; nil where it cannot stand before a step for something beside
// single parts: it names nothing but parts that are written down, or lots of which nothing was counted in or told of
// holes. So one about a part costs nothing at a rivet.
func meant(r query.NoticesOfAssembliesRow) (n *part.Notice, boxes stock.Boxes, told map[string][]stock.Told, found map[string]looked, err error) {
	var mixed, parts []string
	var holes []struct {
		Row string
		stock.Told
	}
	n, told = new(part.Notice), map[string][]stock.Told{}
	err = errors.Join(read(r.Notice, n), json.Unmarshal([]byte(r.Boxes), &boxes), json.Unmarshal([]byte(r.Mixed), &mixed), json.Unmarshal([]byte(r.Parts), &parts), json.Unmarshal([]byte(r.Told), &holes), json.Unmarshal([]byte(r.Found), &found))
	if err != nil {
		return nil, nil, nil, nil, fmt.Errorf("reading what the notice %s may mean: %w", r.Notice.Title, err)
	}
	lots := []string{}
	for _, box := range boxes {
		lots = append(lots, box.Lot)
	}
	for _, h := range holes {
		told[h.Row], lots = append(told[h.Row], h.Told), append(lots, h.Lot)
	}
	for _, named := range n.Numbers {
		if stock.CalledOut(named) || len(boxes.Lots(named)) > 0 || slices.ContainsFunc(mixed, n.Number) || !slices.Contains(parts, named) {
			return n, boxes, told, found, nil
		}
	}
	if len(n.Numbers) > 0 || !slices.ContainsFunc(lots, func(lot string) bool { return lot != "" && n.Of(part.Part{Lot: lot}) == part.Affected }) {
		return nil, nil, nil, nil, nil
	}
	return n, boxes, told, found, nil
}

// looked is what an inspection found of a thing, and by which entry.
type looked struct {
	Answer part.Answer
	Entry  int64
}

// read is what a notice names.
func read(r query.Notice, n *part.Notice) error {
	for _, list := range []struct {
		text string
		into *[]string
	}{{r.Numbers, &n.Numbers}, {r.Lots, &n.Lots}, {r.Processes, &n.Processes}} {
		if err := json.Unmarshal([]byte(list.text), list.into); err != nil {
			return fmt.Errorf("reading the notice %s: %w", r.Title, err)
		}
	}
	return nil
}

// isThing tells whether an id is of a thing that a notice may mean.
func isThing(id string) bool {
	return strings.HasPrefix(id, "stock/") || strings.HasPrefix(id, "row/") || strings.HasPrefix(id, "clock/")
}
