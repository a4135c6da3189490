package planning

import (
	"errors"
	"fmt"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/plan"
	"orpine/internal/core/spoken"
	"orpine/internal/ledger"
	"orpine/internal/overview"
	"orpine/internal/planning"
	"orpine/internal/supplier"
	"orpine/internal/web/ui"
)

// moneyView is the sheet of orders and money.
type moneyView struct {
	overview.OrderSheet
	Orders []orderLine
	Stages []stageLine
	Saved  string
	Month  string
	Short  string
	Total  string // as it was typed
	Differ string // from what the stages add up to
	Limits string
	Hands  []string
	Of     string
	Typed  map[string]string
	Wire   string           // the supplier that is asked over the wire
	Opened string           // id of the order whose box is open
	Parcel *supplier.Parcel // what lies in it
}

type orderLine struct {
	planning.Order
	Plan  plan.OrderPlan
	Says  string
	Holds []string
	Cost  string
	Wired bool // it is asked over the wire
	Check bool // its hand or count is looked at when it comes
}

type stageLine struct {
	planning.Stage
	Plan       plan.StagePlan
	Price, For string
}

func (s sheets) showMoney(c *gin.Context, id string, r ui.Refused) {
	sheet, err := s.Order(c.Request.Context(), id)
	if err != nil {
		s.Fail(c, err)
		return
	}
	m := sheet.Money
	v := moneyView{OrderSheet: sheet, Of: r.Of, Typed: r.Typed, Saved: spoken.Amount(m.Saved) + " " + m.Currency, Month: spoken.Amount(m.PerMonth) + " " + m.Currency}
	planned := map[string]plan.OrderPlan{}
	for _, o := range sheet.Answer.Orders {
		planned[o.ID] = o
	}
	for _, o := range sheet.Ordered {
		l := orderLine{Order: o, Plan: planned[o.ID], Check: o.Hand != "" || o.Count > 0, Wired: s.Supplier != nil && strings.EqualFold(s.Supplier.Name, o.Supplier)}
		if o.Price >= 0 {
			l.Cost = spoken.Amount(o.Price) + " " + m.Currency
		}
		for _, step := range l.Plan.Holds {
			l.Holds = append(l.Holds, sheet.Steps[step].Name)
		}
		switch slack := l.Plan.SlackDays; {
		case o.Credited != "":
			l.Says = "credited on " + o.Credited + ": order it anew if it is still needed"
		case o.Returned != "" && o.Arrived == "":
			l.Says = "sent back on " + o.Returned
		case o.Came != "" && o.Arrived == "":
			l.Says = "came wrong: " + o.Came
		case o.Arrived != "":
			l.Says = "arrived on " + o.Arrived
			if o.Place != "" {
				l.Says += ", put away in " + o.Place
			}
		case slack != nil && *slack < 0:
			l.Says = fmt.Sprintf("comes %d days after it is needed", -*slack)
		case slack != nil && *slack == 0:
			l.Says = "on the day on which it is needed"
		case slack != nil:
			l.Says = fmt.Sprintf("%d days before it is needed", *slack)
		case l.Plan.Expected == "":
			l.Says = "nobody knows when it comes"
		}
		v.Orders = append(v.Orders, l)
	}
	stages := map[string]plan.StagePlan{}
	if sheet.Answer.Money != nil {
		for _, g := range sheet.Answer.Money.Stages {
			stages[g.ID] = g
		}
		if short, err := sheet.Answer.Money.Short.Int64(); err == nil && short > 0 {
			v.Short = spoken.Amount(short) + " " + m.Currency
		}
	}
	for _, g := range m.Stages {
		v.Stages = append(v.Stages, stageLine{g, stages[g.ID], spoken.Amount(g.Price) + " " + m.Currency, sheet.Steps[g.NeededBy].Name})
	}
	v.Hands = planning.Hands
	if m.Total >= 0 {
		v.Total = spoken.Amount(m.Total) + " " + m.Currency
		sum := int64(0)
		for _, g := range m.Stages {
			sum += g.Price
		}
		if sum != m.Total {
			v.Differ = spoken.Amount(sum) + " " + m.Currency
		}
	}
	if l := sheet.Limits(); l.Any {
		v.Limits = l.Says()
	}
	if s.Supplier != nil {
		v.Wire = s.Supplier.Name
	}
	if v.Opened = c.Query("parcel"); v.Opened != "" && len(r.Wrong) == 0 {
		parcel, err := s.Parcel(c.Request.Context(), v.Opened)
		var wrong ledger.Problems
		switch {
		case errors.As(err, &wrong):
			r.Wrong, v.Of = wrong, v.Opened
		case err != nil:
			s.Fail(c, err)
			return
		default:
			v.Parcel = &parcel
		}
	}
	p := s.Page(c, "order", "Orders and money", v, ui.Footing{Label: "airframe", Text: sheet.Airframe.Name}, ui.Footing{Label: "orders", Text: fmt.Sprint(len(v.Orders))}, ui.Footing{Label: "sheet", Text: "O 3"})
	p.Unit = sheet.Airframe.Unit
	p.Path, p.Problem = "/money", r.Wrong
	s.Render(c, r.Status, "money", p)
}

// moneyDone goes back to the sheet, or shows what was refused there.
func (s sheets) moneyDone(c *gin.Context, err error, of string) {
	id := c.Param("id")
	s.Done(c, err, "/money?airframe="+id, func(r ui.Refused) {
		r.Of = of
		s.showMoney(c, id, r)
	})
}

// came is what was found when something came.
func (s sheets) came(c *gin.Context) {
	var n planning.OrderCame
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Planning.Come(c.Request.Context(), n)
	}
	s.moneyDone(c, err, "came:"+n.Order)
}

// askSupplier orders over the wire, or asks how far it is.
func (s sheets) askSupplier(c *gin.Context) {
	var n planning.OrderTold
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.AskSupplier(c.Request.Context(), n.Form, n.Order, c.PostForm("quote") != "")
	}
	s.moneyDone(c, err, n.Order)
}

func (s sheets) addOrder(c *gin.Context) {
	n := planning.NewOrder{Airframe: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Planning.AddOrder(c.Request.Context(), n)
	}
	s.moneyDone(c, err, "order")
}

func (s sheets) moveOrder(c *gin.Context) {
	var n planning.OrderMoved
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Planning.MoveOrder(c.Request.Context(), n)
	}
	s.moneyDone(c, err, n.Order)
}

func (s sheets) setMoney(c *gin.Context) {
	n := planning.MoneySet{Airframe: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Planning.SetMoney(c.Request.Context(), n)
	}
	s.moneyDone(c, err, "money")
}

func (s sheets) addStage(c *gin.Context) {
	n := planning.NewStage{Airframe: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Planning.AddStage(c.Request.Context(), n)
	}
	s.moneyDone(c, err, "stage")
}

func (s sheets) payStage(c *gin.Context) {
	var n planning.StagePaid
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Planning.PayStage(c.Request.Context(), n)
	}
	s.moneyDone(c, err, "paid")
}
