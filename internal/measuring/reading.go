package measuring

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"orpine/internal/core/check"
	"orpine/internal/core/measure"
	"orpine/internal/core/near"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/gate"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// NewReading is a reading as submitted. It names what was on screen: the state of the
// setup, the spot by its own name, and the last reading that counted there.
type NewReading struct {
	ledger.Form
	Check      string    `json:"check" form:"check"` // id
	Spot       check.Key `json:"spot"`
	State      int64     `json:"state" form:"state"`
	Last       string    `json:"last,omitempty" form:"last"`               // id; "" where none counted
	Text       string    `json:"text" form:"text"`                         // exactly as typed
	Instrument string    `json:"instrument" form:"instrument"`             // id
	Condition  string    `json:"condition" form:"condition"`               // of the part; "" is hands off
	Turned     bool      `json:"turned,omitempty" form:"turned"`           // the instrument is held the other way round
	Hung       bool      `json:"hung,omitempty" form:"hung"`               // the tape hangs between its ends
	Aid        string    `json:"aid,omitempty" form:"aid"`                 // check.TurnedRound or check.NoAid
	Moved      bool      `json:"moved,omitempty" form:"-"`                 // a further placing: lifted off, and set a little beside the last
	InPlace    string    `json:"in_place,omitempty" form:"in_place"`       // reason; "" for a further placing
	Questioned string    `json:"questioned,omitempty" form:"questioned"`   // the text that was questioned before: the same again is a second placing
	AsMeasured bool      `json:"as_measured,omitempty" form:"as_measured"` // it is so, however it looks
	Sent       string    `json:"sent,omitempty" form:"sent"`               // by an instrument that speaks, as it came
}

// took is a reading as it was understood.
type took struct {
	Setup      string          `json:"setup"` // title
	Check      string          `json:"check"` // name
	Place      string          `json:"place"`
	Value      float64         `json:"value"`
	Unit       string          `json:"unit"`
	Instrument string          `json:"instrument"` // name
	Turned     int64           `json:"turned"`
	Hung       int64           `json:"hung,omitempty"`
	Aid        string          `json:"aid,omitempty"`
	Moved      int64           `json:"moved,omitempty"`
	Condition  string          `json:"condition"`
	Replaced   []string        `json:"replaced,omitempty"` // readings, by id
	Withdrawn  *gate.Withdrawn `json:"withdrawn,omitempty"`
	Questioned string          `json:"questioned,omitempty"` // it looks like a slip, and was not taken
}

var taken = &ledger.Kind[NewReading, took]{
	Name: "reading", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewReading, f took) error {
		if f.Questioned != "" {
			return nil
		}
		if len(f.Replaced) > 0 {
			if err := q.SupersedeReadings(ctx, query.SupersedeReadingsParams{Superseded: n.InPlace, Ids: f.Replaced}); err != nil {
				return err
			}
		}
		if f.Withdrawn != nil {
			if err := gate.PutWithdrawn(ctx, q, e, *f.Withdrawn); err != nil {
				return err
			}
		}
		err := q.AddReading(ctx, query.AddReadingParams{ID: e.ID, CheckID: n.Check, List: n.Spot.List, Point: n.Spot.Point, Field: n.Spot.Field, Text: n.Text, Value: f.Value,
			InstrumentID: n.Instrument, Turned: f.Turned, Hung: f.Hung, Aid: f.Aid, Condition: f.Condition, State: n.State, At: e.At, Entry: e.Seq, Sent: n.Sent, Moved: f.Moved})
		if err != nil {
			return err
		}
		if err := q.ReviseSurveyed(ctx, query.ReviseSurveyedParams{Revised: e.Seq, Survey: n.Check}); err != nil {
			return err
		}
		return q.OfferInstrument(ctx, query.OfferInstrumentParams{InstrumentID: gate.Reference(n.Instrument), Revised: e.Seq, ID: n.Check})
	},
	Rights:    func(_ NewReading, f took) bool { return len(f.Replaced) > 0 },
	TakesBack: func(_ NewReading, f took) []string { return f.Replaced },
	About:     func(_ string, n NewReading, _ took) []string { return []string{n.Check} },
	Words: func(n NewReading, f took) ledger.Words {
		if f.Questioned != "" {
			return ledger.Words{What: fmt.Sprintf("%s: %s questioned", f.Place, n.Text), Detail: say.Join(f.Setup, f.Check, f.Questioned)}
		}
		return ledger.Words{What: fmt.Sprintf("%s: %s", f.Place, n.Text), Detail: say.Join(f.Setup, f.Check, f.Instrument, f.Condition, say.After("in place of the one before: ", n.InPlace))}
	},
}

