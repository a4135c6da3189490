package planning

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"orpine/internal/core/plan"
	"orpine/internal/core/say"
	"orpine/internal/core/spoken"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Order is something that was, or will be, ordered. Dates are "2026-11-25", "" for not yet.
type Order struct {
	ID, Name, Supplier             string
	Lead                           int // days; -1 where nobody said
	Asked, Promised, Sent, Arrived string
	Hand                           string // left or right; "" for none
	Count                          int    // 0 where nobody said
	Price                          int64  // minor units; -1 where nobody said
	Place                          string // where it was put away
	Came                           string // what was wrong with what came
	Returned, Credited             string
	Ref                            string // the supplier's own number
	Revised                        int64
}

// State says how far it is.
func (o Order) State() string {
	switch {
	case o.Credited != "":
		return "credited"
	case o.Returned != "":
		return "returned"
	case o.Came != "":
		return "came wrong"
	case o.Arrived != "":
		return "arrived"
	case o.Sent != "":
		return "sent"
	case o.Promised != "":
		return "promised"
	case o.Asked != "":
		return "asked"
	}
	return "to be asked for"
}

// Late tells whether it should have come, or came wrong and nothing came in its stead; today is
// a day.
func (o Order) Late(today string) bool {
	return o.Arrived == "" && o.Credited == "" && (o.Came != "" || o.Promised != "" && o.Promised < today)
}

// Takes is how many days it takes from asking to what is promised, or as it was said; ok is false
// where nothing tells. By how much its supplier is late is not in it.
func (o Order) Takes() (days int, ok bool) {
	asked, errA := time.Parse(time.DateOnly, o.Asked)
	promised, errP := time.Parse(time.DateOnly, o.Promised)
	switch {
	case errA == nil && errP == nil && promised.After(asked):
		return int(promised.Sub(asked).Hours() / 24), true
	case o.Lead >= 0:
		return o.Lead, true
	}
	return 0, false
}

// Expect is how many days something of these takes, from asking to arriving: the mean of what each
// takes, rounded up, and the delay of the supplier among all orders. ok is false where none tells.
func Expect(these, all []Order, supplier string) (days int, ok bool) {
	sum, count := 0, 0
	for _, o := range these {
		if took, tells := o.Takes(); tells {
			sum, count = sum+took, count+1
		}
	}
	if count == 0 {
		return 0, false
	}
	return (sum+count-1)/count + Delay(all, supplier), true
}

// NewOrder is an order as it is typed.
type NewOrder struct {
	ledger.Form
	Airframe string `json:"airframe" form:"-"`
	Name     string `json:"name" form:"name"`
	Supplier string `json:"supplier" form:"supplier"`
	Lead     string `json:"lead,omitempty" form:"lead"`
	Asked    string `json:"asked,omitempty" form:"asked"`
	Promised string `json:"promised,omitempty" form:"promised"`
	Hand     string `json:"hand,omitempty" form:"hand"`
	Count    string `json:"count,omitempty" form:"count"`
	Price    string `json:"price,omitempty" form:"price"`
}

// Hands are those that an order may name.
var Hands = []string{"", "left", "right"}

// ordered is an order as it was understood.
type ordered struct {
	Lead     int64  `json:"lead"`
	Asked    string `json:"asked"`
	Promised string `json:"promised"`
	Sent     string `json:"sent,omitempty"`
	Arrived  string `json:"arrived,omitempty"`
	Name     string `json:"name,omitempty"`
	Supplier string `json:"supplier,omitempty"`
	Hand     string `json:"hand,omitempty"`
	Count    int64  `json:"count,omitempty"`
	Cost     *int64 `json:"price,omitempty"` // minor units; nil where nobody said
	Place    string `json:"place,omitempty"`
	Came     string `json:"came,omitempty"`
	Returned string `json:"returned,omitempty"`
	Credited string `json:"credited,omitempty"`
	Ref      string `json:"ref,omitempty"`
}

// price is the cost as it is kept.
func (f ordered) price() int64 {
	if f.Cost == nil {
		return -1
	}
	return *f.Cost
}

