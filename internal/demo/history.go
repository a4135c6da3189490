package demo

import (
	"context"
	"fmt"
	"time"

	"orpine/internal/core/measure"
	"orpine/internal/instrument"
	"orpine/internal/measuring"
)

// history is what was measured in the first year: a level that drifts until it is sent in, and an elevator from its
// delivery to its last skin.
func (d *filling) history(ctx context.Context, now time.Time) {
	d.step = time.Minute
	on := func(days int) { d.clock.now = now.AddDate(0, 0, -days) }
	life := []struct {
		days  int
		event measure.Event // before it
		texts []string      // root, middle, tip
	}{
		{398, "", []string{"0.02 up", "0.12 up", "0.24 up"}},
		{391, measure.ReClamped, []string{"0.03 up", "0.05 up", "0.09 up"}},
		{377, measure.TurnedOver, []string{"0.02 up", "0.03 up", "0.06 up"}},
		{363, measure.Moved, []string{"0.03 up", "0.04 up", "0.05 up"}},
	}
	stage, count := 0, d.count
	for i, zero := range []int{-1, 1, -2, 0, 2, 1, 3, 2, 4, 5, 7, -1, -2, 0} { // hundredths of a degree, three weeks apart
		days := 400 - 21*i
		for stage < len(life) && life[stage].days >= days {
			on(life[stage].days)
			d.lived(ctx, life[stage].event, life[stage].texts, stage)
			stage++
		}
		on(days)
		first, turned := float64(zero)/100+0.06, float64(zero)/100-0.06
		d.do(d.Instruments.Test(ctx, instrument.EndForEnd{Form: named(fmt.Sprint("zero ", i)), Instrument: ID("level 2"), First: fmt.Sprintf("%.2f", first), Turned: fmt.Sprintf("%.2f", turned)}))
	}
	d.step, d.count = time.Hour, count
}

// lived is one stage of the elevator's: what happened to it, and its twist after that, twice at each station.
func (d *filling) lived(ctx context.Context, event measure.Event, texts []string, stage int) {
	const setup = "elevator left on table"
	if event == "" {
		d.begin(ctx, setup, "elevator left", "on the table", "Twist", "twist", measuring.Filled{Values: map[string]string{"stations": "root; 0\nmiddle; 700\ntip; 1400", "lies": measure.Stiffly}, Low: map[string]string{"twist": "-0.15"}, High: map[string]string{"twist": "0.15"}})
	} else {
		d.do(d.Measuring.SomethingMoved(ctx, measuring.SomethingMoved{Form: named(fmt.Sprint("elevator ", event)), Setup: ID(setup), State: int64(stage), What: event}))
	}
	for i, text := range texts {
		n := d.reading(ctx, setup, 0, reading{i + 1, text, "level 2"}, "hands off")
		n.Form, n.State = named(fmt.Sprintf("elevator %d %d", stage, i)), int64(stage)+1
		d.do(d.Measuring.Take(ctx, n))
	}
}