// Echo says what a text is read as with an instrument of so great a step:
// "+0.36°, leading edge up" or "64 5/16 in = 1633.5 mm". The error is the one that entry
// would give.
func Echo(text string, s measure.Spot, unit quantity.Unit, step float64) (string, error) {
	heard, err := listen(text, s.Sense, unit, step)
	if err != nil {
		return "", err
	}
	v := heard.value
	if s.Dimension == measure.Length {
		if unit == quantity.Inch {
			return say.Written(quantity.Length(v)).String(), nil
		}
		if in := quantity.Length(v).Text(quantity.Inch); strings.ContainsAny(text, `"″'′/⅛¼⅜½⅝¾⅞`) || strings.Contains(strings.ToLower(text), "in") {
			return in + " = " + quantity.Fixed(v, 1) + " " + quantity.Millimetre.String(), nil
		}
		return say.Length(v).String(), nil
	}
	return say.Angle(v).Signed().String() + check.Side(v, s.Sense), nil
}

// Take stores a reading, or refuses it with a message at the field. One that looks
// like a slip goes on the record as questioned, and a second placing is asked for; the
// problem is then at "slip".
func (m *Measuring) Take(ctx context.Context, n NewReading) error {
	f, err := ledger.Do(ctx, m.ledger, taken, n.Form, n, func(q *query.Queries) (took, error) { return m.judge(ctx, q, n) })
	if err == nil && strings.HasSuffix(f.Questioned, "?") {
		return ledger.Problems{"slip": f.Questioned + " What lies beside a mark is read as strong or weak of it; the same figure once more is taken."}
	}
	if err == nil && f.Questioned != "" {
		return ledger.Problems{"slip": fmt.Sprintf("%s %s. Place the tape again: the same figure once more is taken, or say that it is as measured.", n.Text, f.Questioned)}
	}
	return err
}

// mostSent is how much of what an instrument sent is kept with a reading.
const mostSent = 1000

// judge understands a reading.
func (m *Measuring) judge(ctx context.Context, q *query.Queries, n NewReading) (f took, err error) {
	s, c, err := loader{q, m.ledger.When}.one(ctx, n.Check)
	if err != nil {
		return f, err
	}
	spot, ok := c.At(n.Spot)
	if !ok {
		return f, ledger.Problems{"": fmt.Sprintf("the point %q is not in this check any more; nothing was stored", strings.TrimSpace(n.Spot.Point+" "+n.Spot.Field))}
	}
	if err := s.shows(n.State); err != nil {
		return f, err
	}
	f = took{Setup: s.Title(), Check: c.Name, Place: spot.Place(), Unit: spot.Dimension.Unit(), Condition: n.Condition}
	if f.Condition == "" {
		f.Condition = check.Conditions[0]
	}
	wrong := ledger.Problems{}
	if !slices.Contains(check.Conditions, f.Condition) {
		wrong.Add("condition", "how was it held? Choose one of the list")
	}
	if n.InPlace != "" && !slices.Contains(check.Reasons, n.InPlace) {
		wrong.Add("in_place", "why is the old one taken back? Choose one of the list")
	}
	in := s.instrumentFor(n.Instrument, spot, wrong)
	f.Instrument = in.Name
	heard, err := listen(n.Text, spot.Sense, s.unit(), in.Tool().Step)
	if f.Value = heard.value; err != nil {
		wrong.Add("text", err.Error())
	}
	if n.Hung && in.Sort == "tape" {
		f.Hung = 1
	}
	if n.Aid == aids[spot.Aid] {
		f.Aid = n.Aid
	}
	if n.Turned && in.Angle {
		f.Turned = 1
	}
	if n.Moved && n.InPlace == "" && len(spot.Counting()) > 0 {
		f.Moved = 1
	}
	placings(spot, in, n, f.Turned == 1, wrong)
	if len(n.Sent) > mostSent {
		wrong.Add("text", "what the instrument sent with it is too long to be kept")
	}
	if err := wrong.Err(); err != nil {
		return f, err
	}
	if err := lastShown(spot, n.Last, s); err != nil {
		return f, err
	}
	says := slipOf(c, spot, n, f.Value, in, s.Shape.Longest())
	if says == "" && !n.again() && n.Instrument != "" {
		says = heard.finer(in)
	}
	if says != "" {
		return took{Setup: f.Setup, Check: f.Check, Place: f.Place, Questioned: says}, nil
	}
	if n.InPlace == "" {
		return f, nil
	}
	for _, r := range spot.Counting() {
		f.Replaced = append(f.Replaced, r.ID)
	}
	return f, nil
}

