package app

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"orpine/internal/core/journal"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/store"
	"orpine/internal/store/query"
	"orpine/internal/worksheet"
)

// Conditions are how a part may be held while it is read.
var Conditions = []string{"hands off", "pushed by hand", "weighted", "clamped", "pinned", "riveted"}

// acceptable are the conditions that a check accepts unless it says otherwise: a
// part pushed into shape by hand is not measured.
var acceptable = []string{"hands off", "clamped", "pinned", "riveted", "weighted"}

// Reasons are why a reading is taken back or put in place of another.
var Reasons = []string{"misread", "mistyped", "wrong mark", "other instrument"}

// NewReading is a reading as submitted.
type NewReading struct {
	ID         string `json:"-"`
	Check      string `json:"check"` // id
	Number     int    `json:"number"`
	Text       string `json:"text"`       // exactly as typed
	Instrument string `json:"instrument"` // id
	Condition  string `json:"condition"`
	Turned     bool   `json:"turned,omitempty"`      // the instrument is held the other way round
	InPlace    string `json:"in_place,omitempty"`    // reason; "" for a further placing
	Questioned string `json:"questioned,omitempty"`  // the text that was questioned before: the same again is a second placing
	AsMeasured bool   `json:"as_measured,omitempty"` // it is so, however it looks
}

// Echo says what a text is read as: "+0.36°, leading edge up" or
// "64 5/16 in = 1633.5 mm". The error is the one that entry would give.
func Echo(text string, s measure.Spot, unit quantity.Unit) (string, error) {
	v, err := worksheet.Typed(text, s.Sense, unit)
	if err != nil {
		return "", err
	}
	if s.Dimension == measure.Length {
		if in := quantity.Length(v).Text(quantity.Inch); unit == quantity.Inch || strings.ContainsAny(text, `"″'′/⅛¼⅜½⅝¾⅞`) || strings.Contains(strings.ToLower(text), "in") {
			return in + " = " + quantity.Length(v).Show(1), nil
		}
		return quantity.Length(v).Show(1), nil
	}
	return quantity.Signed(v, 2) + "°" + side(v, s.Sense), nil
}

// side says which way an angle leans.
func side(v float64, sense string) string {
	words := map[string][2]string{"pitch": {", leading edge up", ", leading edge down"}, "cross-level": {", right side low", ", left side low"}}[sense]
	switch {
	case v > 0:
		return words[0]
	case v < 0:
		return words[1]
	}
	return ""
}

// TakeReading stores a reading, or refuses it with a message at the field.
func (a *App) TakeReading(ctx context.Context, n NewReading) error {
	defer a.alone()()
	wrong := Problems{}
	if n.Condition == "" {
		n.Condition = Conditions[0]
	}
	if !slices.Contains(Conditions, n.Condition) {
		wrong.Add("condition", "how was it held? Choose one of the list")
	}
	if n.InPlace != "" && !slices.Contains(Reasons, n.InPlace) {
		wrong.Add("in_place", "why is the old one taken back? Choose one of the list")
	}
	setup, c, err := a.checkByID(ctx, n.Check)
	if err != nil {
		return err
	}
	if n.Number < 1 || n.Number > len(c.Spots) {
		return ErrNotFound
	}
	spot := c.Spots[n.Number-1]
	value, err := worksheet.Typed(n.Text, spot.Sense, setup.Airframe.Unit)
	if err != nil {
		wrong.Add("text", err.Error())
	}
	in, err := a.instrumentFor(ctx, n.Instrument, spot, wrong)
	if err != nil {
		return err
	}
	if err := wrong.err(); err != nil {
		return err
	}
	before, err := a.recorded(ctx, n.ID)
	if err != nil {
		return err
	}
	if says := slipOf(c, spot, n, value, in); says != "" && before != journal.Reading {
		return a.question(ctx, n, setup, c, spot, says)
	}
	n.Turned = n.Turned && in.Angle
	facts := map[string]any{"setup": setup.title(), "check": c.Name, "place": spot.Place(), "value": value, "unit": spot.Dimension.Unit(), "instrument": in.Name}
	if n.InPlace != "" {
		facts["replaced"] = ids(spot.Counting())
	}
	return a.record(ctx, deed{n.ID, journal.Reading, "", n, facts}, func(q *query.Queries, entry int64) error {
		if err := replace(ctx, q, spot, in, n); err != nil {
			return err
		}
		if n.InPlace != "" {
			if err := withdraw(ctx, q, setup, c); err != nil {
				return err
			}
		}
		return q.AddReading(ctx, query.AddReadingParams{ID: n.ID, CheckID: c.ID, List: spot.List, Point: spot.Point, Field: spot.Field, Text: n.Text, Value: value,
			InstrumentID: reference(in.ID), Turned: map[bool]int64{true: 1}[n.Turned], Condition: n.Condition, State: setup.State, At: store.Time(a.now()), Entry: entry})
	})
}

func ids(readings []Reading) []string {
	out := make([]string, len(readings))
	for i, r := range readings {
		out[i] = r.ID
	}
	return out
}

// slipOf names the slip of the tape that the reading looks like, unless it was
// placed a second time with the same figure or is declared to be as measured.
func slipOf(c Check, spot Spot, n NewReading, value float64, in Instrument) string {
	if spot.Dimension != measure.Length || n.AsMeasured || n.Questioned != "" && strings.TrimSpace(n.Questioned) == strings.TrimSpace(n.Text) {
		return ""
	}
	near := 0.0
	for _, figure := range []string{in.Resolution, in.Spread} {
		if v, err := worksheet.Typed(figure, "length", quantity.Millimetre); err == nil {
			near = max(near, v)
		}
	}
	for _, twin := range twins(c, spot, n.InPlace == "") {
		if says := measure.Slip(value, twin.Value, n.Text, twin.Text, near); says != "" {
			return says
		}
	}
	if e, ok := c.Input.(measure.Expecter); ok {
		if nominal, ok := e.Expect(spot.Spot); ok {
			return measure.SlipFromPlan(value, nominal, n.Text, near)
		}
	}
	return ""
}