// factsOf are an order's facts as it stands.
func factsOf(o query.PlanOrder) ordered {
	f := ordered{Lead: o.LeadDays, Asked: o.Asked, Promised: o.Promised, Sent: o.Sent, Arrived: o.Arrived, Name: o.Name, Supplier: o.Supplier, Hand: o.Hand, Count: o.Count, Place: o.Place, Came: o.Came, Returned: o.Returned, Credited: o.Credited, Ref: o.Ref}
	if o.Price >= 0 {
		f.Cost = &o.Price
	}
	return f
}

// move writes how far an order is.
func (f ordered) move(ctx context.Context, q *query.Queries, e ledger.Entry, id string) error {
	return q.MovePlanOrder(ctx, query.MovePlanOrderParams{LeadDays: f.Lead, Asked: f.Asked, Promised: f.Promised, Sent: f.Sent, Arrived: f.Arrived, Place: f.Place, Came: f.Came, Returned: f.Returned, Credited: f.Credited, Ref: f.Ref, Price: f.price(), Revised: e.Seq, ID: id})
}

// what reads hand, count and price.
func (f *ordered) what(hand, count, price string, wrong ledger.Problems) (currency string) {
	if f.Hand = hand; !slices.Contains(Hands, hand) {
		wrong.Add("hand", "left, right, or neither")
	}
	if count = strings.TrimSpace(count); count != "" {
		n, err := strconv.Atoi(count)
		if err != nil || n < 1 || n > 1_000_000 {
			wrong.Add("count", "how many? A whole number")
		}
		f.Count = int64(n)
	}
	if price = strings.TrimSpace(price); price != "" {
		cost, named, err := spoken.Money(price)
		if err != nil {
			wrong.Add("price", err.Error())
		}
		f.Cost, currency = &cost, named
	}
	return currency
}

var orderAdded = &ledger.Kind[NewOrder, ordered]{
	Name: "order", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewOrder, f ordered) error {
		return q.AddPlanOrder(ctx, query.AddPlanOrderParams{ID: e.ID, AirframeID: n.Airframe, Name: n.Name, Supplier: n.Supplier, LeadDays: f.Lead, Asked: f.Asked, Promised: f.Promised, Hand: f.Hand, Count: f.Count, Price: f.price(), Entry: e.Seq, Revised: e.Seq})
	},
	Words: func(n NewOrder, f ordered) ledger.Words {
		return ledger.Words{What: "order added: " + n.Name, Detail: say.Join(n.Supplier, say.After("asked ", f.Asked), say.After("promised ", f.Promised))}
	},
}

// dates reads what is known of an order's dates, in their order; today is the last day on which
// anything was asked for or has come.
func (f *ordered) dates(now time.Time, wrong ledger.Problems) {
	today := now.Format(time.DateOnly)
	for _, one := range []struct {
		field string
		text  *string
	}{{"asked", &f.Asked}, {"promised", &f.Promised}, {"sent", &f.Sent}, {"arrived", &f.Arrived}, {"returned", &f.Returned}, {"credited", &f.Credited}} {
		if *one.text = strings.TrimSpace(*one.text); *one.text == "" {
			continue
		}
		day, err := spoken.Day(*one.text, now)
		if *one.text = day; err != nil {
			wrong.Add(one.field, err.Error())
		}
	}
	for _, pair := range [][4]string{{f.Asked, f.Promised, "promised", "is before it was asked for"}, {f.Asked, f.Sent, "sent", "is before it was asked for"}, {f.Sent, f.Arrived, "arrived", "is before it was sent"}, {f.Asked, f.Arrived, "arrived", "is before it was asked for"}, {f.Returned, f.Credited, "credited", "is before it was returned"}} {
		if pair[0] != "" && pair[1] != "" && pair[1] < pair[0] {
			wrong.Add(pair[2], pair[3])
		}
	}
	for field, day := range map[string]string{"asked": f.Asked, "sent": f.Sent, "arrived": f.Arrived, "returned": f.Returned, "credited": f.Credited} {
		if day > today {
			wrong.Add(field, "is after today")
		}
	}
}

