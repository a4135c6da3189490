package demo

import (
	"bytes"
	"context"
	"fmt"
	"strings"
	"time"

	"orpine/internal/asking"
	"orpine/internal/coating"
	"orpine/internal/core/plan"
	"orpine/internal/exchange"
	"orpine/internal/ledger"
	"orpine/internal/planning"
	"orpine/internal/supplier"
	"orpine/internal/supplier/simulated"
)

// Supplier is whom the demo asks over the wire, and Seed what happens to its orders.
const (
	Supplier = "parts counter"
	Seed     = 13
)

// past is a step of the two years before, or one that is ahead.
type past struct {
	assembly, text string
	worked         float64 // hours; 0 for one that is not done
	second         bool    // a helper worked along
}

// chain lets each step of a list come after the one before it.
func chain(list ...past) []past {
	for i := range list[1:] {
		before, _, _ := strings.Cut(list[i].text, ",")
		list[i+1].text += ", after " + before
	}
	return list
}

// pasts are the steps of the Samphire, some hundred: in the order in which they were, or will be,
// worked on.
func pasts() (out []past) {
	add := func(list ...past) { out = append(out, list...) }
	add(chain(past{"", "count the crates, 4-6-10 h", 7.5, false}, past{"", "build the bench with its rails, 6-9-14 h", 11, false}, past{"", "practice piece riveted, 2-4-6 h", 5, false})...)
	for k, side := range []string{"left", "right"} {
		f := []float64{1, 0.82}[k] // the second of the pair went quicker
		add(chain(past{"elevator " + side, "elevator " + side + " ribs to spar, 3-4-6 h", 5.5 * f, false}, past{"elevator " + side, "elevator " + side + " skin drilled, 4-5-8 h", 6.5 * f, false},
			past{"elevator " + side, "elevator " + side + " riveted, 3-4-7 h, two people", 5 * f, true}, past{"elevator " + side, "elevator " + side + " hinges fitted, 2-3-5 h", 3.5 * f, false})...)
	}
	add(chain(past{"rudder", "rudder ribs to spar, 3-4-6 h", 4, false}, past{"rudder", "rudder skin drilled, 3-5-7 h", 6, false}, past{"rudder", "rudder riveted, 3-4-7 h, two people", 4.5, true}, past{"rudder", "rudder hinges fitted, 2-3-4 h", 3, false})...)
	add(chain(past{"fin", "fin spars bent, 2-3-5 h", 4, false}, past{"fin", "fin ribs to spars, 4-6-9 h", 7, false}, past{"fin", "fin skins drilled, 4-6-10 h", 8, false}, past{"fin", "fin primed, 2-2-3 h, whole, cures 24 h", 2.5, false}, past{"fin", "fin riveted, 4-6-10 h, two people", 7, true}, past{"fin", "fin fairing fitted, 3-5-9 h", 0, false})...)
	add(past{"tail boom", "boom frame 1 drilled, 1-2-3 h", 3, false})
	for n := 2; n <= 8; n++ {
		add(past{"tail boom", fmt.Sprintf("boom frame %d drilled, 1-2-3 h, after boom frame %d", n, n-1), max(1.2, 2.6-0.25*float64(n)), false})
	}
	add(chain(past{"tail boom", "boom stringers joggled, 3-5-8 h", 6, false}, past{"tail boom", "boom skins cut, 4-6-9 h", 6.5, false}, past{"tail boom", "boom skins drilled, 8-12-20 h", 23, false}, past{"tail boom", "boom deburred, 4-6-9 h", 9, false}, past{"tail boom", "boom primed, 3-3-5 h, whole, cures 24 h", 3.5, false})...)
	for k, side := range []string{"left", "right"} {
		f := []float64{1, 0.85}[k]
		add(chain(past{"main spar " + side, "spar " + side + " caps drilled, 4-6-9 h", 8 * f, false}, past{"main spar " + side, "spar " + side + " riveted, 5-7-12 h, two people", 9 * f, true}, past{"main spar " + side, "spar " + side + " brackets fitted, 3-4-7 h", 5 * f, false})...)
	}
	for k, side := range []string{"left", "right"} {
		f, w := []float64{1, 0.8}[k], "wing panel "+side
		list := []past{{w, side + " rear spar drilled, 3-4-7 h", 5 * f, false}, {w, side + " ribs 1 to 6 formed, 4-6-9 h", 8 * f, false}, {w, side + " ribs 7 to 12 formed, 4-6-9 h", 7 * f, false}, {w, side + " ribs to main spar, 6-9-15 h", 12 * f, false}, {w, side + " wing skins cut, 4-6-9 h", 6.5 * f, false}, {w, side + " wing skins drilled, 6-9-15 h", 11 * f, false}}
		if side == "right" {
			list[4].worked, list[5].worked = 0, 0
		}
		add(chain(list...)...)
	}
	add(chain(past{"aileron left", "aileron left ribs, 2-3-5 h", 4, false}, past{"aileron left", "aileron left skin drilled, 3-4-6 h", 5, false}, past{"aileron left", "aileron left riveted, 3-4-7 h, two people", 0, false})...)
	add(chain(past{"aileron right", "aileron right ribs, 2-3-5 h, needs aileron rib 3", 0, false}, past{"aileron right", "aileron right skin drilled, 3-4-6 h", 0, false}, past{"aileron right", "aileron right riveted, 3-4-7 h, two people", 0, false})...)
	add(past{"centre fuselage", "frame at 0 built, 4-6-9 h", 7, false})
	for k, station := range []string{"620", "1240", "1800", "2350"} {
		add(past{"centre fuselage", fmt.Sprintf("frame at %s built, 4-6-9 h, after frame at %s", station, []string{"0", "620", "1240", "1800"}[k]), 6.5 - 0.5*float64(k), false})
	}
	add(chain(past{"centre fuselage", "fuselage bottom skin drilled, 5-8-12 h", 11, false}, past{"centre fuselage", "fuselage sides drilled, 6-9-15 h", 12, false}, past{"centre fuselage", "spar carry-through fitted, 6-9-15 h", 13, false}, past{"centre fuselage", "fuselage primed, 3-4-6 h, whole, cures 24 h", 4, false}, past{"centre fuselage", "fuselage riveted, 14-20-34 h, two people", 24, true},
		past{"centre fuselage", "rudder pedals hung, 3-5-8 h", 0, false}, past{"centre fuselage", "sticks with pushrods, 5-8-14 h", 0, false}, past{"centre fuselage", "seats, 4-7-12 h", 0, false}, past{"centre fuselage", "harness anchors, 2-3-5 h", 0, false}, past{"centre fuselage", "baggage floor, 2-4-7 h", 0, false}, past{"centre fuselage", "step with handhold, 1-2-4 h", 0, false})...)
	add(chain(past{"tailplane", "tailplane spars drilled, 3-5-8 h", 6, false}, past{"tailplane", "tailplane ribs to spars, 4-6-10 h", 7.5, false}, past{"tailplane", "tailplane skins drilled, 5-8-12 h", 9, false}, past{"tailplane", "tailplane end holes drilled, 1-2-3 h", 0, false}, past{"tailplane", "tailplane dimpled, 2-3-5 h", 0, false}, past{"tailplane", "tailplane primed, 2-2-3 h, whole, cures 24 h", 0, false}, past{"tailplane", "tailplane riveted, 6-10-16 h, two people, bring bucking bar + muffs for two", 0, false}, past{"tailplane", "tailplane tips fitted, 2-3-5 h", 0, false})...)
	for _, side := range []string{"left", "right"} {
		w := "wing panel " + side
		add(chain(past{w, side + " tip tabs dimpled, 1-1-2 h, after " + side + " wing skins drilled", 0, false}, past{w, side + " wing wires drawn, 2-4-7 h", 0, false}, past{w, side + " inspection doors, 3-4-7 h", 0, false}, past{w, side + " wing closed, 6-9-15 h, two people, bring lamp inside + bucking bar", 0, false}, past{w, side + " tip fitted, 3-5-9 h", 0, false})...)
	}
	add(chain(past{"engine mount", "engine mount tried on, 1-2-3 h", 2, false}, past{"engine mount", "fuel lines forward, 4-6-10 h, after fuselage riveted", 0, false}, past{"engine mount", "engine controls, 5-8-14 h", 0, false}, past{"engine mount", "oil cooler, 3-4-7 h", 0, false}, past{"engine mount", "exhaust, 3-5-8 h", 0, false}, past{"engine mount", "cowling halves, 10-16-30 h", 0, false}, past{"engine mount", "baffles, 8-12-20 h", 0, false}, past{"engine mount", "propeller fitted, 2-3-5 h, two people, bring torque wrench", 0, false})...)
	add(chain(past{"centre fuselage", "battery box, 2-3-5 h, after fuselage riveted", 0, false}, past{"centre fuselage", "static line, 1-2-4 h", 0, false}, past{"centre fuselage", "radio with aerial, 4-6-10 h", 0, false}, past{"", "washed for paint, 6-9-14 h, two people, after left tip fitted, after right tip fitted, after cowling halves, after baffles", 0, false}, past{"", "wings painted, 8-12-20 h, cures 48 h", 0, false}, past{"", "fuselage painted, 8-12-20 h, cures 48 h", 0, false}, past{"", "placards, 1-2-4 h", 0, false})...)
	return out
}

