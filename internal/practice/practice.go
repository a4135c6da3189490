// Package practice is the trainer: a second workshop, in a file of its own, in which hidden parts
// are measured on the same sheets as real ones. It touches nothing of the shop's record.
package practice

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net"
	"strconv"
	"strings"
	"sync"
	"time"

	"orpine/internal/airframe"
	"orpine/internal/coating"
	"orpine/internal/core/check"
	"orpine/internal/core/measure"
	"orpine/internal/core/practice"
	"orpine/internal/core/quantity"
	"orpine/internal/core/row"
	"orpine/internal/core/say"
	"orpine/internal/core/sim"
	"orpine/internal/gauge/simulated"
	"orpine/internal/holding"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/overview"
	"orpine/internal/planning"
	"orpine/internal/riveting"
	"orpine/internal/store/query"
)

// FileName is the file that practice is kept in, in the data directory.
const FileName = "local.db"

// Capability is what the package brings to the ledger: nothing in the journal.
var Capability = ledger.Capability{Name: "practice", Tables: []ledger.Table{{Name: "practice_attempts", Class: ledger.Local}}}

// Practice is the trainer over its own workshop.
type Practice struct {
	*overview.Workshop
	mu     sync.Mutex
	played map[string]bool // attempts whose instruments run
}

// New returns it.
func New(w *overview.Workshop) *Practice { return &Practice{Workshop: w, played: map[string]bool{}} }

// Attempt is one exercise as it was, or is, played.
type Attempt struct {
	query.PracticeAttempt
	Exercise practice.Exercise
	Scene    practice.Scene
}

// Ended tells whether it is over.
func (a Attempt) Ended() bool { return a.EndedAt != "" }

// Outcome is what a decision was, beside what was true and what the readings bore.
type Outcome string

// The outcomes.
const (
	Borne     Outcome = "borne"      // decided right, by readings that bore it: this counts
	Guess     Outcome = "guess"      // decided right, and the readings did not bear it
	FalseGo   Outcome = "false go"   // drilled, and bad
	FalseStop Outcome = "false stop" // left, and good, though the readings said go or were never taken
	Waited    Outcome = "waited"     // left, and good, while the readings could not decide: no harm, no point
)

// Outcome tells which it was.
func (a Attempt) Outcome() Outcome {
	switch right := a.Drilled == a.Good; {
	case right && a.Borne == 1:
		return Borne
	case right:
		return Guess
	case a.Drilled == 1:
		return FalseGo
	case a.Borne == 1:
		return Waited
	}
	return FalseStop
}

// Well tells whether it counts.
func (a Attempt) Well() bool { return a.Outcome() == Borne }

func attemptOf(row query.PracticeAttempt) (Attempt, error) {
	e, ok := practice.Of(row.Exercise)
	if !ok {
		return Attempt{}, ledger.ErrNotFound
	}
	return Attempt{row, e, e.Scene(uint64(row.Seed))}, nil
}

// Attempt loads one.
func (p *Practice) Attempt(ctx context.Context, id string) (a Attempt, err error) {
	err = p.Ledger.View(ctx, func(q *query.Queries) error {
		row, err := q.Attempt(ctx, id)
		if err != nil {
			return err
		}
		a, err = attemptOf(row)
		return err
	})
	return a, err
}

// Open are the attempts that are being played, the last one last.
func (p *Practice) Open(ctx context.Context) (list []Attempt, err error) {
	err = p.Ledger.View(ctx, func(q *query.Queries) error {
		rows, err := q.OpenAttempts(ctx)
		for _, row := range rows {
			a, err := attemptOf(row)
			if err == nil {
				list = append(list, a)
			}
		}
		return err
	})
	return list, err
}

// Progress is how often each exercise was decided right, and played, by someone.
func (p *Practice) Progress(ctx context.Context, who string) (out map[string][2]int64, err error) {
	out = map[string][2]int64{}
	err = p.Ledger.View(ctx, func(q *query.Queries) error {
		rows, err := q.Progress(ctx, who)
		for _, r := range rows {
			out[r.Exercise] = [2]int64{r.Well, r.Played}
		}
		return err
	})
	return out, err
}

// Begin is an exercise to be played.
type Begin struct {
	ledger.Form
	Exercise string
	Seed     uint64
	Who      string
}