func leadOf(text string, wrong ledger.Problems) int64 {
	if text = strings.TrimSpace(text); text == "" {
		return -1
	}
	days, err := strconv.Atoi(text)
	if err != nil || days < 0 || days > 10_000 {
		wrong.Add("lead", "how many days from asking to arriving? A whole number")
	}
	return int64(days)
}

// AddOrder adds an order. Problems are by field.
func (p *Planning) AddOrder(ctx context.Context, n NewOrder) error {
	wrong := ledger.Problems{}
	wrong.Text("name", &n.Name, ledger.MaxName, "what is ordered?")
	wrong.Text("supplier", &n.Supplier, ledger.MaxName, "from whom?")
	f := ordered{Lead: leadOf(n.Lead, wrong), Asked: n.Asked, Promised: n.Promised}
	currency := f.what(n.Hand, n.Count, n.Price, wrong)
	f.dates(p.ledger.Now(), wrong)
	_, err := ledger.Do(ctx, p.ledger, orderAdded, n.Form, n, func(q *query.Queries) (ordered, error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		if _, err := q.Airframe(ctx, n.Airframe); err != nil {
			return f, ledger.Found(err)
		}
		return f, sameCurrency(ctx, q, n.Airframe, currency)
	})
	return err
}

// OrderMoved says what became of an order: asked, promised, sent, arrived, returned or credited,
// on a day.
type OrderMoved struct {
	ledger.Form
	Order string `json:"order" form:"order"` // id
	Seen  string `json:"seen,omitempty" form:"seen"`
	What  string `json:"what" form:"what"`
	Day   string `json:"day,omitempty" form:"day"` // "" for today
}

var orderMoved = &ledger.Kind[OrderMoved, ordered]{
	Name: "order-moved", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n OrderMoved, f ordered) error {
		return f.move(ctx, q, e, n.Order)
	},
	Words: func(n OrderMoved, f ordered) ledger.Words {
		return ledger.Words{What: "Order " + n.What + ": " + f.Name, Detail: say.Join(f.Supplier, n.Day)}
	},
}

// MoveOrder says it. Problems are at "day" and "what".
func (p *Planning) MoveOrder(ctx context.Context, n OrderMoved) error {
	_, err := ledger.Do(ctx, p.ledger, orderMoved, n.Form, n, func(q *query.Queries) (f ordered, err error) {
		o, err := orderThere(ctx, q, n.Order)
		if err != nil {
			return f, err
		}
		now := orderOf(o)
		if n.Seen != "" && n.Seen != now.State() {
			return f, ledger.Moved("it "+n.Seen, now.State())
		}
		today := p.ledger.Now().Format("2006-01-02")
		day := strings.TrimSpace(n.Day)
		if day == "" {
			day = today
		}
		f = factsOf(o)
		into, ok := map[string]*string{"asked": &f.Asked, "promised": &f.Promised, "sent": &f.Sent, "arrived": &f.Arrived, "returned": &f.Returned, "credited": &f.Credited}[n.What]
		switch {
		case !ok:
			return f, ledger.Problems{"what": "asked, promised, sent, arrived, returned or credited?"}
		case n.What == "arrived" && (f.Hand != "" || f.Count > 0):
			return f, ledger.Problems{"day": "count it and look at its hand before it is put away: “It came” below"}
		case n.What == "returned" && f.Came == "" && f.Arrived == "":
			return f, ledger.Problems{"day": "it has not come yet"}
		case n.What == "credited" && f.Returned == "":
			return f, ledger.Problems{"day": "it was not sent back"}
		}
		*into = day
		wrong := ledger.Problems{}
		f.dates(p.ledger.Now(), wrong)
		if len(wrong) > 0 { // there is one field for the day
			for _, message := range wrong {
				return f, ledger.Problems{"day": n.What + " " + message}
			}
		}
		return f, nil
	})
	return err
}

