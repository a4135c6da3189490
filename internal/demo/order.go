package demo

import (
	"context"
	"fmt"
	"time"

	"orpine/internal/amending"
	"orpine/internal/core/plan"
	"orpine/internal/planning"
)

// order is the order of work at the Samphire: what is ahead and what was done, the builder's
// evenings, a helper who comes on Saturday, and the hours of some weeks.
func (d *filling) order(ctx context.Context, now time.Time) {
	samphire := ID("samphire")
	d.step = 0
	day := func(n int) string { return now.AddDate(0, 0, n).Format("2006-01-02") }
	for _, o := range []struct {
		planning.NewOrder
		sent, arrived int
	}{
		{planning.NewOrder{Name: "crate 3", Supplier: "kit maker", Asked: day(-210), Promised: day(-150)}, -150, -141},
		{planning.NewOrder{Name: "crate 4", Supplier: "kit maker", Asked: day(-120), Promised: day(-70)}, -68, -64},
		{planning.NewOrder{Name: "solid rivets, 1/8", Supplier: "hardware shop", Lead: "9", Asked: day(-4), Promised: day(3)}, -2, 0},
		{planning.NewOrder{Name: "brake lines", Supplier: "kit maker", Lead: "30", Asked: day(-40), Promised: day(-6)}, 0, 0},
		{planning.NewOrder{Name: "canopy screws", Supplier: "hardware shop", Lead: "12"}, 0, 0},
	} {
		o.Form, o.Airframe = named("order "+o.Name), samphire
		d.do(d.Planning.AddOrder(ctx, o.NewOrder))
		for _, moved := range []struct {
			what string
			on   int
		}{{"sent", o.sent}, {"arrived", o.arrived}} {
			if moved.on != 0 {
				d.do(d.Planning.MoveOrder(ctx, planning.OrderMoved{Form: d.form(), Order: ID("order " + o.Name), What: moved.what, Day: day(moved.on)}))
			}
		}
	}
	for i, line := range []struct{ assembly, text, state string }{
		{"wing panel left", "dimple the left wing skin, 3 h", "done"},
		{"wing panel right", "dimple the right wing skin, 2-2.5-4 h, after dimple the left wing", ""},
		{"wing panel left", "prime the left ribs, 2 h, whole, cures 12 h", "done"},
		{"wing panel right", "prime the right ribs, 2 h, whole, cures 12 h, after prime the left", "begun"},
		{"wing panel left", "rivet the left wing skin, 6-8-14 h, two people, bring bucking bar + muffs for two, after dimple the left wing and prime the left", ""},
		{"wing panel right", "rivet the right wing skin, 5-7-12 h, two people, bring bucking bar + muffs for two, after dimple the right wing and prime the right", ""},
		{"wing panel left", "fit the left tank, 4-5-9 h, after rivet the left wing, before left wing closed", ""},
		{"wing panel right", "fit the right tank, 4-5-9 h, after rivet the right wing, before right wing closed", ""},
		{"aileron left", "hang the left aileron, 2-3-6 h, after rivet the left wing", ""},
		{"aileron right", "hang the right aileron, 2-3-6 h, after rivet the right wing", ""},
		{"main spar left", "bush the left root brackets, 90 min", ""},
		{"centre fuselage", "lay the floor, 3-4-8 h", ""},
		{"centre fuselage", "run the brake lines, 4-6-10 h, after lay the floor, needs brake lines", ""},
		{"centre fuselage", "panel wiring, 20-30-60 h, after lay the floor", ""},
		{"tail boom", "light in the tail cone, 1-2-4 h", ""},
		{"fin", "fit the rudder pedals' cables, 3-4-8 h", ""},
		{"tailplane", "balance the elevators, 2-3-5 h", ""},
		{"engine mount", "turn the fuselage, 40 min, 3 people, whole, bring straps + two trestles", ""},
		{"engine mount", "hang the engine, 4-6-12 h, two people, after turn the fuselage", ""},
		{"centre fuselage", "bond the canopy frame, 2-3-4 h, whole, cures 24 h", ""},
		{"centre fuselage", "trim the canopy, 6-10-20 h, after bond the canopy, needs canopy screws", ""},
		{"", "weigh it, 3 h, 3 people, after hang the engine and trim the canopy", ""},
		{"", "papers for the inspection, 6-8-16 h", ""},
	} {
		n := planning.NewStep{Form: named(fmt.Sprint("step ", i)), Airframe: samphire, Line: line.text}
		if line.assembly != "" {
			n.Assembly = ID(line.assembly)
		}
		d.do(d.Planning.AddStep(ctx, n))
		if line.state != "" {
			moved := planning.StepMoved{Form: d.form(), Step: ID(fmt.Sprint("step ", i)), Seen: plan.Open, State: line.state}
			if line.state == plan.Done {
				moved.On, moved.Ties = day(-3), []string{planning.Untied}
			}
			d.do(d.Planning.MoveStep(ctx, moved))
		}
	}
	d.tie(ctx, pastID("tailplane end holes drilled"), "Drill the tailplane")
	d.tie(ctx, pastID("aileron right riveted"), "Rivet the ribs of the right aileron")
	d.do(d.Planning.SetWeek(ctx, planning.WeekSet{Form: d.form(), Airframe: samphire, From: map[string]string{"tue": "19:00", "thu": "19:00", "sat": "09:00"}, Long: map[string]string{"tue": "2 h", "thu": "2 h", "sat": "6 h"}}))
	d.do(d.Planning.SetMoney(ctx, planning.MoneySet{Form: d.form(), Airframe: samphire, Saved: "6200 EUR", PerMonth: "900", Day: "25"}))
	for _, g := range []planning.NewStage{{Form: named("stage airframe"), Name: "airframe kit", Price: "18400", Lead: "90"}, {Form: named("stage engine"), Name: "engine", Price: "15800", Lead: "120", NeededBy: ID("step 18")}, {Form: named("stage panel"), Name: "instruments", Price: "4300", Lead: "30", NeededBy: ID("step 13")}} {
		g.Airframe = samphire
		d.do(d.Planning.AddStage(ctx, g))
	}
	d.do(d.Planning.PayStage(ctx, planning.StagePaid{Form: d.form(), Stage: ID("stage airframe"), Paid: true}))
	saturday := now.AddDate(0, 0, 1+(int(time.Saturday)-int(now.Weekday())+6)%7)
	for k := range 40 {
		n := planning.NewVisit{Form: d.form(), Airframe: samphire, Date: saturday.AddDate(0, 0, 14*k).Format("2006-01-02"), From: "09:00", Long: "7 h", Who: "helper"}
		if k%3 == 1 {
			n.From, n.Long, n.People, n.Who = "10:00", "6 h", "4", "helper and two friends"
		}
		d.do(d.Planning.AddVisit(ctx, n))
	}
	for week := 12; week > 0; week-- {
		for k, day := range []time.Weekday{time.Tuesday, time.Thursday, time.Saturday} {
			at := now.AddDate(0, 0, -7*week+(int(day)-int(now.Weekday())))
			if !at.Before(now.AddDate(0, 0, -1)) || (week+k)%5 == 4 {
				continue
			}
			n := planning.WorkStarted{Form: d.form(), Airframe: samphire, Who: "builder", Category: planning.Categories[[]int{0, 0, 0, 1, 2, 5}[(week*3+k)%6]], Assembly: ID([]string{"tail boom", "wing panel left", "tailplane", "fin"}[(week+k)%4]), Date: at.Format("2006-01-02"), From: "19:00", To: []string{"20:50", "21:20", "22:05"}[k]}
			if day == time.Saturday {
				n.From, n.To = "09:10", []string{"13:00", "15:30"}[week%2]
			}
			d.do(d.Planning.StartWork(ctx, n))
			if day == time.Saturday && week%4 == 0 {
				n.Form, n.Who = d.form(), "helper"
				d.do(d.Planning.StartWork(ctx, n))
			}
		}
	}
}

// tie says which hold a step makes permanent, as the builder does by putting the step right.
func (d *filling) tie(ctx context.Context, step, hold string) {
	t, _, err := d.Amending.Thing(ctx, "step", step, nil)
	d.do(err)
	n := amending.PutRight{Form: d.form(), Kind: "step", Thing: step, Seen: t.Seen, How: amending.Change, Reason: "it is what that holds", By: "builder", Values: map[string]string{}}
	for _, f := range t.Fields {
		n.Values[f.Key] = f.Value
	}
	n.Values["ties"] = hold
	d.do(d.Amending.PutRight(ctx, n))
}