// Begin puts the hidden part into a setup with its instruments. The same form again is the same
// attempt.
func (p *Practice) Begin(ctx context.Context, n Begin) (a Attempt, err error) {
	e, ok := practice.Of(n.Exercise)
	if !ok {
		return a, ledger.ErrNotFound
	}
	if a, err = p.Attempt(ctx, n.ID); !errors.Is(err, ledger.ErrNotFound) {
		return a, err
	}
	wrong := ledger.Problems{}
	wrong.Text("who", &n.Who, ledger.MaxName, "")
	if err := wrong.Err(); err != nil {
		return a, err
	}
	s := e.Scene(n.Seed)
	var number int64
	err = p.Ledger.View(ctx, func(q *query.Queries) error {
		number, err = q.Attempts(ctx)
		return err
	})
	number++
	child := func(name string) string { return ledger.Child(n.ID, name) }
	form := func(name string) ledger.Form { return ledger.Form{ID: child(name)} }
	frame, name := ledger.Child("practice", "aircraft"), "Practice"
	if s.Night != nil { // its order of work is its own
		frame, name = child("aircraft"), fmt.Sprintf("Practice, no. %d", number)
	}
	if err == nil {
		err = p.Airframes.Add(ctx, airframe.NewAirframe{Form: ledger.Form{ID: frame}, Name: name, Description: "hidden parts; nothing here is real", Unit: "mm"})
	}
	if err == nil {
		err = p.Airframes.AddAssembly(ctx, airframe.NewAssembly{Form: form("assembly"), Airframe: frame, Name: fmt.Sprintf("%s, no. %d", s.Part, number), Shape: airframe.Shape{Form: "fin", X: 5000, Z: 400, Chord: 620, Tip: 500, Rise: 1000}})
	}
	for i, t := range s.Tools {
		if err == nil {
			err = p.Instruments.Add(ctx, instrument.NewInstrument{Form: form(fmt.Sprint("tool ", i)), Name: fmt.Sprintf("%s, no. %d", t.Name, number), Sort: t.Sort, Resolution: t.Resolution, Offset: t.Offset, Spread: t.Spread})
		}
	}
	if err == nil {
		err = p.other(ctx, frame, n, s, number)
	}
	setup := measuring.NewSetup{Form: form("setup"), Assembly: child("assembly"), Name: strings.ToLower(e.Title)}
	for _, c := range s.Checks {
		setup.Checks = append(setup.Checks, measuring.NewCheck{Name: c.Name, Definition: c.Definition, Instrument: child(fmt.Sprint("tool ", c.Tool))})
	}
	if err == nil && len(s.Checks) > 0 {
		err = p.Measuring.Begin(ctx, setup)
	}
	for i, g := range s.Given {
		if err == nil {
			spot := s.Spots[g.Spot]
			err = p.Measuring.Take(ctx, measuring.NewReading{Form: form(fmt.Sprint("given ", i)), Check: ledger.Child(setup.ID, fmt.Sprintf("check %d", spot.Check)), Spot: check.Key{List: spot.List, Point: spot.Point, Field: spot.Field}, State: 1, Text: g.Text,
				Instrument: child(fmt.Sprint("tool ", spot.Tool)), Condition: g.Condition, AsMeasured: true})
		}
	}
	if err != nil {
		return a, err
	}
	err = p.Ledger.Derive(ctx, func(q *query.Queries) error {
		return q.AddAttempt(ctx, query.AddAttemptParams{ID: n.ID, Number: number, Exercise: e.ID, Seed: int64(n.Seed), Who: n.Who, SetupID: setup.ID, BegunAt: ledger.Kept(p.Ledger.Now())})
	})
	if err != nil {
		return a, err
	}
	return p.Attempt(ctx, n.ID)
}

