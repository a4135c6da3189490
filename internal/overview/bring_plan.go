package overview

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"strconv"
	"time"

	"orpine/internal/core/plan"
	"orpine/internal/ledger"
	"orpine/internal/planning"
)

// BringingPlan is a plan in the open format that comes into an order of work.
type BringingPlan struct {
	ledger.Form
	Airframe string // id
	Data     string // JSON
}

// BringPlan takes the steps and orders of a plan that are not here yet, and its visits that are
// still to come; where keep is false it only says what would come. What is here already, by its id
// or its name, stays as it is.
func (w *Workshop) BringPlan(ctx context.Context, n BringingPlan, keep bool) (b Brought, err error) {
	p, errs := plan.Read([]byte(n.Data))
	for _, e := range errs {
		b.Wrong = append(b.Wrong, e.Path+": "+e.Message)
	}
	if len(b.Wrong) > 0 {
		return b, nil
	}
	err = w.Ledger.Together(ctx, keep, func(ctx context.Context, l *ledger.Ledger) error {
		err := New(l).planIn(ctx, n, p, &b)
		var problems ledger.Problems
		if errors.As(err, &problems) {
			b.Wrong = append(b.Wrong, problems.Error())
			return errNotTaken
		}
		return err
	})
	if errors.Is(err, errNotTaken) {
		err = nil
	}
	return b, err
}

func (w *Workshop) planIn(ctx context.Context, n BringingPlan, p plan.Plan, b *Brought) error {
	here, err := w.unplanned(ctx, n.Airframe)
	if err != nil {
		return err
	}
	p, left := p.Settled()
	for _, what := range left { // first, so that nobody takes it for whole
		b.Lines = append(b.Lines, BroughtLine{0, "left out", what})
	}
	sum := sha256.Sum256([]byte(n.Data))
	in := planning.PlanIn{Form: n.Form, Airframe: here.Airframe.ID, SHA256: hex.EncodeToString(sum[:]), Plan: p, Is: map[int]string{}, Orders: map[int]string{}}
	if err := w.ordersIn(ctx, n, p, here, &in, b); err != nil {
		return err
	}
	fresh := 0
	for i, s := range p.Steps {
		if in.Is[i] = stepHere(here, n.ID, i, s); in.Is[i] != "" {
			b.Lines = append(b.Lines, BroughtLine{0, "same", s.Name + " is here"})
			continue
		}
		fresh++
		b.Lines = append(b.Lines, BroughtLine{0, "new", fmt.Sprintf("%s, %s", s.Name, s.State)})
	}
	if fresh > 0 || stepsOf(here, n.ID, p) {
		if err := w.Planning.BringPlan(ctx, in); err != nil {
			return err
		}
	}
	if err := w.visitsIn(ctx, n, p, here, b); err != nil {
		return err
	}
	return nil
}

// stepHere is the id of a step that is here already, by its id or its name; "" for none. What this
// very submission laid before is laid by it again, and is once.
func stepHere(here OrderSheet, submission string, i int, s plan.Step) string {
	if _, ok := here.Steps[planning.PlanStepID(submission, i)]; ok {
		return ""
	}
	if _, ok := here.Steps[s.ID]; ok {
		return s.ID
	}
	for id, one := range here.Steps {
		if one.Name == s.Name && s.Name != "" {
			return id
		}
	}
	return ""
}

// stepsOf tells whether a submission laid steps here before.
func stepsOf(here OrderSheet, submission string, p plan.Plan) bool {
	for i := range p.Steps {
		if _, ok := here.Steps[planning.PlanStepID(submission, i)]; ok {
			return true
		}
	}
	return false
}

func (w *Workshop) ordersIn(ctx context.Context, n BringingPlan, p plan.Plan, here OrderSheet, in *planning.PlanIn, b *Brought) error {
	var raw struct{ Orders []struct{ Supplier string } }
	if err := json.Unmarshal([]byte(n.Data), &raw); err != nil {
		return fmt.Errorf("reading the suppliers: %w", err)
	}
	day := func(d *plan.Date) string {
		if d == nil {
			return ""
		}
		return d.String()
	}
	for i, o := range p.Orders {
		if o.Name == "" {
			o.Name = o.ID
		}
		id := ledger.Child(n.ID, fmt.Sprint("order ", i))
		for _, had := range here.Ordered {
			if had.ID == o.ID || had.Name == o.Name && had.ID != id {
				in.Orders[i] = had.ID
			}
		}
		if in.Orders[i] != "" {
			b.Lines = append(b.Lines, BroughtLine{0, "same", "order " + o.Name + " is here"})
			continue
		}
		in.Orders[i] = id
		lead := ""
		if o.Lead != nil {
			lead = strconv.Itoa(*o.Lead)
		}
		if err := w.Planning.AddOrder(ctx, planning.NewOrder{Form: ledger.Form{ID: id}, Airframe: in.Airframe, Name: o.Name, Supplier: raw.Orders[i].Supplier, Lead: lead, Asked: day(o.Asked), Promised: day(o.Promised)}); err != nil {
			return err
		}
		b.Lines = append(b.Lines, BroughtLine{0, "new", "order " + o.Name + " from " + raw.Orders[i].Supplier})
		for _, move := range []struct {
			what string
			day  *plan.Date
		}{{"sent", o.Sent}, {"arrived", o.Arrived}} {
			if move.day == nil {
				continue
			}
			if err := w.Planning.MoveOrder(ctx, planning.OrderMoved{Form: ledger.Form{ID: ledger.Child(id, move.what)}, Order: id, What: move.what, Day: move.day.String()}); err != nil {
				return err
			}
		}
	}
	return nil
}

func (w *Workshop) visitsIn(ctx context.Context, n BringingPlan, p plan.Plan, here OrderSheet, b *Brought) error {
	for i, v := range p.Visits {
		if v.From <= plan.Minute(w.Ledger.Now()) {
			continue
		}
		from := time.Unix(v.From*60, 0).In(w.Ledger.Now().Location())
		id := ledger.Child(n.ID, fmt.Sprint("visit ", i))
		had := false
		for _, one := range here.Visits {
			had = had || one.ID != id && (one.ID == v.ID || one.From == from.Format("2006-01-02T15:04"))
		}
		if had {
			b.Lines = append(b.Lines, BroughtLine{0, "same", "a visit on " + from.Format("2 January, 15:04") + " is here"})
			continue
		}
		err := w.Planning.AddVisit(ctx, planning.NewVisit{Form: ledger.Form{ID: id}, Airframe: here.Airframe.ID, Date: from.Format(time.DateOnly), From: from.Format("15:04"), Long: fmt.Sprintf("%d min", v.To-v.From), People: strconv.Itoa(v.People), Who: "helper"})
		if err != nil {
			return err
		}
		b.Lines = append(b.Lines, BroughtLine{0, "new", "a visit on " + from.Format("2 January, 15:04")})
	}
	return nil
}
