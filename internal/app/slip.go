package app

import (
	"context"
	"slices"
	"strconv"
	"strings"
	"time"

	"orpine/internal/core/hold"
	"orpine/internal/core/journal"
	"orpine/internal/core/slip"
	"orpine/internal/store/query"
)

// Slip is a mistake or a rework.
type Slip struct {
	ID            string
	AssemblyID    string
	Assembly      string // name
	Step, Place   string
	Cause         string
	What, Found   string
	Minutes       int
	Money         int64 // minor units
	Currency      string
	Parts, Lesson string
	At            time.Time
	Photos        []Photo
}

// Cost is the money as it is written.
func (s Slip) Cost() string {
	if s.Money == 0 {
		return ""
	}
	return strconv.FormatInt(s.Money/100, 10) + "." + strconv.FormatInt(100+s.Money%100, 10)[1:] + " " + s.Currency
}

// Lesson is what a slip taught, where it would be made again.
type Lesson struct{ Text, Why string }

// NewSlip is a slip as it is tapped: where, and the cause.
type NewSlip struct {
	ID       string `json:"-"`
	Airframe string `json:"airframe,omitempty"` // id; "" for the first
	Assembly string `json:"assembly,omitempty"` // id
	Step     string `json:"step,omitempty"`
	Place    string `json:"place,omitempty"` // in words
	Cause    string `json:"cause"`
}

// LogSlip logs a slip with its cause; what it cost may follow.
func (a *App) LogSlip(ctx context.Context, n NewSlip) error {
	defer a.alone()()
	wrong := Problems{}
	wrong.text("place", &n.Place, maxNote, "")
	if !slices.Contains(slip.Causes, n.Cause) {
		wrong.Add("cause", "what went wrong? Tap one of the list")
	}
	if n.Step != "" && !slices.Contains(hold.Steps, hold.Step(n.Step)) {
		wrong.Add("step", "which kind of step was it?")
	}
	if err := wrong.err(); err != nil {
		return err
	}
	var name string
	err := a.view(ctx, func(q *query.Queries) error {
		if n.Assembly != "" {
			kept, err := q.Assembly(ctx, n.Assembly)
			n.Airframe, name = kept.AirframeID, kept.Name
			return err
		}
		frames, err := q.Airframes(ctx)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(frames, func(f query.Airframe) bool { return n.Airframe == "" || f.ID == n.Airframe })
		if i < 0 {
			return ErrNotFound
		}
		n.Airframe, name = frames[i].ID, frames[i].Name
		return nil
	})
	if err != nil {
		return err
	}
	facts := map[string]any{"name": name, "says": n.Cause, "place": n.Place}
	return a.record(ctx, deed{n.ID, journal.Slip, "", n, facts}, func(q *query.Queries, entry int64) error {
		return q.AddSlip(ctx, query.AddSlipParams{ID: n.ID, AirframeID: n.Airframe, AssemblyID: reference(n.Assembly), Step: n.Step, Place: n.Place, Cause: n.Cause, At: a.time(), Entry: entry})
	})
}

// SlipCost is what a slip cost and taught.
type SlipCost struct {
	ID      string `json:"-"`
	Slip    string `json:"slip"` // id
	What    string `json:"told,omitempty"`
	Found   string `json:"found,omitempty"`
	Minutes string `json:"minutes,omitempty"`
	Money   string `json:"money,omitempty"` // as typed: 12.50
	Parts   string `json:"parts,omitempty"`
	Lesson  string `json:"lesson,omitempty"`
}

