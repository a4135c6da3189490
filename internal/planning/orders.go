package planning

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"math"
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
	Revised                        int64
}

// State says how far it is.
func (o Order) State() string {
	switch {
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

// NewOrder is an order as it is typed.
type NewOrder struct {
	ledger.Form
	Airframe string `json:"airframe" form:"-"`
	Name     string `json:"name" form:"name"`
	Supplier string `json:"supplier" form:"supplier"`
	Lead     string `json:"lead,omitempty" form:"lead"`
	Asked    string `json:"asked,omitempty" form:"asked"`
	Promised string `json:"promised,omitempty" form:"promised"`
}

// ordered is an order as it was understood.
type ordered struct {
	Lead     int64  `json:"lead"`
	Asked    string `json:"asked"`
	Promised string `json:"promised"`
	Sent     string `json:"sent,omitempty"`
	Arrived  string `json:"arrived,omitempty"`
	Name     string `json:"name,omitempty"`
	Supplier string `json:"supplier,omitempty"`
}

var orderAdded = &ledger.Kind[NewOrder, ordered]{
	Name: "order", Version: 1,
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewOrder, f ordered) error {
		return q.AddPlanOrder(ctx, query.AddPlanOrderParams{ID: e.ID, AirframeID: n.Airframe, Name: n.Name, Supplier: n.Supplier, LeadDays: f.Lead, Asked: f.Asked, Promised: f.Promised, Entry: e.Seq, Revised: e.Seq})
	},
	Words: func(n NewOrder, f ordered) ledger.Words {
		return ledger.Words{What: "order added: " + n.Name, Detail: say.Join(n.Supplier, say.After("asked ", f.Asked), say.After("promised ", f.Promised))}
	},
}

// dates reads what is known of an order's dates, in their order; today is the last day on which
// anything was asked for or has come.
func (f *ordered) dates(today string, wrong ledger.Problems) {
	for _, one := range []struct {
		field string
		text  *string
	}{{"asked", &f.Asked}, {"promised", &f.Promised}, {"sent", &f.Sent}, {"arrived", &f.Arrived}} {
		if *one.text = strings.TrimSpace(*one.text); *one.text == "" {
			continue
		}
		if _, err := time.Parse("2006-01-02", *one.text); err != nil {
			wrong.Add(one.field, "a day, as in 2026-11-25")
			*one.text = ""
		}
	}
	for _, pair := range [][4]string{{f.Asked, f.Promised, "promised", "is before it was asked for"}, {f.Asked, f.Sent, "sent", "is before it was asked for"}, {f.Sent, f.Arrived, "arrived", "is before it was sent"}, {f.Asked, f.Arrived, "arrived", "is before it was asked for"}} {
		if pair[0] != "" && pair[1] != "" && pair[1] < pair[0] {
			wrong.Add(pair[2], pair[3])
		}
	}
	for field, day := range map[string]string{"asked": f.Asked, "sent": f.Sent, "arrived": f.Arrived} {
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
	f.dates(p.ledger.Now().Format("2006-01-02"), wrong)
	_, err := ledger.Do(ctx, p.ledger, orderAdded, n.Form, n, func(q *query.Queries) (ordered, error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		_, err := q.Airframe(ctx, n.Airframe)
		return f, ledger.Found(err)
	})
	return err
}

// OrderMoved says what became of an order: asked, promised, sent or arrived, on a day.
type OrderMoved struct {
	ledger.Form
	Order string `json:"order" form:"order"` // id
	Seen  string `json:"seen,omitempty" form:"seen"`
	What  string `json:"what" form:"what"`
	Day   string `json:"day,omitempty" form:"day"` // "" for today
}

var orderMoved = &ledger.Kind[OrderMoved, ordered]{
	Name: "order-moved", Version: 1,
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n OrderMoved, f ordered) error {
		return q.MovePlanOrder(ctx, query.MovePlanOrderParams{Asked: f.Asked, Promised: f.Promised, Sent: f.Sent, Arrived: f.Arrived, Revised: e.Seq, ID: n.Order})
	},
	Words: func(n OrderMoved, f ordered) ledger.Words {
		return ledger.Words{What: "Order " + n.What + ": " + f.Name, Detail: say.Join(f.Supplier, n.Day)}
	},
}

// MoveOrder says it. Problems are at "day" and "what".
func (p *Planning) MoveOrder(ctx context.Context, n OrderMoved) error {
	_, err := ledger.Do(ctx, p.ledger, orderMoved, n.Form, n, func(q *query.Queries) (f ordered, err error) {
		o, err := q.PlanOrder(ctx, n.Order)
		switch {
		case err != nil:
			return f, ledger.Found(err)
		case o.Withdrawn != "":
			return f, ledger.ErrNotFound
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
		f = ordered{Lead: o.LeadDays, Asked: o.Asked, Promised: o.Promised, Sent: o.Sent, Arrived: o.Arrived, Name: o.Name, Supplier: o.Supplier}
		into, ok := map[string]*string{"asked": &f.Asked, "promised": &f.Promised, "sent": &f.Sent, "arrived": &f.Arrived}[n.What]
		if !ok {
			return f, ledger.Problems{"what": "asked, promised, sent or arrived?"}
		}
		*into = day
		wrong := ledger.Problems{}
		f.dates(today, wrong)
		if len(wrong) > 0 { // there is one field for the day
			for _, message := range wrong {
				return f, ledger.Problems{"day": n.What + " " + message}
			}
		}
		return f, nil
	})
	return err
}

func orderOf(r query.PlanOrder) Order {
	return Order{r.ID, r.Name, r.Supplier, int(r.LeadDays), r.Asked, r.Promised, r.Sent, r.Arrived, r.Revised}
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
	sum, count := 0.0, 0.0
	for _, o := range orders {
		if !strings.EqualFold(o.Supplier, supplier) || o.Promised == "" || o.Arrived == "" {
			continue
		}
		promised, _ := time.Parse("2006-01-02", o.Promised)
		arrived, _ := time.Parse("2006-01-02", o.Arrived)
		sum, count = sum+arrived.Sub(promised).Hours()/24, count+1
	}
	if count == 0 {
		return 0
	}
	return int(math.Max(0, math.Ceil(sum/count-1e-6)))
}

// Money is what is saved, and the stages of the kit; minor units.
type Money struct {
	Currency        string
	Saved, PerMonth int64
	Day             int
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
}

// counted is money as it was understood.
type counted struct {
	Currency string `json:"currency"`
	Saved    int64  `json:"saved"`
	PerMonth int64  `json:"per_month"`
	Day      int64  `json:"day"`
}

var moneySet = &ledger.Kind[MoneySet, counted]{
	Name: "plan-money", Version: 1,
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n MoneySet, f counted) error {
		return q.SetPlanMoney(ctx, query.SetPlanMoneyParams{AirframeID: n.Airframe, Currency: f.Currency, Saved: f.Saved, PerMonth: f.PerMonth, Day: f.Day, Entry: e.Seq})
	},
	Words: func(n MoneySet, f counted) ledger.Words {
		return ledger.Words{What: "Saved: " + n.Saved + " " + f.Currency, Detail: n.PerMonth + " a month"}
	},
}

// SetMoney says what is saved, and how much comes each month. Problems are by field.
func (p *Planning) SetMoney(ctx context.Context, n MoneySet) error {
	wrong, f := ledger.Problems{}, counted{Day: 1}
	for _, one := range []struct {
		field, text string
		into        *int64
	}{{"saved", n.Saved, &f.Saved}, {"per_month", n.PerMonth, &f.PerMonth}} {
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
	Name: "plan-stage", Version: 1,
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
	Name: "plan-stage-paid", Version: 1,
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
		m = Money{Currency: "EUR", Day: 1}
	case err != nil:
		return m, false, fmt.Errorf("reading the money: %w", err)
	default:
		m, ok = Money{Currency: kept.Currency, Saved: kept.Saved, PerMonth: kept.PerMonth, Day: int(kept.Day)}, true
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
	return ledger.Thing{Kind: "order", ID: id, Title: o.Name, Path: path, After: path, Seen: o.Revised, Withdrawn: o.Withdrawn, Fields: []ledger.ThingField{
		{Key: "name", Label: "What is ordered", Value: o.Name}, {Key: "supplier", Label: "From", Value: o.Supplier}, {Key: "lead", Label: "Days from asking to arriving", Value: lead},
		{Key: "asked", Label: "Asked for on", Value: o.Asked}, {Key: "promised", Label: "Promised for", Value: o.Promised}, {Key: "sent", Label: "Sent on", Value: o.Sent}, {Key: "arrived", Label: "Arrived on", Value: o.Arrived},
	}}, nil
}

func (p *Planning) judgeOrder(_ context.Context, _ *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	f := ordered{Name: t.Field("name")}
	if values == nil {
		return f, nil
	}
	f = ordered{Lead: leadOf(values["lead"], wrong), Asked: values["asked"], Promised: values["promised"], Sent: values["sent"], Arrived: values["arrived"], Name: values["name"], Supplier: values["supplier"]}
	wrong.Text("name", &f.Name, ledger.MaxName, "what is ordered?")
	wrong.Text("supplier", &f.Supplier, ledger.MaxName, "from whom?")
	f.dates(p.ledger.Now().Format("2006-01-02"), wrong)
	return f, nil
}

func putOrder(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	var f ordered
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	return q.ChangePlanOrder(ctx, query.ChangePlanOrderParams{Name: f.Name, Supplier: f.Supplier, LeadDays: f.Lead, Asked: f.Asked, Promised: f.Promised, Sent: f.Sent, Arrived: f.Arrived, Revised: e.Seq, ID: id})
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