// aids are what may be said of the aid at a spot, by its sort.
var aids = map[measure.Aid]string{measure.Board: check.TurnedRound, measure.String: check.NoAid}

// shows refuses what was filled in on another state of the setup.
func (s Setup) shows(state int64) error {
	if state == s.State {
		return nil
	}
	return ledger.Moved(fmt.Sprintf("the setup in its state %d", state), fmt.Sprintf("in state %d: %s came in between, and what it disturbs is read again", s.State, s.Last))
}

// lastShown refuses a reading at a spot where another one was taken, or taken back,
// after the page was made.
func lastShown(spot check.Spot, last string, s Setup) error {
	counting := spot.Counting()
	now, shown := "nothing there", "nothing read there"
	id := ""
	if len(counting) > 0 {
		r := counting[len(counting)-1]
		id, now = r.ID, fmt.Sprintf("%s, read at %s", r.Text, r.At.Format("15:04"))
	}
	if id == last {
		return nil
	}
	for _, r := range counting {
		if r.ID == last {
			shown = r.Text
		}
	}
	if last != "" && shown == "nothing read there" {
		shown = "a reading that was taken back since"
	}
	return ledger.Moved(shown, now)
}

// placings makes sure that a further placing belongs with those before it.
func placings(spot check.Spot, in instrument.Instrument, n NewReading, turned bool, wrong ledger.Problems) {
	if n.InPlace != "" {
		return
	}
	for _, r := range spot.Counting() {
		switch {
		case in.Name != "" && r.Instrument != in.Name:
			wrong.Add("instrument", fmt.Sprintf("the other placing here was taken with %s; take all placings of a spot with one instrument, or put this one in place of it", r.Instrument))
		case r.Turned != turned:
			wrong.Add("turned", "the other placing here was taken the other way round; take all placings of a spot the same way, or put this one in place of it")
		case spot.Sense == "figure":
			wrong.Add("in_place", "this place is known already: put the new one in place of it")
		}
	}
}

// slipOf names the slip of the tape that the reading looks like, unless it was
// placed a second time with the same figure or is declared to be as measured.
func slipOf(c Check, spot check.Spot, n NewReading, value float64, in instrument.Instrument, part float64) string {
	if n.again() || spot.Sense == "figure" {
		return ""
	}
	if spot.Dimension != measure.Length {
		return farFrom(c, spot, n, value, part)
	}
	for _, twin := range twins(c, spot, n.InPlace == "") {
		if says := measure.Slip(value, twin.Value, n.Text, twin.Text, in.Near()); says != "" {
			return says
		}
	}
	if e, ok := c.Input.(measure.Expecter); ok {
		if nominal, ok := e.Expect(spot.Spot); ok {
			if says := measure.SlipFromPlan(value, nominal, n.Text, in.Near()); says != "" {
				return says
			}
		}
	}
	return farFrom(c, spot, n, value, part)
}

// farFrom says what a figure ought to be near and is not: its twin, its last placing, the figure of
// the plans; the neighbouring heights, and for the first of them the length of the whole part; for an
// angle what the others show, or level.
func farFrom(c Check, spot check.Spot, n NewReading, value, part float64) string {
	var list []near.To
	for _, twin := range twins(c, spot, n.InPlace == "") {
		list = append(list, near.To{Value: twin.Value, What: "its twin", Equal: true})
	}
	if e, ok := c.Input.(measure.Expecter); ok {
		if nominal, ok := e.Expect(spot.Spot); ok {
			list = append(list, near.To{Value: nominal, What: "the plans", Equal: true})
		}
	}
	others := beside(c, spot)
	show := func(v float64) say.Text { return say.Angle(v).Signed().String() }
	ask := near.Angle
	switch {
	case spot.Dimension == measure.Length:
		show, ask = func(v float64) say.Text { return say.Length(v).String() }, near.Length
		switch upright := spot.Field == "height" || spot.Field == "depth"; {
		case upright && len(others) == 0 && near.Longer(value, part):
			return "is more than the whole part is long (" + show(part) + ")"
		case upright && len(others) > 0 && others[len(others)/2] > leastHeight:
			list = append(list, near.To{Value: others[len(others)/2], What: "the others here"})
		}
	case c.Kind.Form().Apart:
	case len(others) > 0:
		list = append(list, near.To{Value: others[len(others)/2], What: "the others here"})
	default:
		list = append(list, near.To{Value: 0, What: "level"})
	}
	to, odd := ask(value, list...)
	if !odd {
		return ""
	}
	return "is far from " + to.What + " (" + show(to.Value) + ")"
}

// leastHeight is the height in millimetres from which on neighbours are compared: smaller ones are
// differences.
const leastHeight = 30