// TellSlip adds what a slip cost and taught. What was told before stays in the journal.
func (a *App) TellSlip(ctx context.Context, n SlipCost) error {
	defer a.alone()()
	wrong := Problems{}
	for field, into := range map[string]*string{"what": &n.What, "found": &n.Found, "parts": &n.Parts, "lesson": &n.Lesson} {
		wrong.text(field, into, maxNote, "")
	}
	minutes := 0
	if text := strings.TrimSpace(n.Minutes); text != "" {
		v, err := strconv.Atoi(text)
		if err != nil || v < 0 || v > 1_000_000 {
			wrong.Add("minutes", "whole minutes: 45")
		}
		minutes = v
	}
	money, err := minor(n.Money)
	if err != nil {
		wrong.Add("money", "an amount as in 12.50")
	}
	if err := wrong.err(); err != nil {
		return err
	}
	var kept query.Slip
	err = a.view(ctx, func(q *query.Queries) (err error) {
		kept, err = q.Slip(ctx, n.Slip)
		return err
	})
	if err != nil {
		return err
	}
	facts := map[string]any{"name": kept.Cause, "says": join(n.What, n.Lesson)}
	return a.record(ctx, deed{n.ID, journal.Slip, "", n, facts}, func(q *query.Queries, _ int64) error {
		return q.ChangeSlip(ctx, query.ChangeSlipParams{What: n.What, Found: n.Found, Minutes: int64(minutes), Money: money, Currency: kept.Currency, Parts: n.Parts, Lesson: n.Lesson, ID: n.Slip})
	})
}

// minor reads an amount of money as minor units; "" is none.
func minor(text string) (int64, error) {
	text = strings.ReplaceAll(strings.TrimSpace(text), ",", ".")
	if text == "" {
		return 0, nil
	}
	whole, cents, _ := strings.Cut(text, ".")
	if len(cents) > 2 {
		return 0, strconv.ErrSyntax
	}
	for len(cents) < 2 {
		cents += "0"
	}
	v, err := strconv.ParseUint(whole+cents, 10, 40)
	return int64(v), err //nolint:gosec // 40 bits
}

// Slips lists the slips of an airframe ("" for the first), the last one first.
func (a *App) Slips(ctx context.Context, airframe string) (list []Slip, err error) {
	err = a.view(ctx, func(q *query.Queries) error {
		frames, err := q.Airframes(ctx)
		if err != nil {
			return err
		}
		for _, f := range frames {
			if airframe != "" && f.ID != airframe {
				continue
			}
			of, err := a.slips(ctx, q, f.ID)
			if err != nil {
				return err
			}
			list = append(list, of...)
		}
		return nil
	})
	return list, err
}

func (a *App) slips(ctx context.Context, q *query.Queries, airframe string) ([]Slip, error) {
	rows, err := q.Slips(ctx, airframe)
	if err != nil {
		return nil, err
	}
	assemblies, err := q.Assemblies(ctx, airframe)
	if err != nil {
		return nil, err
	}
	var list []Slip
	for _, r := range rows {
		s := Slip{ID: r.ID, AssemblyID: r.AssemblyID.String, Step: r.Step, Place: r.Place, Cause: r.Cause, What: r.What, Found: r.Found, Minutes: int(r.Minutes), Money: r.Money, Currency: r.Currency, Parts: r.Parts, Lesson: r.Lesson, At: a.when(r.At)}
		for _, assembly := range assemblies {
			if assembly.ID == s.AssemblyID {
				s.Assembly = assembly.Name
			}
		}
		if s.Photos, err = a.photos(ctx, q, s.ID); err != nil {
			return nil, err
		}
		list = append(list, s)
	}
	return list, nil
}

// Lessons are what was learnt that is worth reading before a step of an assembly.
func (a *App) Lessons(ctx context.Context, airframe, assembly, step string) (list []Lesson, err error) {
	err = a.view(ctx, func(q *query.Queries) error {
		list, err = a.lessons(ctx, q, airframe, assembly, step)
		return err
	})
	return list, err
}

func (a *App) lessons(ctx context.Context, q *query.Queries, airframe, assembly, step string) ([]Lesson, error) {
	slips, err := a.slips(ctx, q, airframe)
	if err != nil {
		return nil, err
	}
	var list []Lesson
	for _, s := range slips {
		if why, ok := (slip.Slip{Assembly: s.Assembly, Step: s.Step, Lesson: s.Lesson}).Applies(assembly, step); ok {
			list = append(list, Lesson{s.Lesson, why})
		}
	}
	return list, nil
}

// Amount is the money as it is typed.
func (s Slip) Amount() string { return strings.TrimSuffix(s.Cost(), " "+s.Currency) }