// other puts in what is no setup: a row, a lay-up, an evening.
func (p *Practice) other(ctx context.Context, frame string, n Begin, s practice.Scene, number int64) error {
	child := func(name string) string { return ledger.Child(n.ID, name) }
	form := func(name string) ledger.Form { return ledger.Form{ID: child(name)} }
	switch {
	case s.Row != nil:
		if err := p.Holding.StandBefore(ctx, holding.NewStand{Form: form("hold"), Assembly: child("assembly"), Name: fmt.Sprintf("Rivet the row, no. %d", number), Step: "rivet", Permanent: "the row", Why: "What is set is drilled out only with harm."}); err != nil {
			return err
		}
		err := p.Riveting.Lay(ctx, riveting.NewRow{Form: form("row"), Assembly: child("assembly"), Name: fmt.Sprintf("the row, no. %d", number), Rivets: child("hold"), Values: map[string]string{"layers": "aluminium; 0.8\naluminium; 1.0", "sort": "solid", "size": "1/8", "head": "domed", "metal": "aluminium", "edge": "8",
			"count": fmt.Sprint(s.Row.Holes), "pitch": "30", "first": "10", "sizing": "final size as supplied", "bucker": "solo", "view": "from above"}})
		if err != nil {
			return err
		}
		r, err := p.Row(ctx, child("row"))
		if err != nil {
			return err
		}
		all := make([]int, s.Row.Holes)
		for i := range all {
			all[i] = i + 1
		}
		// the holes came at final size, and the helper let a pin fall through each
		return p.Riveting.Operate(ctx, riveting.HoleOperation{Form: form("through"), Row: child("row"), Seen: r.Revised, Numbers: all, What: row.Falls, By: "helper"})
	case s.Cure != nil:
		return p.Coating.AddMaterial(ctx, coating.NewMaterial{Form: form("material"), Name: fmt.Sprintf("laminating resin, no. %d", number), Table: s.Cure.Table, Caution: "Gloves and air."})
	case s.Night != nil:
		for i, line := range s.Night.Steps {
			if err := p.AddStep(ctx, planning.NewStep{Form: form(fmt.Sprint("step ", i)), Airframe: frame, Line: line, Assembly: child("assembly")}); err != nil {
				return err
			}
		}
		now := p.Ledger.Now().Add(time.Minute)
		return p.Planning.AddVisit(ctx, planning.NewVisit{Form: form("visit"), Airframe: frame, Date: now.Format(time.DateOnly), From: now.Format("15:04"), Long: fmt.Sprintf("%.0f h", s.Night.Hours), People: "2", Who: "helper"})
	}
	return nil
}

// Path is the sheet on which an attempt is played.
func (a Attempt) Path() string {
	switch {
	case a.Scene.Row != nil:
		return "/rows/" + a.RowID()
	case a.Scene.Cure != nil:
		return "/cures?airframe=" + ledger.Child("practice", "aircraft")
	case a.Scene.Night != nil:
		return "/order?airframe=" + ledger.Child(a.ID, "aircraft")
	}
	return "/setups/" + a.SetupID
}

// RowID is the row of an attempt, HoldID the hold before its rivets, StepID a step of its evening.
func (a Attempt) RowID() string { return ledger.Child(a.ID, "row") }

// HoldID is the hold before the rivets of a row.
func (a Attempt) HoldID() string { return ledger.Child(a.ID, "hold") }

// StepID is a step of an evening.
func (a Attempt) StepID(i int) string { return ledger.Child(a.ID, fmt.Sprint("step ", i)) }

// judgement is what a decision comes to.
type judgement struct {
	good     bool
	missed   []string // what was not seen, in words
	readings int64
	fewest   int64  // readings that it takes at the least
	borne    bool   // what was decided follows from what was read
	stood    string // the figures with their ± then
}

func (p *Practice) judged(ctx context.Context, a Attempt, drill bool) (j judgement, err error) {
	switch {
	case a.Scene.Row != nil:
		return p.row(ctx, a, drill)
	case a.Scene.Cure != nil:
		j.missed, err = p.cure(ctx, a)
		j.good, j.borne = a.Scene.Good, len(j.missed) == 0
		return j, err
	case a.Scene.Night != nil: // the plan is all there is to read
		return judgement{good: a.Scene.Good, missed: []string{}, borne: true}, nil
	}
	setup, err := p.Measuring.Setup(ctx, a.SetupID)
	if err != nil {
		return j, err
	}
	j = judgement{good: a.Scene.Good, missed: a.missed(setup, drill), readings: taken(setup) - int64(len(a.Scene.Given)), borne: bears(setup, drill, a.Scene.Good), stood: stood(setup)}
	for _, c := range setup.Checks {
		j.fewest += int64(len(c.Spots))
	}
	j.fewest = max(0, j.fewest-int64(len(a.Scene.Given)))
	return j, nil
}