// years are the two years before: the steps as they were planned and done, and the hours of the
// first twenty-one months, which came in from a sheet that was kept on paper.
func (d *filling) years(ctx context.Context, now time.Time) {
	samphire := ID("samphire")
	begin, end := now.AddDate(-2, 0, 0), now.AddDate(0, 0, -90)
	d.step = 0
	d.do(d.Planning.AddOrder(ctx, planning.NewOrder{Form: named("order aileron rib 3"), Airframe: samphire, Name: "aileron rib 3", Supplier: Supplier, Hand: "right", Count: "1", Lead: "20"}))
	list := pasts()
	for i, s := range list {
		n := planning.NewStep{Form: named(fmt.Sprint("past ", i)), Airframe: samphire, Line: s.text, Kind: kindOf(s.text)}
		if s.assembly != "" {
			n.Assembly = ID(s.assembly)
		}
		d.do(d.Planning.AddStep(ctx, n))
	}
	var records [][]string
	done := map[int]time.Time{}
	i, left := 0, list[0].worked
	day := time.Date(begin.Year(), begin.Month(), begin.Day(), 0, 0, 0, 0, now.Location())
	for ; day.AddDate(0, 0, 1).Before(end); day = day.AddDate(0, 0, 1) {
		from, hours := evening(day)
		if hours == 0 {
			continue
		}
		for i < len(list) && list[i].worked == 0 {
			if i++; i < len(list) {
				left = list[i].worked
			}
		}
		what := aside(day)
		if i > 0 && i < len(list) && what == "" && left == list[i].worked && day.Before(done[i-1].Add(22*time.Hour+cures(list[i-1].text))) && cures(list[i-1].text) > 0 {
			what = "waiting" // for what hardens
		}
		if i == len(list) || what != "" {
			records = append(records, []string{day.Format(time.DateOnly), clockAt(from), clockAt(from + min(hours, 1.5)), "", "builder", firstOf(what, "research"), "", ""})
			continue
		}
		s := list[i]
		name, _, _ := strings.Cut(s.text, ",")
		took := min(hours, left)
		for _, who := range []string{"builder", "helper"}[:map[bool]int{false: 1, true: 2}[s.second]] {
			records = append(records, []string{day.Format(time.DateOnly), clockAt(from), clockAt(from + took), "", who, "build", assemblyName(s.assembly), name})
		}
		if left -= took; left < 0.05 {
			if done[i] = day; i < len(list)-1 {
				left = list[i+1].worked
			}
			i++
		}
	}
	var csv bytes.Buffer
	d.do(exchange.Hours(&csv, records))
	for k := range list {
		on, ok := done[k]
		if !ok {
			continue
		}
		if at := on.Add(22 * time.Hour); at.After(d.clock.now) {
			d.clock.now = at
		}
		d.do(d.Planning.MoveStep(ctx, planning.StepMoved{Form: named(fmt.Sprint("past done ", k)), Step: ID(fmt.Sprint("past ", k)), Seen: plan.Open, State: plan.Done, On: on.Format(time.DateOnly)}))
	}
	if d.clock.now.Before(end) {
		d.clock.now = end
	}
	d.do(d.Planning.BringHours(ctx, planning.HoursIn{Form: named("hours of two years"), Airframe: samphire, Who: "builder", CSV: csv.String()}))
	d.step = time.Hour
}

