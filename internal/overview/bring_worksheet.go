package overview

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"orpine/internal/core/check"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
)

// BringingWorksheet is a worksheet that becomes a setup.
type BringingWorksheet struct {
	ledger.Form
	Assembly string // id
	Name     string // of the setup
	Data     string // JSON
}

// BringWorksheet begins a setup with the checks of a worksheet and takes its readings; where keep is
// false it only says what would come. Instruments are found by their names, and those that are not
// here are added as the worksheet describes them. What was corrected there is corrected anew.
func (w *Workshop) BringWorksheet(ctx context.Context, n BringingWorksheet, keep bool) (b Brought, err error) {
	_, tools, checks, wrong := measuring.ReadWorksheet([]byte(n.Data))
	if b.Wrong = wrong; len(wrong) > 0 {
		return b, nil
	}
	err = w.Ledger.Together(ctx, keep, func(ctx context.Context, l *ledger.Ledger) error {
		on := New(l)
		ids, err := on.toolsOf(ctx, n, tools, &b)
		if err == nil {
			err = on.setupOf(ctx, n, checks, ids, &b)
		}
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

// toolsOf finds the instruments of a worksheet, and adds those that are not here.
func (w *Workshop) toolsOf(ctx context.Context, n BringingWorksheet, tools []measuring.ReadTool, b *Brought) (ids map[string]string, err error) {
	ids = map[string]string{}
	list, err := w.Instruments.List(ctx)
	if err != nil {
		return nil, err
	}
	for _, in := range list {
		if ids[in.Name] = in.ID; ids[""] == "" && in.Reads() && !in.Angle && in.Withdrawn == "" {
			ids[""] = in.ID // figures that a worksheet takes as exact: it does not say what they were read with
		}
	}
	for _, t := range tools {
		if ids[t.Name] != "" {
			b.Lines = append(b.Lines, BroughtLine{0, "same", t.Name + " is here; its own figures hold"})
			continue
		}
		id := ledger.Child(n.ID, "tool "+t.Name)
		sort := map[string]string{"angle": "level", "length": "tape"}[t.Measures]
		if err := w.Instruments.Add(ctx, instrument.NewInstrument{Form: ledger.Form{ID: id}, Name: t.Name, Sort: sort, Resolution: t.Resolution, Offset: t.Offset, PerMetre: t.PerMetre, Spread: t.Spread}); err != nil {
			return nil, err
		}
		if t.Zero != "" && sort == "level" { // turned on a level spot it shows its zero twice
			if err := w.Instruments.Test(ctx, instrument.EndForEnd{Form: ledger.Form{ID: ledger.Child(n.ID, "zero "+t.Name)}, Instrument: id, First: t.Zero, Turned: t.Zero}); err != nil {
				return nil, err
			}
		}
		ids[t.Name] = id
		b.Lines = append(b.Lines, BroughtLine{0, "new", "instrument " + t.Name})
	}
	return ids, nil
}

func (w *Workshop) setupOf(ctx context.Context, n BringingWorksheet, checks []measuring.Read, ids map[string]string, b *Brought) error {
	setup := measuring.NewSetup{Form: n.Form, Assembly: n.Assembly, Name: strings.TrimSpace(n.Name)}
	for _, c := range checks {
		one := measuring.NewCheck{Name: c.Name, Definition: c.Definition}
		if len(c.Readings) > 0 {
			one.Instrument = ids[c.Readings[0].Instrument]
		}
		setup.Checks = append(setup.Checks, one)
	}
	if err := w.Measuring.Begin(ctx, setup); err != nil {
		return err
	}
	for i, c := range checks {
		taken := 0
		for k, r := range c.Readings {
			id := ledger.Child(n.ID, fmt.Sprintf("check %d", i))
			made, err := w.Measuring.Setup(ctx, n.ID)
			if err != nil {
				return err
			}
			on, _ := made.Check(id)
			last := ""
			if spot, ok := on.At(r.Spot); ok {
				if counting := spot.Counting(); len(counting) > 0 {
					last = counting[len(counting)-1].ID
				}
			}
			err = w.Measuring.Take(ctx, measuring.NewReading{Form: ledger.Form{ID: ledger.Child(n.ID, fmt.Sprintf("reading %d %d", i, k))}, Check: id, Spot: check.Key{List: r.Spot.List, Point: r.Spot.Point, Field: r.Spot.Field}, State: made.State, Last: last,
				Text: r.Text, Instrument: ids[r.Instrument], Turned: r.Turned, AsMeasured: true})
			if err != nil {
				return fmt.Errorf("%s, %s: %w", c.Name, r.Spot.Point, err)
			}
			taken++
		}
		b.Lines = append(b.Lines, BroughtLine{0, "new", fmt.Sprintf("%s (%s) with %d readings", c.Name, c.Kind, taken)})
	}
	return nil
}