// bears tells whether the readings bore a decision: to drill where every check says go; to leave it
// where one that was read says stop, or was read whole and cannot say go.
func bears(s measuring.Setup, drill, good bool) bool {
	all := true
	for _, c := range s.Checks {
		known := c.Result != nil && c.Taken > 0
		all = all && known && c.Result.Verdict == measure.Go
		stop := known && c.Result.Verdict == measure.Stop
		undecided := known && c.Taken >= c.Wanted && c.Result.Verdict == measure.Unsure
		if !drill && (stop && !good || undecided) {
			return true
		}
	}
	return drill && all
}

// stood are the limited figures of a setup with their ±.
func stood(s measuring.Setup) string {
	var out []string
	for _, c := range s.Checks {
		if c.Result == nil {
			continue
		}
		for _, q := range c.Result.Quantities {
			if _, limited := c.Limits[q.Name]; limited {
				out = append(out, check.SayQuantity(q))
			}
		}
	}
	return strings.Join(out, ", ")
}

// row is right when its kept hole is open and, where it is closed up, all others are set.
func (p *Practice) row(ctx context.Context, a Attempt, drill bool) (j judgement, err error) {
	r, err := p.Row(ctx, a.RowID())
	if err != nil {
		return j, err
	}
	good, missed, open := true, []string{}, 0
	for _, h := range r.Holes {
		switch {
		case h.Number == a.Scene.Row.Kept && h.Filled():
			good = false
			missed = append(missed, fmt.Sprintf("hole %d is set, and the %s needs it", h.Number, a.Scene.Row.Part))
		case h.Number == a.Scene.Row.Kept && !h.Kept():
			missed = append(missed, fmt.Sprintf("hole %d is not marked: the next one to come along sets it", h.Number))
		case h.Number != a.Scene.Row.Kept && h.Kept():
			missed = append(missed, fmt.Sprintf("hole %d is kept open for nothing", h.Number))
			open++
		case h.Number != a.Scene.Row.Kept && !h.Done():
			open++
		}
	}
	if drill && open > 0 {
		good = false
		missed = append(missed, fmt.Sprintf("%d holes were not set when it was closed", open))
	}
	set := int64(len(r.Holes) - open)
	return judgement{good: good, missed: missed, readings: set, borne: set > 0}, nil
}

// cure lets the clocks of a lay-up end.
func (p *Practice) cure(ctx context.Context, a Attempt) ([]string, error) {
	s, err := p.Cures(ctx, ledger.Child("practice", "aircraft"))
	if err != nil {
		return nil, err
	}
	missed := []string{"no clock was started: which line of the table was read?"}
	for _, c := range s.Clocks {
		if c.Material != ledger.Child(a.ID, "material") {
			continue
		}
		if missed = []string{}; c.Temperature != float64(a.Scene.Cure.Temperature) {
			missed = append(missed, fmt.Sprintf("the clock was started for %s, and the shop was at %s", say.Temperature(c.Temperature), say.Temperature(float64(a.Scene.Cure.Temperature))))
		}
		if c.Running() {
			if err := p.Coating.End(ctx, coating.ClockEnded{Form: ledger.Form{ID: ledger.Child(a.ID, "ended "+c.ID)}, Clock: c.ID, Outcome: "practice"}); err != nil {
				return nil, err
			}
		}
	}
	return missed, nil
}

// Device is an instrument of a scene, as it is played.
func (a Attempt) Device(i int) sim.Device {
	t := a.Scene.Tools[i]
	resolution, spread := size(t.Resolution), size(t.Spread)
	unit := "mm"
	if t.Sort == "level" {
		unit = "deg"
	}
	return sim.Careful(t.Sort, unit, resolution, t.Zero, 0, spread, uint64(a.Seed)*31+uint64(i))
}

// size reads a figure of a card.
func size(text string) float64 {
	if l, err := quantity.ParseLength(text, quantity.Millimetre); err == nil {
		return float64(l)
	}
	v, _ := strconv.ParseFloat(text, 64)
	return v
}

// Tool is the id that an instrument of an attempt has in the workshop.
func (a Attempt) Tool(i int) string { return ledger.Child(a.ID, fmt.Sprint("tool ", i)) }

