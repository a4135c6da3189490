package demo

import (
	"context"
	"errors"
	"time"

	"orpine/internal/closing"
	"orpine/internal/core/hold"
	"orpine/internal/core/part"
	"orpine/internal/core/row"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/ledger"
	"orpine/internal/logbook"
	"orpine/internal/riveting"
	"orpine/internal/stores"
)

// Bay is the id of the space in the boom.
func Bay() string { return closing.BayOf(ID("close boom")) }

// boom is the tail boom: rows 3 to 6 half set, with two bad rivets, and one row kept
// open for the fin fairing.
func (d *filling) boom(ctx context.Context) {
	d.step = 5 * time.Minute
	d.do(d.Holding.StandBefore(ctx, holding.NewStand{Form: named("rivet boom"), Assembly: ID("tail boom"), Name: "Rivet boom rows 3 to 6", Step: "rivet", Permanent: "the rivets of rows 3 to 6", Why: "Tail and wing are square to what is riveted here."}))
	d.do(d.Holding.StandBefore(ctx, holding.NewStand{Form: named("close boom"), Assembly: ID("tail boom"), Name: "Close the boom", Step: "close", Permanent: "the boom, closed by its bottom skin", Why: "Cables, rods and the tail light's wires run inside.",
		Bay: "the boom bay", Tasks: []string{"control rod guides", "wires for the tail light", "primer touched up"}}))
	stringer := map[string]string{
		"layers": "aluminium; 0.8 mm; plain\naluminium; 1.0 mm; plain\naluminium; 1.2 mm; plain; 1; 6", "sort": "solid", "size": "1/8", "head": "domed", "metal": "aluminium",
		"callouts": "1-6; 5/16 in\n7-84; 1/4 in", "edge": "8 mm", "count": "84", "pitch": "34 mm", "first": "40 mm", "sizing": "match drill", "reach": "flanges down", "bucker": "with a bucker", "view": "from above",
		"keep": "77; fin fairing; fit the fin fairing", "poses": "79-84; on its back",
	}
	row3, row4 := with(stringer, "from", "2350; -200", "to", "5210; -70"), with(stringer, "from", "2350; 200", "to", "5210; 70", "keep", "")
	skin := map[string]string{
		"layers": "aluminium; 0.8 mm; dimpled\naluminium; 1.0 mm; dimpled", "sort": "solid", "size": "1/8", "head": "flush", "metal": "aluminium", "callouts": "1-48; 1/4 in", "edge": "8 mm",
		"length": "1450 mm", "first": "10 mm", "last": "10 mm", "pitch": "31 mm", "sizing": "final size as supplied", "sample": "12", "reach": "flanges up", "bucker": "solo", "view": "from above", "from": "3000; 0", "to": "4450; 0",
	}
	fairing := map[string]string{
		"layers": "aluminium; 0.8 mm; plain\nstainless steel; 0.5 mm; plain", "sort": "blind", "size": "3.2 mm", "head": "domed", "metal": "aluminium", "grips": "B3.2-3; 0.5 mm; 1.5 mm\nB3.2-5; 1.5 mm; 3.2 mm", "callouts": "1-24; B3.2-3",
		"edge": "7 mm", "count": "12", "lines": "2", "gauge": "20 mm", "pitch": "25 mm", "first": "10 mm", "sizing": "match drill", "reach": "flanges up", "bucker": "solo", "view": "from above", "from": "4700; -15", "to": "5000; -15",
		"keep": "13-24; fin fairing; fit the fin fairing",
	}
	for _, r := range []struct {
		id, name string
		values   map[string]string
		bay      string
	}{
		{"row 3", "row 3, left stringer", row3, Bay()}, {"row 4", "row 4, right stringer", row4, Bay()},
		{"row 5", "row 5, top skin lap", skin, ""}, {"row 6", "row 6, fairing strip", fairing, ""},
	} {
		d.do(d.Riveting.Lay(ctx, riveting.NewRow{Form: named(r.id), Assembly: ID("tail boom"), Name: r.name, Values: r.values, Rivets: ID("rivet boom"), Bay: r.bay}))
	}
	for _, n := range []stores.NewStock{{Sort: "rivet", Name: "solid 1/8 × 1/4 in", Number: 180, Place: "box 2, shelf A"}, {Sort: "rivet", Name: "solid 1/8 × 5/16 in", Number: 50}, {Sort: "rivet", Name: "blind B3.2-3", Number: 100, Place: "box 3, shelf A"}, {Sort: "cleco", Name: "cleco 1/8", Number: 60, Place: "tin by the vice"}, {Sort: "cleco", Name: "cleco 3/32", Number: 80}, {Sort: "shim", Name: "shim 0.3 mm", Number: 12},
		{Sort: "sheet", Name: "aluminium 0.5 mm", Number: 2}, {Sort: "sheet", Name: "aluminium 0.8 mm", Number: 3}, {Sort: "sheet", Name: "stainless steel 0.5 mm", Number: 1}} {
		n.Form, n.Airframe = d.form(), ID("samphire")
		d.do(d.Stores.CountStock(ctx, n))
	}
	d.ready(ctx)
	d.riveted(ctx)
	d.do(d.Closing.Count(ctx, closing.NewCount{Form: d.form(), Bay: Bay(), Thing: "cleco 1/8", Number: 58, By: "helper"}))
	d.do(d.Closing.Count(ctx, closing.NewCount{Form: d.form(), Bay: Bay(), Thing: "tool", Number: 3, By: "helper"}))
}

