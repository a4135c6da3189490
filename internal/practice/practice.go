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

	"orpine/internal/airframe"
	"orpine/internal/core/check"
	"orpine/internal/core/measure"
	"orpine/internal/core/practice"
	"orpine/internal/core/quantity"
	"orpine/internal/core/sim"
	"orpine/internal/gauge/simulated"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/overview"
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

// Well tells whether it was decided right: a good part drilled, a bad one left.
func (a Attempt) Well() bool { return a.Drilled == a.Good }

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
	frame := ledger.Child("practice", "aircraft")
	if err == nil {
		err = p.Airframes.Add(ctx, airframe.NewAirframe{Form: ledger.Form{ID: frame}, Name: "Practice", Description: "hidden parts; nothing here is real", Unit: "mm"})
	}
	if err == nil {
		err = p.Airframes.AddAssembly(ctx, airframe.NewAssembly{Form: form("assembly"), Airframe: frame, Name: fmt.Sprintf("%s, no. %d", s.Part, number), Shape: airframe.Shape{Form: "fin", X: 5000, Z: 400, Chord: 620, Tip: 500, Rise: 1000}})
	}
	for i, t := range s.Tools {
		if err == nil {
			err = p.Instruments.Add(ctx, instrument.NewInstrument{Form: form(fmt.Sprint("tool ", i)), Name: fmt.Sprintf("%s, no. %d", t.Name, number), Sort: t.Sort, Resolution: t.Resolution, Offset: t.Offset, Spread: t.Spread})
		}
	}
	setup := measuring.NewSetup{Form: form("setup"), Assembly: child("assembly"), Name: strings.ToLower(e.Title)}
	for _, c := range s.Checks {
		setup.Checks = append(setup.Checks, measuring.NewCheck{Name: c.Name, Definition: c.Definition, Instrument: child(fmt.Sprint("tool ", c.Tool))})
	}
	if err == nil {
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

// Play makes the instruments of an attempt speak, so that its setup is read live; it is done once.
func (p *Practice) Play(ctx context.Context, a Attempt) error {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.played[a.ID] || a.Ended() {
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
		if err := p.Gauges.Connect(a.Tool(i), listener.Addr().String()); err != nil {
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
	setup, err := p.Measuring.Setup(ctx, a.SetupID)
	if err != nil {
		return a, err
	}
	missed, err := json.Marshal(a.missed(setup, n.Drill))
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
		return q.EndAttempt(ctx, query.EndAttemptParams{EndedAt: ledger.Kept(p.Ledger.Now()), Drilled: flag(n.Drill), Good: flag(a.Scene.Good), Readings: taken(setup) - int64(len(a.Scene.Given)), Missed: string(missed), ID: a.ID})
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