// cures is how long what a step made hardens.
func cures(text string) time.Duration {
	_, says, _ := strings.Cut(text, "cures ")
	hours := 0
	fmt.Sscanf(says, "%d", &hours)
	return time.Duration(hours) * time.Hour
}

// kindOf is the kind of work that a step is, by its name.
func kindOf(text string) string {
	name, _, _ := strings.Cut(text, ",")
	for _, one := range [][2]string{{"rivet", "rivet"}, {"closed", "rivet"}, {"prime", "finish"}, {"paint", "finish"}, {"wire", "wiring"}, {"radio", "wiring"}, {"drill", "metal"}, {"ribs", "metal"}, {"frame", "metal"}, {"skin", "metal"}, {"spar", "metal"}} {
		if strings.Contains(name, one[0]) {
			return one[1]
		}
	}
	return "fitting"
}

func firstOf(a, b string) string {
	if a != "" {
		return a
	}
	return b
}

// evening is when the builder worked on a day, and for how long.
func evening(day time.Time) (from, hours float64) {
	_, week := day.ISOWeek()
	switch {
	case day.Month() == time.August && day.Day() < 16, day.Month() == time.December && day.Day() > 22:
		return 0, 0
	case (week*7+day.YearDay())%6 == 5:
		return 0, 0 // something came between
	case day.Weekday() == time.Tuesday, day.Weekday() == time.Thursday:
		return 19, 2.25 + 0.25*float64(week%3)
	case day.Weekday() == time.Saturday:
		return 9, 5 + 0.5*float64(week%4)
	}
	return 0, 0
}