// twins are the readings that this one should be like: the last placing at the
// spot, and the other side's.
func twins(c Check, spot Spot, placings bool) []Reading {
	var out []Reading
	other := map[string]string{"left": "right", "right": "left", "d1": "d2", "d2": "d1"}[spot.Field]
	for _, s := range c.Spots {
		same := s.Number == spot.Number && placings
		across := other != "" && s.List == spot.List && s.Point == spot.Point && s.Field == other
		if counting := s.Counting(); (same || across) && len(counting) > 0 {
			out = append(out, counting[len(counting)-1])
		}
	}
	return out
}

// question puts a reading that looks like a slip on the record, and asks for a
// second placing.
func (a *App) question(ctx context.Context, n NewReading, s Setup, c Check, spot Spot, says string) error {
	facts := map[string]any{"setup": s.title(), "check": c.Name, "place": spot.Place(), "says": says}
	err := a.record(ctx, deed{n.ID, journal.Questioned, "", n, facts}, func(*query.Queries, int64) error { return nil })
	if err != nil {
		return err
	}
	return Problems{"slip": fmt.Sprintf("%s %s. Place the tape again: the same figure once more is taken, or say that it is as measured.", n.Text, says)}
}

// instrumentFor finds the instrument of a reading; each has one.
func (a *App) instrumentFor(ctx context.Context, id string, spot Spot, wrong Problems) (Instrument, error) {
	list, err := a.Instruments(ctx)
	if err != nil {
		return Instrument{}, err
	}
	in, ok := byID(list, id)
	switch {
	case !ok:
		wrong.Add("instrument", "what was it read with? Choose one, or add it under Instruments")
	case !in.Reads():
		wrong.Add("instrument", in.Name+" carries a level; choose what shows the figure")
	case in.Angle != (spot.Dimension == measure.Angle):
		wrong.Add("instrument", in.Name+" measures the other dimension")
	}
	return in, nil
}

// replace supersedes the placings at a spot, or when no reason is given, makes
// sure that a further placing belongs with them.
func replace(ctx context.Context, q *query.Queries, spot Spot, in Instrument, n NewReading) error {
	for _, r := range spot.Counting() {
		switch {
		case n.InPlace == "" && r.Instrument != in.Name:
			return Problems{"instrument": fmt.Sprintf("the other placing here was taken with %s; take all placings of a spot with one instrument, or put this one in place of it", r.Instrument)}
		case n.InPlace == "" && r.Turned != n.Turned:
			return Problems{"turned": "the other placing here was taken the other way round; take all placings of a spot the same way, or put this one in place of it"}
		case n.InPlace == "" && spot.Sense == "figure":
			return Problems{"in_place": "this place is known already: put the new one in place of it"}
		case n.InPlace == "":
			continue
		}
		if err := q.SupersedeReading(ctx, query.SupersedeReadingParams{Superseded: n.InPlace, ID: r.ID}); err != nil {
			return err
		}
	}
	return nil
}

// withdraw ends the releases that rest on a reading which is taken back.
func withdraw(ctx context.Context, q *query.Queries, s Setup, c Check) error {
	return q.WithdrawReleasesOfSetup(ctx, query.WithdrawReleasesOfSetupParams{Why: "a reading of " + c.Name + " was taken back since", Setup: reference(s.ID)})
}

// checkByID loads a check with its setup, to be written to: what the readings say
// is not worked out.
func (a *App) checkByID(ctx context.Context, id string) (s Setup, c Check, err error) {
	err = a.view(ctx, func(q *query.Queries) error {
		check, err := q.Check(ctx, id)
		if err != nil {
			return err
		}
		row, err := q.Setup(ctx, check.SetupID)
		if err != nil {
			return err
		}
		s, err = a.unsolved(ctx, q, row)
		return err
	})
	if err != nil {
		return s, Check{}, err
	}
	c, ok := s.Check(id)
	if !ok {
		return s, c, ErrNotFound
	}
	return s, c, nil
}

// TakeBack takes a reading back without another in its place.
type TakeBack struct {
	ID      string `json:"-"`
	Check   string `json:"check"`   // id
	Reading string `json:"reading"` // id
	Reason  string `json:"reason"`
}

// TakeBack supersedes a reading; it stays on the record.
func (a *App) TakeBack(ctx context.Context, t TakeBack) error {
	defer a.alone()()
	if !slices.Contains(Reasons, t.Reason) {
		return Problems{"reason": "why is it taken back? Choose one of the list"}
	}
	setup, c, err := a.checkByID(ctx, t.Check)
	if err != nil {
		return err
	}
	for _, spot := range c.Spots {
		for _, r := range spot.Readings {
			if r.ID != t.Reading {
				continue
			}
			facts := map[string]any{"setup": setup.title(), "check": c.Name, "place": spot.Place(), "text": r.Text}
			return a.record(ctx, deed{t.ID, journal.Superseded, "", t, facts}, func(q *query.Queries, _ int64) error {
				if r.Superseded != "" {
					return Problems{"": "that reading was taken back already"}
				}
				if err := q.SupersedeReading(ctx, query.SupersedeReadingParams{Superseded: t.Reason, ID: r.ID}); err != nil {
					return err
				}
				return withdraw(ctx, q, setup, c)
			})
		}
	}
	return ErrNotFound
}
