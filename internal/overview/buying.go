package overview

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"orpine/internal/core/say"
	"orpine/internal/core/stock"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/planning"
	"orpine/internal/store/query"
	"orpine/internal/supplier"
)

// AskSupplier orders something over the wire, or asks how far it is, or only what it costs, and
// keeps the answer. Problems are at "order".
func (w *Workshop) AskSupplier(ctx context.Context, form ledger.Form, id string, onlyQuote bool) error {
	if done, err := w.toldBefore(ctx, form.ID, id); done || err != nil {
		return err // its answer was lost, and not what was asked
	}
	o, err := w.wired(ctx, id)
	if err != nil {
		return err
	}
	today := w.Ledger.Now().Format(time.DateOnly)
	n := planning.OrderTold{Form: form, Order: id, Ref: o.Ref}
	var st supplier.Standing
	what := supplier.Asked{ID: o.ID, Item: o.Name, Count: max(o.Count, 1), Hand: o.Hand, Day: today}
	switch {
	case onlyQuote:
		st.Quote, err = w.Supplier.Quote(ctx, what)
		days := int64(st.LeadDays)
		n.Lead, st.Ref, st.Says = &days, o.Ref, fmt.Sprintf("%d days", days)
	case o.Ref == "":
		st, err = w.Supplier.Order(ctx, what)
		n.Asked = true
	default:
		st, err = w.Supplier.Standing(ctx, o.Ref, today, o.Returned)
	}
	if err != nil {
		return ledger.Problems{"order": err.Error()}
	}
	for _, day := range []string{st.Promised, st.Sent, st.Credited} {
		if _, err := time.Parse(time.DateOnly, day); day != "" && err != nil {
			return ledger.Problems{"order": o.Supplier + " answers with a day that is none"}
		}
	}
	n.Ref, n.Promised, n.Sent, n.Says, n.Credited = st.Ref, st.Promised, st.Sent, st.Says, st.Credited
	err = w.Ledger.View(ctx, func(q *query.Queries) error {
		frame, err := q.PlanOrder(ctx, id)
		if err != nil {
			return err
		}
		m, _, err := planning.MoneyOf(ctx, q, frame.AirframeID)
		if err == nil && m.Currency == st.Currency && st.Price >= 0 {
			n.Price = &st.Price // in another currency it is not added up
		}
		return err
	})
	if err != nil {
		return err
	}
	return w.Planning.Told(ctx, n)
}

// toldBefore tells whether a form asked a supplier of an order already, and the answer is kept.
func (w *Workshop) toldBefore(ctx context.Context, form, order string) (done bool, err error) {
	err = w.Ledger.View(ctx, func(q *query.Queries) error {
		before, err := q.EntryByID(ctx, form)
		if errors.Is(err, sql.ErrNoRows) {
			return nil
		}
		done = before.Kind == planning.Told && strings.Contains(before.Content, order)
		return err
	})
	return done, err
}

// wired is an order at the supplier that is asked over the wire.
func (w *Workshop) wired(ctx context.Context, id string) (o planning.Order, err error) {
	err = w.Ledger.View(ctx, func(q *query.Queries) error {
		o, err = planning.OrderByID(ctx, q, id)
		return err
	})
	switch {
	case err != nil:
		return o, err
	case w.Supplier == nil || !strings.EqualFold(w.Supplier.Name, o.Supplier):
		return o, ledger.Problems{"order": o.Supplier + " is not asked over the wire: write its answer down"}
	}
	return o, nil
}

// Parcel opens the box of an order that has come, as the simulated supplier packed it.
func (w *Workshop) Parcel(ctx context.Context, id string) (p supplier.Parcel, err error) {
	o, err := w.wired(ctx, id)
	if err != nil {
		return p, err
	}
	if p, err = w.Supplier.Parcel(ctx, o.Ref, w.Ledger.Now().Format(time.DateOnly)); err != nil {
		return p, ledger.Problems{"order": err.Error()}
	}
	return p, nil
}