// OrderCame is what was found when something came: it is looked at before it is put away.
type OrderCame struct {
	ledger.Form
	Order string `json:"order" form:"order"` // id
	Seen  string `json:"seen,omitempty" form:"seen"`
	Day   string `json:"day,omitempty" form:"day"`     // "" for today
	Count string `json:"count,omitempty" form:"count"` // as counted
	Hand  string `json:"hand,omitempty" form:"hand"`   // as it looks, whatever its label says
	Place string `json:"place,omitempty" form:"place"` // where it is put away
}

var orderCame = &ledger.Kind[OrderCame, ordered]{
	Name: "order-came", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n OrderCame, f ordered) error {
		return f.move(ctx, q, e, n.Order)
	},
	Words: func(n OrderCame, f ordered) ledger.Words {
		return ledger.Words{What: "It came: " + f.Name, Detail: say.Join(f.Supplier, f.Came, say.After("put away: ", n.Place))}
	},
}

// unsureHand is the answer of someone who cannot tell.
const unsureHand = "cannot tell"

// Come checks what came by count and hand, and puts it away where it is right. What is wrong does
// not count as arrived: it waits to be sent back. Problems are at "count", "hand" and "day".
func (p *Planning) Come(ctx context.Context, n OrderCame) error {
	wrong := ledger.Problems{}
	wrong.Text("place", &n.Place, ledger.MaxName, "")
	_, err := ledger.Do(ctx, p.ledger, orderCame, n.Form, n, func(q *query.Queries) (f ordered, err error) {
		o, err := orderThere(ctx, q, n.Order)
		switch {
		case err != nil:
			return f, err
		case n.Seen != "" && n.Seen != orderOf(o).State():
			return f, ledger.Moved("it "+n.Seen, orderOf(o).State())
		case o.Arrived != "":
			return f, ledger.Problems{"day": "it has come already"}
		}
		f = factsOf(o)
		f.Came = ""
		var bad []string
		if f.Count > 0 {
			count, err := strconv.Atoi(strings.TrimSpace(n.Count))
			switch {
			case err != nil || count < 0:
				wrong.Add("count", "count them: how many came?")
			case count != int(f.Count):
				bad = append(bad, fmt.Sprintf("%d came, %d were ordered", count, f.Count))
			}
		}
		switch {
		case f.Hand == "":
		case n.Hand == unsureHand:
			wrong.Add("hand", "do not put it away unlooked: lay it beside its twin, or compare the two by points (Setup, the hand of a part)")
		case n.Hand != "left" && n.Hand != "right":
			wrong.Add("hand", "look at the part, not at its label: left or right?")
		case n.Hand != f.Hand:
			bad = append(bad, fmt.Sprintf("it is a %s one, and a %s one was ordered", n.Hand, f.Hand))
		}
		day := strings.TrimSpace(n.Day)
		if on, err := spoken.Day(day, p.ledger.Now()); err == nil {
			day = on
		}
		today := p.ledger.Now().Format(time.DateOnly)
		if day == "" {
			day = today
		}
		if f.Came = strings.Join(bad, "; "); f.Came == "" {
			f.Arrived, f.Place = day, n.Place
			f.Returned, f.Credited = "", "" // what came in its stead is right
		}
		dates := ledger.Problems{}
		at := f
		at.Arrived = day
		at.dates(p.ledger.Now(), dates)
		if message := dates["arrived"]; message != "" {
			wrong.Add("day", message)
		}
		return f, wrong.Err()
	})
	return err
}

// OrderTold is what a supplier answered, asked over the wire.
type OrderTold struct {
	ledger.Form
	Order    string `json:"order" form:"order"` // id
	Ref      string `json:"ref" form:"-"`
	Promised string `json:"promised,omitempty" form:"-"`
	Sent     string `json:"sent,omitempty" form:"-"`
	Price    *int64 `json:"price,omitempty" form:"-"` // minor units
	Credited string `json:"credited,omitempty" form:"-"`
	Asked    bool   `json:"asked,omitempty" form:"-"` // it was placed by this
	Lead     *int64 `json:"lead,omitempty" form:"-"`  // days, as it was quoted
	Says     string `json:"says,omitempty" form:"-"`
}

// Told is the kind of entry that keeps what a supplier answered.
const Told = "order-told"