// aside is what an evening went into besides building.
func aside(day time.Time) string {
	switch n := day.YearDay(); {
	case n%23 == 0:
		return "rework"
	case n%19 == 0:
		return "research"
	case n%29 == 0:
		return "preparing"
	case n%31 == 0:
		return "paperwork"
	case n%37 == 0:
		return "waiting"
	}
	return ""
}

func clockAt(hours float64) string {
	minutes := int(hours*60 + 0.5)
	return fmt.Sprintf("%02d:%02d", minutes/60, minutes%60)
}

// assemblyName is the name of an assembly of the Samphire, by its id's.
func assemblyName(id string) string {
	if id == "" {
		return ""
	}
	for _, side := range []string{" left", " right"} {
		if stem, ok := strings.CutSuffix(id, side); ok {
			id = stem + "," + side
		}
	}
	return strings.ToUpper(id[:1]) + id[1:]
}

// bought is what was ordered over the wire: it has been sent, and lies in its box unopened.
func (d *filling) bought(ctx context.Context, now time.Time) {
	for i, on := range []int{-40, -1} {
		d.clock.now = now.AddDate(0, 0, on)
		d.asks(ctx, named(fmt.Sprint("asks ", i)), "order aileron rib 3")
	}
}

// asks asks the supplier of an order: over the wire where there is one, else as it would answer.
func (d *filling) asks(ctx context.Context, form ledger.Form, order string) {
	if d.Supplier != nil {
		d.do(d.AskSupplier(ctx, form, ID(order), false))
		return
	}
	s, today := simulated.Supplier{Seed: Seed}, d.clock.now.Format(time.DateOnly)
	first, err := s.Order(supplier.Asked{ID: ID(order), Item: strings.TrimPrefix(order, "order "), Count: 1, Hand: "right", Day: d.ordered})
	if d.ordered == "" {
		d.ordered = today
		first, err = s.Order(supplier.Asked{ID: ID(order), Item: strings.TrimPrefix(order, "order "), Count: 1, Hand: "right", Day: today})
		d.do(err)
		d.do(d.Planning.Told(ctx, planning.OrderTold{Form: form, Order: ID(order), Ref: first.Ref, Promised: first.Promised, Price: &first.Price, Says: first.Says, Asked: true}))
		return
	}
	d.do(err)
	st, err := s.Standing(first.Ref, today, "")
	d.do(err)
	d.do(d.Planning.Told(ctx, planning.OrderTold{Form: form, Order: ID(order), Ref: first.Ref, Promised: st.Promised, Sent: st.Sent, Price: &st.Price, Says: st.Says}))
}