// with is a form with some fields changed.
func with(values map[string]string, changes ...string) map[string]string {
	out := map[string]string{}
	for k, v := range values {
		out[k] = v
	}
	for i := 0; i+1 < len(changes); i += 2 {
		out[changes[i]] = changes[i+1]
	}
	return out
}

// holes does one thing to a run of holes of a row, as they are.
func (d *filling) holes(ctx context.Context, name string, what row.Operation, from, to int, change ...func(*riveting.HoleOperation)) {
	r, err := d.Riveting.Row(ctx, ID(name))
	if err != nil && d.err == nil {
		d.err = err
	}
	n := riveting.HoleOperation{Form: d.form(), Row: ID(name), Seen: r.Revised, What: what, By: "builder"}
	for number := from; number <= to; number++ {
		n.Numbers = append(n.Numbers, number)
	}
	for _, c := range change {
		c(&n)
	}
	d.do(d.Riveting.Operate(ctx, n))
}

// ready drills, cleans and pins the rows, and releases their hold.
func (d *filling) ready(ctx context.Context) {
	for _, r := range []struct {
		name  string
		holes int
	}{{"row 3", 84}, {"row 4", 84}, {"row 5", 48}, {"row 6", 24}} {
		if r.name == "row 5" {
			for _, n := range []int{1, 13, 25, 37, 48} {
				d.holes(ctx, r.name, row.Falls, n, n)
			}
		} else {
			d.holes(ctx, r.name, row.Drill, 1, r.holes)
		}
		prepared := hold.Preparations
		if r.name == "row 5" { // its layers are dimpled
			d.holes(ctx, r.name, row.Deburr, 1, r.holes)
			d.holes(ctx, r.name, row.Form, 1, r.holes)
			prepared = append([]string{hold.FormedWhereWanted}, prepared...)
		}
		d.holes(ctx, r.name, row.Clean, 1, r.holes)
		d.do(d.Gate.Look(ctx, gate.LookAt{Form: d.form(), Need: hold.Marked, Of: ID(r.name), By: "builder"}))
		d.do(d.Gate.Look(ctx, gate.LookAt{Form: d.form(), Need: hold.Prepared, Of: ID(r.name), By: "builder", What: prepared}))
	}
	d.do(d.Riveting.ChooseBarrier(ctx, riveting.ChooseBarrier{Form: d.form(), Row: ID("row 6"), Choice: "primer on both faces, rivets set wet", By: "builder"}))
	d.stringers(ctx)
	d.release(ctx, ID("rivet boom"))
}

// riveted sets half of each row, and finds two rivets bad.
func (d *filling) riveted(ctx context.Context) {
	bucked := func(n *riveting.HoleOperation) { n.Crew = "with a bucker" }
	solo := func(n *riveting.HoleOperation) { n.Crew = "solo" }
	for n := 43; n <= 84; n += 3 {
		d.holes(ctx, "row 4", row.Pin, n, n)
	}
	d.holes(ctx, "row 3", row.Rivet, 1, 42, bucked)
	d.holes(ctx, "row 4", row.Rivet, 1, 42, bucked)
	d.holes(ctx, "row 5", row.Rivet, 1, 24, solo)
	d.holes(ctx, "row 6", row.Rivet, 1, 12, solo)
	d.holes(ctx, "row 3", row.Spoil, 17, 17, bucked, func(n *riveting.HoleOperation) { n.Cause = "tipped" })
	d.holes(ctx, "row 4", row.Spoil, 9, 9, bucked, func(n *riveting.HoleOperation) { n.Cause = "bucked crooked" })
}