// Limits is whether money or hours decide when all is done.
type Limits struct {
	Hours, Weekly float64 // hours left, and of a week
	Work          int     // weeks of evenings that they take; -1 for never
	Saving        int     // weeks until the last stage is payable; -1 for never
	Any           bool    // there are unpaid stages
}

// Says is it in words.
func (l Limits) Says() string {
	work := fmt.Sprintf("%.0f hours of work, which are %d weeks of your evenings", l.Hours, l.Work)
	if l.Work < 0 {
		work = fmt.Sprintf("%.0f hours of work, and no evenings for them", l.Hours)
	}
	switch {
	case l.Saving < 0:
		return "Money limits: at this rate the last stage is never paid; against it stand " + work + "."
	case l.Work >= 0 && l.Saving > l.Work:
		return fmt.Sprintf("Money limits: %d weeks of saving against %s.", l.Saving, work)
	}
	return fmt.Sprintf("Hours limit: %d weeks of saving against %s.", l.Saving, work)
}

// Limits works it out.
func (s OrderSheet) Limits() (l Limits) {
	for _, h := range s.Plan.Remaining() {
		l.Hours += h
	}
	if l.Weekly, l.Work = s.Plan.Weekly(), -1; l.Weekly > 0 {
		l.Work = int(math.Ceil(l.Hours/l.Weekly - 1e-9))
	}
	if s.Answer.Money == nil {
		return l
	}
	for _, g := range s.Answer.Money.Stages {
		l.Any = true
		at, err := time.ParseInLocation(time.DateOnly, g.Payable, s.Now.Location())
		if err != nil {
			l.Saving = -1
			return l
		}
		l.Saving = max(l.Saving, int(math.Ceil(at.Sub(s.Now).Hours()/(24*7))))
	}
	return l
}

// Shortage is something that rows will take more of than there is.
type Shortage struct {
	Name                       string
	ToSet, Needed, Have, Short int
	Spoilt                     int
	Need                       string // the day on which its first row is begun, as it is planned; "" for never
	Ask                        string // the last day to ask for it; "" where nobody knows how long it takes
}

// Shortages are what is short, the first needed first: what rows still take, with what is
// spoilt at this builder's rate, against what is on hand. The last day to ask is the day of need
// less what orders of such things take, with their supplier's delay.
func (w *Workshop) Shortages(ctx context.Context, s StoresSheet) (out []Shortage, err error) {
	if !slices.ContainsFunc(s.Stock, func(l StockLine) bool { return l.Short() > 0 }) {
		return nil, nil
	}
	order, err := w.Order(ctx, s.Airframe.ID)
	if err != nil {
		return nil, err
	}
	begins := map[string]time.Time{}
	for _, job := range order.Answer.Schedule {
		begins[job.ID] = order.At(job.Start)
	}
	list, supplier := hardware(order.Ordered)
	days, known := planning.Expect(list, order.Ordered, supplier)
	for _, l := range s.Stock {
		if l.Short() <= 0 {
			continue
		}
		one := Shortage{Name: l.Name, ToSet: l.ToSet, Needed: l.Needed(), Have: l.OnHand(), Short: l.Short(), Spoilt: l.Spoilt}
		var first time.Time
		for row, names := range s.Takes {
			if at, ok := begins["row:"+row]; ok && slices.Contains(names, stock.Key(l.Name)) && (first.IsZero() || at.Before(first)) {
				first = at
			}
		}
		if !first.IsZero() {
			one.Need = first.Format(time.DateOnly)
			if known {
				one.Ask = first.AddDate(0, 0, -days).Format(time.DateOnly)
			}
		}
		out = append(out, one)
	}
	slices.SortStableFunc(out, func(a, b Shortage) int {
		switch {
		case a.Need == b.Need:
			return b.Short - a.Short
		case a.Need == "":
			return 1
		case b.Need == "":
			return -1
		}
		return strings.Compare(a.Need, b.Need)
	})
	return out, nil
}