var orderTold = &ledger.Kind[OrderTold, ordered]{
	Name: Told, Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n OrderTold, f ordered) error {
		return f.move(ctx, q, e, n.Order)
	},
	Words: func(n OrderTold, f ordered) ledger.Words {
		return ledger.Words{What: f.Supplier + " answers: " + f.Name, Detail: say.Join(n.Says, say.After("promised ", n.Promised), say.After("sent ", n.Sent))}
	},
}

// Told keeps what a supplier answered.
func (p *Planning) Told(ctx context.Context, n OrderTold) error {
	_, err := ledger.Do(ctx, p.ledger, orderTold, n.Form, n, func(q *query.Queries) (f ordered, err error) {
		o, err := orderThere(ctx, q, n.Order)
		if err != nil {
			return f, err
		}
		f = factsOf(o)
		today := p.ledger.Now().Format(time.DateOnly)
		if n.Asked {
			f.Asked = today
		}
		if n.Ref != "" {
			f.Ref = n.Ref
		}
		if n.Promised != "" {
			f.Promised = n.Promised
		}
		if n.Sent != "" && n.Sent <= today {
			f.Sent = n.Sent
		}
		if n.Price != nil {
			f.Cost = n.Price
		}
		if n.Lead != nil && *n.Lead >= 0 && *n.Lead <= 10_000 {
			f.Lead = *n.Lead
		}
		if n.Credited != "" && f.Returned != "" && n.Credited <= today {
			f.Credited = n.Credited
		}
		wrong := ledger.Problems{}
		f.dates(p.ledger.Now(), wrong)
		if len(wrong) > 0 {
			return f, ledger.Problems{"order": f.Supplier + " answers with dates that cannot be: " + wrong.Error()}
		}
		return f, nil
	})
	return err
}

// OrderByID is one order.
func OrderByID(ctx context.Context, q *query.Queries, id string) (Order, error) {
	o, err := orderThere(ctx, q, id)
	return orderOf(o), err
}

// orderThere is an order that was not withdrawn.
func orderThere(ctx context.Context, q *query.Queries, id string) (query.PlanOrder, error) {
	o, err := q.PlanOrder(ctx, id)
	if err == nil && o.Withdrawn != "" {
		err = ledger.ErrNotFound
	}
	return o, ledger.Found(err)
}

func orderOf(r query.PlanOrder) Order {
	return Order{ID: r.ID, Name: r.Name, Supplier: r.Supplier, Lead: int(r.LeadDays), Asked: r.Asked, Promised: r.Promised, Sent: r.Sent, Arrived: r.Arrived, Hand: r.Hand, Count: int(r.Count), Price: r.Price, Place: r.Place, Came: r.Came, Returned: r.Returned, Credited: r.Credited, Ref: r.Ref, Revised: r.Revised}
}

// Orders are those of an airframe, in the order in which they came.
func Orders(ctx context.Context, q *query.Queries, airframe string) ([]Order, error) {
	rows, err := q.PlanOrders(ctx, airframe)
	if err != nil {
		return nil, fmt.Errorf("reading the orders: %w", err)
	}
	out := make([]Order, len(rows))
	for i, r := range rows {
		out[i] = orderOf(r)
	}
	return out, nil
}

// Delay is by how many days a supplier came later than promised, on the mean of what has
// arrived, rounded up and at least 0.
func Delay(orders []Order, supplier string) int {
	all := Delays(orders, supplier)
	if len(all) == 0 {
		return 0
	}
	sum := 0
	for _, days := range all {
		sum += days
	}
	return int(math.Max(0, math.Ceil(float64(sum)/float64(len(all))-1e-6)))
}

// Delays are by how many days each delivery of a supplier came later than promised.
func Delays(orders []Order, supplier string) (days []int) {
	for _, o := range orders {
		if !strings.EqualFold(o.Supplier, supplier) || o.Promised == "" || o.Arrived == "" {
			continue
		}
		promised, _ := time.Parse("2006-01-02", o.Promised)
		arrived, _ := time.Parse("2006-01-02", o.Arrived)
		days = append(days, int(arrived.Sub(promised).Hours()/24))
	}
	return days
}