// beside are the figures of the other spots of a list, in order.
func beside(c Check, spot check.Spot) (out []float64) {
	for _, s := range c.Spots {
		if counting := s.Counting(); s.Number != spot.Number && s.Dimension == spot.Dimension && s.Sense == spot.Sense && s.List == spot.List && s.Field == spot.Field && len(counting) > 0 {
			out = append(out, counting[len(counting)-1].Value)
		}
	}
	slices.Sort(out)
	return out
}

// again tells whether the figure was questioned before, and is as measured all the same.
func (n NewReading) again() bool {
	return n.AsMeasured || n.Questioned != "" && strings.TrimSpace(n.Questioned) == strings.TrimSpace(n.Text)
}

// twins are the readings that this one should be like: the last placing at the
// spot, and the other side's.
func twins(c Check, spot check.Spot, placings bool) []check.Reading {
	var out []check.Reading
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

// instrumentFor finds the instrument of a reading; each has one.
func (s Setup) instrumentFor(id string, spot check.Spot, wrong ledger.Problems) instrument.Instrument {
	in, ok := instrument.ByID(s.Instruments, id)
	switch {
	case !ok:
		wrong.Add("instrument", "what was it read with? Choose one, or add it under Measure, Instruments")
	case !in.Reads():
		wrong.Add("instrument", in.Name+" carries a level; choose what shows the figure")
	case in.Angle != (spot.Dimension == measure.Angle):
		wrong.Add("instrument", in.Name+" measures the other dimension")
	}
	return in
}

// TakeBack takes a reading back without another in its place.
type TakeBack struct {
	ledger.Form
	Check   string `json:"check" form:"check"`     // id
	Reading string `json:"reading" form:"reading"` // id
	Reason  string `json:"reason" form:"reason"`
}

// tookBack is a reading that was taken back.
type tookBack struct {
	Setup     string         `json:"setup"`
	Check     string         `json:"check"`
	Place     string         `json:"place"`
	Text      string         `json:"text"`
	Withdrawn gate.Withdrawn `json:"withdrawn"`
}

var takenBack = &ledger.Kind[TakeBack, tookBack]{
	Name: "taken-back", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, t TakeBack, f tookBack) error {
		if err := q.SupersedeReadings(ctx, query.SupersedeReadingsParams{Superseded: t.Reason, Ids: []string{t.Reading}}); err != nil {
			return err
		}
		if err := q.ReviseCheck(ctx, query.ReviseCheckParams{Revised: e.Seq, ID: t.Check}); err != nil {
			return err
		}
		if err := q.ReviseSurveyed(ctx, query.ReviseSurveyedParams{Revised: e.Seq, Survey: t.Check}); err != nil {
			return err
		}
		return gate.PutWithdrawn(ctx, q, e, f.Withdrawn)
	},
	Rights:    func(TakeBack, tookBack) bool { return true },
	TakesBack: func(t TakeBack, _ tookBack) []string { return []string{t.Reading} },
	About:     func(_ string, t TakeBack, _ tookBack) []string { return []string{t.Check} },
	Words: func(t TakeBack, f tookBack) ledger.Words {
		return ledger.Words{What: fmt.Sprintf("%s: %s taken back", f.Place, f.Text), Detail: say.Join(f.Setup, f.Check, t.Reason)}
	},
}

// TakeBack supersedes a reading; it stays on the record.
func (m *Measuring) TakeBack(ctx context.Context, t TakeBack) error {
	_, err := ledger.Do(ctx, m.ledger, takenBack, t.Form, t, func(q *query.Queries) (f tookBack, err error) {
		if !slices.Contains(check.Reasons, t.Reason) {
			return f, ledger.Problems{"reason": "why is it taken back? Choose one of the list"}
		}
		r, err := q.Reading(ctx, t.Reading)
		if err != nil || r.CheckID != t.Check {
			return f, orNotFound(err)
		}
		if r.Superseded != "" {
			return f, ledger.Problems{"": "that reading was taken back already: " + r.Superseded}
		}
		s, c, err := loader{q, m.ledger.When}.one(ctx, t.Check)
		if err != nil {
			return f, err
		}
		f = tookBack{Setup: s.Title(), Check: c.Name, Text: r.Text}
		if spot, ok := c.At(check.Key{List: r.List, Point: r.Point, Field: r.Field}); ok {
			f.Place = spot.Place()
		}
		f.Withdrawn = gate.Withdraw("") // what it takes from a release, the gate finds
		return f, nil
	})
	return err
}

// orNotFound is the error, or that nothing was found where there is none.
func orNotFound(err error) error {
	if err == nil {
		return ledger.ErrNotFound
	}
	return err
}
