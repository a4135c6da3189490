package planning

import (
	"fmt"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/plan"
	"orpine/internal/core/spoken"
	"orpine/internal/overview"
	"orpine/internal/planning"
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
	Of     string
	Typed  map[string]string
}

type orderLine struct {
	planning.Order
	Plan  plan.OrderPlan
	Says  string
	Holds []string
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
		l := orderLine{Order: o, Plan: planned[o.ID]}
		for _, step := range l.Plan.Holds {
			l.Holds = append(l.Holds, sheet.Steps[step].Name)
		}
		switch slack := l.Plan.SlackDays; {
		case o.Arrived != "":
			l.Says = "arrived on " + o.Arrived
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