// asked are the questions that are open, and what hardens today.
func (d *filling) asked(ctx context.Context, now time.Time) {
	samphire := ID("samphire")
	day := func(n int) string { return now.AddDate(0, 0, n).Format(time.DateOnly) }
	for i, n := range []asking.NewQuestion{
		{Sort: asking.Question, Text: "which fuel pump, and where do its wires run?", Whom: "kit maker", By: day(9), Evidence: "their letter, and the pump in hand", What: []string{pastID("fuel lines forward")}},
		{Sort: asking.Decision, Text: "a light in the left wing tip, or none?", Provisional: "wires are drawn, no light is bought", Again: day(20), What: []string{pastID("left wing wires")}, Last: pastID("left wing closed")},
		{Sort: asking.Contradiction, Text: "rivets in the boom's frame 5", Whom: "kit maker", Words: "page 8-12: four", Drawing: "sheet 14: five", Edition: "second edition, no notice", What: []string{"row:" + ID("row 5")}, Holes: []string{"40-44"}},
		{Sort: asking.Contradiction, Text: "which face of the root rib lies outboard", Words: "page 6-3: the flanged one", Drawing: "sheet 9: the flat one", What: []string{pastID("right ribs to main spar")}},
	} {
		n.Form, n.Airframe = named(fmt.Sprint("question ", i)), samphire
		d.do(d.Asking.Ask(ctx, n))
	}
	d.do(d.Asking.AnswerIt(ctx, asking.Answered{Form: named("answer 3"), Question: ID("question 3"), Answer: "the drawing prevails: the flat face", By: "kit maker"}))
	d.do(d.Coating.AddMaterial(ctx, coating.NewMaterial{Form: named("primer"), Name: "two-part primer, grey", Table: "10; 3 h; 6 h; 4 d; 16 h; 14 d\n15; 2 h; 4 h; 3 d; 10 h; 10 d\n20; 80 min; 2 h; 2 d; 6 h; 7 d\n30; 40 min; 1 h; 1 d; 3 h; 4 d", Least: "1", Most: "2", Stop: "no metal shows through", Caution: "Mask and air; gloves; nobody sprays alone in a closed room."}))
	d.do(d.Coating.AddMaterial(ctx, coating.NewMaterial{Form: named("resin"), Name: "bonding resin, 100 to 40 by weight", Table: "15; 45 min; ; ; 12 h; 48 h\n20; 30 min; ; ; 8 h; 24 h\n25; 20 min; ; ; 6 h; 16 h", Caution: "Gloves and air; a full pot heats up: spread it in a tray."}))
	d.do(d.Coating.Start(ctx, coating.NewClock{Form: named("clock ribs"), Airframe: samphire, Sort: "coat", What: "right ribs, first side", Material: ID("primer"), Assembly: ID("wing panel right"), Step: ID("step 3"), Sides: "2", Temperature: "17", Began: d.clock.now.Add(-5 * time.Hour).Format("2006-01-02 15:04")}))
}

// pastID is the id of a step of the two years by the beginning of its name.
func pastID(name string) string {
	for i, s := range pasts() {
		if strings.HasPrefix(s.text, name) {
			return ID(fmt.Sprint("past ", i))
		}
	}
	return ""
}