// hardware are the orders of rivets and the like, by their names, and their supplier.
func hardware(orders []planning.Order) (list []planning.Order, supplier string) {
	for _, o := range orders {
		name := strings.ToLower(o.Name)
		if strings.Contains(name, "rivet") || strings.Contains(name, "screw") || strings.Contains(name, "hardware") {
			list, supplier = append(list, o), o.Supplier
		}
	}
	return list, supplier
}

// Wait is what a new part would cost in time and money: what a spoilt one waits for.
type Wait struct {
	Part, Supplier string
	Days           int // from asking, the supplier's own delay with it
}

// Says is it in words.
func (w Wait) Says() string {
	return fmt.Sprintf("%s: a new one takes about %d days from %s", w.Part, w.Days, w.Supplier)
}

// waits are what new ones of the parts in a row would take, by what their suppliers took so far.
func waits(ctx context.Context, q *query.Queries, frame, rowID string) (out []Wait, err error) {
	parts, err := q.PartsInRow(ctx, query.PartsInRowParams{Row: gate.Reference(rowID), Of: rowID})
	if err != nil || len(parts) == 0 {
		return nil, err
	}
	orders, err := planning.Orders(ctx, q, frame)
	if err != nil {
		return nil, err
	}
	for _, p := range parts {
		of := slices.DeleteFunc(slices.Clone(orders), func(o planning.Order) bool { return !strings.EqualFold(o.Supplier, p.Supplier) })
		if days, ok := planning.Expect(of, orders, p.Supplier); ok {
			out = append(out, Wait{Part: say.List(p.Number, p.Name), Supplier: p.Supplier, Days: days})
		}
	}
	return out, nil
}

// Place is something that lies somewhere.
type Place struct {
	What, Where, Note string
	Path              string
}

// Find finds parts, what was ordered and what was counted in by a word of their names, numbers,
// lots or places; all of it for "".
func (w *Workshop) Find(ctx context.Context, id, word string) (s StoresSheet, found []Place, err error) {
	if s, err = w.Store(ctx, id); err != nil {
		return s, nil, err
	}
	var orders []planning.Order
	err = w.Ledger.View(ctx, func(q *query.Queries) error {
		orders, err = planning.Orders(ctx, q, s.Airframe.ID)
		return err
	})
	if err != nil {
		return s, nil, err
	}
	words := strings.Fields(strings.ToLower(word))
	add := func(p Place) {
		text := strings.ToLower(p.What + " " + p.Where + " " + p.Note)
		if !slices.ContainsFunc(words, func(w string) bool { return !strings.Contains(text, w) }) {
			found = append(found, p)
		}
	}
	for _, p := range s.Parts {
		where := p.Place
		if p.Assembly != "" {
			where = strings.Trim(p.Place+", in "+p.Assembly, ", ")
		}
		note := p.Hand
		if p.Lot != "" {
			note += ", lot " + p.Lot
		}
		add(Place{What: p.Title(), Where: where, Note: note, Path: "/stores?airframe=" + s.Airframe.ID + "#" + p.ID})
	}
	for _, o := range orders {
		if o.Place != "" {
			add(Place{What: o.Name, Where: o.Place, Note: "from " + o.Supplier, Path: "/money?airframe=" + s.Airframe.ID + "#" + o.ID})
		}
	}
	for _, l := range s.Stock {
		add(Place{What: l.Name, Where: s.Places[stock.Key(l.Name)], Note: fmt.Sprintf("%d on hand", max(0, l.OnHand())), Path: "/stores?airframe=" + s.Airframe.ID})
	}
	slices.SortStableFunc(found, func(a, b Place) int {
		if (a.Where == "") != (b.Where == "") {
			if a.Where == "" {
				return 1
			}
			return -1
		}
		return strings.Compare(a.Where, b.Where)
	})
	return s, found, nil
}