// Resume lets the instruments of the attempts that are still open speak again, the last ones first
// where there are too many.
func (p *Practice) Resume(ctx context.Context) error {
	open, err := p.Open(ctx)
	for _, a := range open[max(0, len(open)-3):] {
		err = errors.Join(err, p.Play(ctx, a))
	}
	return err
}

// Play makes the instruments of an attempt speak, so that its setup is read live; it is done once.
func (p *Practice) Play(ctx context.Context, a Attempt) error {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.played[a.ID] || a.Ended() || len(a.Scene.Tools) == 0 {
		return nil
	}
	hidden, err := a.Scene.Hidden()
	if err != nil {
		return err
	}
	for i := range a.Scene.Tools {
		listener, err := new(net.ListenConfig).Listen(ctx, "tcp", "127.0.0.1:0")
		if err != nil {
			return err
		}
		played, stop := context.WithCancel(context.Background())
		go func() { // until the trainer stops
			defer stop()
			<-p.Gauges.Closed()
		}()
		go func() { _ = simulated.Serve(played, listener, a.Device(i), hidden, uint64(a.Number)) }()
		p.rest()
		if err := p.Gauges.Connect(a.Tool(i), listener.Addr().String(), ""); err != nil {
			stop()
			return err
		}
	}
	p.played[a.ID] = true
	return nil
}

// rest lets go of instruments of attempts before, so that there is always room for new ones.
func (p *Practice) rest() {
	for p.Gauges.Len() > 5 {
		p.Gauges.Oldest()
	}
}

// Decide is what becomes of the part.
type Decide struct {
	ledger.Form
	Attempt string
	Drill   bool
}

// Decide ends an attempt. A hole cannot be undrilled: what was decided once stays.
func (p *Practice) Decide(ctx context.Context, n Decide) (a Attempt, err error) {
	if a, err = p.Attempt(ctx, n.Attempt); err != nil || a.Ended() {
		return a, err
	}
	j, err := p.judged(ctx, a, n.Drill)
	if err != nil {
		return a, err
	}
	missed, err := json.Marshal(j.missed)
	if err != nil {
		return a, err
	}
	flag := func(yes bool) int64 {
		if yes {
			return 1
		}
		return 0
	}
	err = p.Ledger.Derive(ctx, func(q *query.Queries) error {
		return q.EndAttempt(ctx, query.EndAttemptParams{EndedAt: ledger.Kept(p.Ledger.Now()), Drilled: flag(n.Drill), Good: flag(j.good), Readings: j.readings, Missed: string(missed), Borne: flag(j.borne), Fewest: j.fewest, Stood: j.stood, ID: a.ID})
	})
	for i := range a.Scene.Tools {
		p.Gauges.Disconnect(a.Tool(i))
	}
	if err != nil {
		return a, err
	}
	return p.Attempt(ctx, a.ID)
}

// taken counts the readings of a setup, those that were given before included.
func taken(s measuring.Setup) (n int64) {
	for _, c := range s.Checks {
		for _, spot := range c.Spots {
			n += int64(len(spot.Readings))
		}
	}
	return n
}

// missed says what was there to be seen and was not.
func (a Attempt) missed(s measuring.Setup, drill bool) []string {
	out := []string{}
	for _, c := range s.Checks {
		switch {
		case c.Taken < c.Wanted:
			out = append(out, fmt.Sprintf("%s: %d of %d places were read", c.Name, c.Taken, c.Wanted))
		case c.Result == nil:
			out = append(out, c.Name+" had no answer yet: "+strings.Join(c.Problems, "; "))
		case drill && c.Result.Verdict != measure.Go:
			out = append(out, fmt.Sprintf("%s said %s when it was drilled", c.Name, c.Result.Verdict))
		case !drill && c.Result.Verdict == measure.Go && len(s.Checks) == 1:
			out = append(out, c.Name+" said go when it was left")
		}
		for _, t := range c.Used {
			if t.Angle && !t.Zeroed {
				out = append(out, t.Name+" was never turned end for end")
			}
		}
	}
	return out
}

// Said are the sentences of what was missed, as they were kept.
func (a Attempt) Said() (out []string) {
	_ = json.Unmarshal([]byte(a.Missed), &out) // they are this program's own
	return out
}