// Money is what is saved, and the stages of the kit; minor units.
type Money struct {
	Currency        string
	Saved, PerMonth int64
	Day             int
	Total           int64 // of the kit, as it was typed; -1 where nobody said
	Stages          []Stage
}

// Stage is a part of the kit that is paid at once.
type Stage struct {
	ID, Name, NeededBy string
	Price              int64
	Lead               int
	Paid               bool
}

// MoneySet says what is saved.
type MoneySet struct {
	ledger.Form
	Airframe string `json:"airframe" form:"-"`
	Saved    string `json:"saved" form:"saved"`
	PerMonth string `json:"per_month" form:"per_month"`
	Day      string `json:"day,omitempty" form:"day"`
	Total    string `json:"total,omitempty" form:"total"` // of the whole kit, as the builder has it
}

// counted is money as it was understood.
type counted struct {
	Currency string `json:"currency"`
	Saved    int64  `json:"saved"`
	PerMonth int64  `json:"per_month"`
	Day      int64  `json:"day"`
	Total    *int64 `json:"total,omitempty"`
}

var moneySet = &ledger.Kind[MoneySet, counted]{
	Name: "plan-money", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n MoneySet, f counted) error {
		total := int64(-1)
		if f.Total != nil {
			total = *f.Total
		}
		return q.SetPlanMoney(ctx, query.SetPlanMoneyParams{AirframeID: n.Airframe, Currency: f.Currency, Saved: f.Saved, PerMonth: f.PerMonth, Day: f.Day, Total: total, Entry: e.Seq})
	},
	Words: func(n MoneySet, f counted) ledger.Words {
		return ledger.Words{What: "Saved: " + n.Saved + " " + f.Currency, Detail: n.PerMonth + " a month"}
	},
}

// SetMoney says what is saved, and how much comes each month. Problems are by field.
func (p *Planning) SetMoney(ctx context.Context, n MoneySet) error {
	wrong, f := ledger.Problems{}, counted{Day: 1}
	fields := []struct {
		field, text string
		into        *int64
	}{{"saved", n.Saved, &f.Saved}, {"per_month", n.PerMonth, &f.PerMonth}}
	if strings.TrimSpace(n.Total) != "" {
		f.Total = new(int64)
		fields = append(fields, struct {
			field, text string
			into        *int64
		}{"total", n.Total, f.Total})
	}
	for _, one := range fields {
		amount, currency, err := spoken.Money(strings.TrimSpace(one.text))
		if err != nil {
			wrong.Add(one.field, err.Error())
		}
		switch *one.into = amount; {
		case currency == "":
		case f.Currency != "" && f.Currency != currency:
			wrong.Add(one.field, "is in another currency than what is saved")
		default:
			f.Currency = currency
		}
	}
	if n.Day = strings.TrimSpace(n.Day); n.Day != "" {
		day, err := strconv.Atoi(n.Day)
		if err != nil || day < 1 || day > 28 {
			wrong.Add("day", "on which day of the month, 1 to 28?")
		}
		f.Day = int64(day)
	}
	_, err := ledger.Do(ctx, p.ledger, moneySet, n.Form, n, func(q *query.Queries) (counted, error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		if f.Currency == "" {
			f.Currency = "EUR"
			if kept, err := q.PlanMoney(ctx, n.Airframe); err == nil {
				f.Currency = kept.Currency
			}
		}
		_, err := q.Airframe(ctx, n.Airframe)
		return f, ledger.Found(err)
	})
	return err
}

// NewStage is a stage as it is typed.
type NewStage struct {
	ledger.Form
	Airframe string `json:"airframe" form:"-"`
	Name     string `json:"name" form:"name"`
	Price    string `json:"price" form:"price"`
	Lead     string `json:"lead" form:"lead"`
	NeededBy string `json:"needed_by,omitempty" form:"needed_by"` // id of a step
}

// priced is a stage as it was understood.
type priced struct {
	Price int64 `json:"price"`
	Lead  int64 `json:"lead"`
}