// stringers are two parts of one number, a notice that names them, and what was found of the one
// that is fitted: before anything is riveted over it.
func (d *filling) stringers(ctx context.Context) {
	samphire := ID("samphire")
	for _, n := range []stores.NewPart{
		{Form: named("stringer left"), Number: "S2-53-12", Name: "boom stringer, left", Hand: "left", Supplier: "kit maker", Lot: "2118", Process: "solution treated", Condition: "a scratch at frame 5, polished out", Assembly: ID("tail boom"), Row: ID("row 3"), Clue: "the joggle faces aft"},
		{Form: named("stringer spare"), Number: "S2-53-12", Name: "boom stringer, spare", Hand: "either", Supplier: "kit maker", Process: "solution treated", Condition: "sound", Place: "rack over the bench"},
	} {
		n.Airframe = samphire
		d.do(d.Stores.AddPart(ctx, n))
	}
	d.do(d.Stores.AddNotice(ctx, stores.NewNotice{Form: named("notice of stringers"), Airframe: samphire, Title: "Stringers of lot 2118: hardness to be checked", Names: part.Notice{Numbers: []string{"S2-53-12"}, Lots: []string{"2118"}}, Note: "Send a picture of the stamp; parts of other lots are sound."}))
	d.do(d.Stores.Find(ctx, stores.PartFound{Form: d.form(), Notice: ID("notice of stringers"), Part: ID("stringer left"), Answer: string(part.NotAffected), Found: "the stamp under the joggle reads 37: hard enough", By: "builder"}))
}

// stores are a few parts with hands and lots, a notice, and two slips with their lessons.
func (d *filling) stores(ctx context.Context) {
	samphire := ID("samphire")
	for _, n := range []stores.NewPart{
		{Form: named("rib right"), Number: "S2-57-3R", Name: "aileron rib 3, right", Hand: "right", Supplier: "kit maker", Lot: "2207", Process: "pressed", Condition: "label reads right; holes as on the left one",
			Place: "shelf C", Clue: "with the flange down, the large hole lies ahead", Assembly: ID("aileron right"), Check: Check("aileron rib", 0)},
		{Form: named("rib left"), Number: "S2-57-3L", Name: "aileron rib 3, left", Hand: "left", Supplier: "kit maker", Lot: "2207", Process: "pressed", Condition: "sound", Place: "shelf C", Clue: "with the flange down, the large hole lies ahead", Assembly: ID("aileron left")},
	} {
		n.Airframe = samphire
		d.do(d.Stores.AddPart(ctx, n))
	}
	d.slip(ctx, "tail boom", "rivet", "row 3, hole 17", "wrong size or length", logbook.SlipCost{What: "5/16 in rivets went into a two-layer stack", Found: "the shop head tipped over", Minutes: "25", Parts: "1 rivet", Lesson: "Behind frame 0 the doubler ends at hole 6: change boxes there."})
	d.slip(ctx, "aileron left", "rivet", "ribs as delivered", "wrong part or hand", logbook.SlipCost{What: "rib 3 was pinned the wrong way round", Found: "the skin would not lie down", Minutes: "70", Money: "12.50", Lesson: "Lay rib and twin on one another before the first cleco."})
}

func (d *filling) slip(ctx context.Context, assembly, step, place, cause string, cost logbook.SlipCost) {
	n := logbook.NewSlip{Form: d.form(), Assembly: ID(assembly), Step: step, Place: place, Cause: cause}
	d.do(d.Logbook.Log(ctx, n))
	list, err := d.Slips(ctx, 0)
	if err != nil || len(list.Slips) == 0 {
		d.do(errors.Join(err, ledger.ErrNotFound))
		return
	}
	cost.Form, cost.Slip, cost.Seen = d.form(), n.ID, list.Slips[0].Revised
	d.do(d.Logbook.Tell(ctx, cost))
}