var stageAdded = &ledger.Kind[NewStage, priced]{
	Name: "plan-stage", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewStage, f priced) error {
		return q.AddPlanStage(ctx, query.AddPlanStageParams{ID: e.ID, AirframeID: n.Airframe, Name: n.Name, Price: f.Price, LeadDays: f.Lead, NeededBy: n.NeededBy, Entry: e.Seq, Revised: e.Seq})
	},
	Words: func(n NewStage, _ priced) ledger.Words {
		return ledger.Words{What: "stage added: " + n.Name, Detail: n.Price}
	},
}

// AddStage adds a stage of the kit; stages are paid in the order in which they were added.
func (p *Planning) AddStage(ctx context.Context, n NewStage) error {
	wrong := ledger.Problems{}
	wrong.Text("name", &n.Name, ledger.MaxName, "which part of the kit is it?")
	wrong.Text("needed_by", &n.NeededBy, ledger.MaxNote, "")
	price, currency, err := spoken.Money(strings.TrimSpace(n.Price))
	if err != nil {
		wrong.Add("price", err.Error())
	}
	f := priced{Price: price, Lead: max(0, leadOf(n.Lead, wrong))}
	_, err = ledger.Do(ctx, p.ledger, stageAdded, n.Form, n, func(q *query.Queries) (priced, error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		if _, err := q.Airframe(ctx, n.Airframe); err != nil {
			return f, ledger.Found(err)
		}
		return f, sameCurrency(ctx, q, n.Airframe, currency)
	})
	return err
}

// sameCurrency refuses a price in another currency than the money of the airframe: amounts of
// two are never added up.
func sameCurrency(ctx context.Context, q *query.Queries, airframe, named string) error {
	m, _, err := MoneyOf(ctx, q, airframe)
	if err == nil && named != "" && named != m.Currency {
		return ledger.Problems{"price": "the money is kept in " + m.Currency + ": give the price in that, or first say what is saved, as in 1200 " + named}
	}
	return err
}

// StagePaid says that a stage is paid, or that it is not after all.
type StagePaid struct {
	ledger.Form
	Stage string `json:"stage" form:"stage"` // id
	Paid  bool   `json:"paid" form:"paid"`
}

var stagePaid = &ledger.Kind[StagePaid, named]{
	Name: "plan-stage-paid", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n StagePaid, _ named) error {
		paid := int64(0)
		if n.Paid {
			paid = 1
		}
		return q.PayPlanStage(ctx, query.PayPlanStageParams{Paid: paid, Revised: e.Seq, ID: n.Stage})
	},
	Words: func(n StagePaid, f named) ledger.Words {
		return ledger.Words{What: map[bool]string{true: "Paid: ", false: "Not paid after all: "}[n.Paid] + f.Name}
	},
}

// PayStage says it.
func (p *Planning) PayStage(ctx context.Context, n StagePaid) error {
	_, err := ledger.Do(ctx, p.ledger, stagePaid, n.Form, n, func(q *query.Queries) (named, error) {
		s, err := q.PlanStage(ctx, n.Stage)
		if err == nil && s.Withdrawn != "" {
			return named{}, ledger.ErrNotFound
		}
		return named{s.Name}, ledger.Found(err)
	})
	return err
}

// MoneyOf is the money of an airframe; ok is false where nobody said anything of it.
func MoneyOf(ctx context.Context, q *query.Queries, airframe string) (m Money, ok bool, err error) {
	kept, err := q.PlanMoney(ctx, airframe)
	switch {
	case errors.Is(err, sql.ErrNoRows):
		m = Money{Currency: "EUR", Day: 1, Total: -1}
	case err != nil:
		return m, false, fmt.Errorf("reading the money: %w", err)
	default:
		m, ok = Money{Currency: kept.Currency, Saved: kept.Saved, PerMonth: kept.PerMonth, Day: int(kept.Day), Total: kept.Total}, true
	}
	rows, err := q.PlanStages(ctx, airframe)
	for _, r := range rows {
		m.Stages = append(m.Stages, Stage{r.ID, r.Name, r.NeededBy, r.Price, int(r.LeadDays), r.Paid == 1})
	}
	return m, ok || len(m.Stages) > 0, err
}

func loadOrder(ctx context.Context, q *query.Queries, id string, _ map[string]string) (t ledger.Thing, err error) {
	o, err := q.PlanOrder(ctx, id)
	if err != nil {
		return t, ledger.Found(err)
	}
	lead := ""
	if o.LeadDays >= 0 {
		lead = fmt.Sprint(o.LeadDays)
	}
	path := "/money?airframe=" + o.AirframeID
	price, count := "", ""
	if o.Price >= 0 {
		price = spoken.Amount(o.Price)
	}
	if o.Count > 0 {
		count = fmt.Sprint(o.Count)
	}
	return ledger.Thing{Kind: "order", ID: id, Title: o.Name, Path: path, After: path, Seen: o.Revised, Withdrawn: o.Withdrawn, Fields: []ledger.ThingField{
		{Key: "name", Label: "What is ordered", Value: o.Name}, {Key: "supplier", Label: "From", Value: o.Supplier}, {Key: "lead", Label: "Days from asking to arriving", Value: lead},
		{Key: "asked", Label: "Asked for on", Value: o.Asked}, {Key: "promised", Label: "Promised for", Value: o.Promised}, {Key: "sent", Label: "Sent on", Value: o.Sent}, {Key: "arrived", Label: "Arrived on", Value: o.Arrived},
		{Key: "hand", Label: "Hand", Value: o.Hand, Words: Hands}, {Key: "count", Label: "How many", Value: count}, {Key: "price", Label: "Price in all", Value: price}, {Key: "place", Label: "Put away in", Value: o.Place},
		{Key: "returned", Label: "Sent back on", Value: o.Returned}, {Key: "credited", Label: "Credited on", Value: o.Credited},
	}}, nil
}

func (p *Planning) judgeOrder(ctx context.Context, q *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	f := ordered{Name: t.Field("name")}
	if values == nil {
		return f, nil
	}
	f = ordered{Lead: leadOf(values["lead"], wrong), Asked: values["asked"], Promised: values["promised"], Sent: values["sent"], Arrived: values["arrived"], Name: values["name"], Supplier: values["supplier"], Place: values["place"], Returned: values["returned"], Credited: values["credited"]}
	currency := f.what(values["hand"], values["count"], values["price"], wrong)
	wrong.Text("place", &f.Place, ledger.MaxName, "")
	wrong.Text("name", &f.Name, ledger.MaxName, "what is ordered?")
	wrong.Text("supplier", &f.Supplier, ledger.MaxName, "from whom?")
	f.dates(p.ledger.Now(), wrong)
	o, err := q.PlanOrder(ctx, t.ID)
	if err != nil {
		return f, err
	}
	return f, foldCurrency(ctx, q, o.AirframeID, currency, wrong)
}

// foldCurrency adds the problem of a price in another currency to the others.
func foldCurrency(ctx context.Context, q *query.Queries, airframe, named string, wrong ledger.Problems) error {
	err := sameCurrency(ctx, q, airframe, named)
	var other ledger.Problems
	if errors.As(err, &other) {
		wrong.Add("price", other["price"])
		return nil
	}
	return err
}

func putOrder(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	var f ordered
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	return q.ChangePlanOrder(ctx, query.ChangePlanOrderParams{Name: f.Name, Supplier: f.Supplier, LeadDays: f.Lead, Asked: f.Asked, Promised: f.Promised, Sent: f.Sent, Arrived: f.Arrived, Hand: f.Hand, Count: f.Count, Price: f.price(), Place: f.Place, Returned: f.Returned, Credited: f.Credited, Revised: e.Seq, ID: id})
}

func withdrawOrder(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string, _ json.RawMessage) error {
	return q.WithdrawPlanOrder(ctx, query.WithdrawPlanOrderParams{Withdrawn: reason, Revised: e.Seq, ID: id})
}

// DateOf is a kept day as the plan counts it; nil for "".
func DateOf(text string) *plan.Date {
	if d, err := plan.ParseDate(text); err == nil {
		return &d
	}
	return nil
}
