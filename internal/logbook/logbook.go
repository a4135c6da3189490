// Package logbook keeps slips: what went wrong, what it cost, and what it taught.
package logbook

import (
	"cmp"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"orpine/internal/airframe"
	"orpine/internal/core/hold"
	"orpine/internal/core/part"
	"orpine/internal/core/say"
	"orpine/internal/core/slip"
	"orpine/internal/core/spoken"
	"orpine/internal/gate"
	"orpine/internal/ledger"
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
	Entry         int64 // that logged it
	Revised       int64 // the entry that changed it last
}

// Cost is the money as it is written.
func (s Slip) Cost() string {
	if s.Money == 0 {
		return ""
	}
	return spoken.Amount(s.Money) + " " + s.Currency
}

// Amount is the money as it is typed.
func (s Slip) Amount() string { return strings.TrimSuffix(s.Cost(), " "+s.Currency) }

// Lesson is what a slip taught, where it would be made again.
type Lesson struct{ Text, Why string }

// Logbook is the slips of a workshop.
type Logbook struct{ ledger *ledger.Ledger }

// New returns it.
func New(l *ledger.Ledger) *Logbook { return &Logbook{l} }

// Capability is what the package brings to the ledger.
var Capability = ledger.Capability{
	Name:   "logbook",
	Tables: ledger.Records("slips"),
	Kinds:  ledger.Kinds(logged, told),
}

// currency is that of the first slip where nobody said in which the aircraft is paid; each
// later one takes that of the slip told last.
const currency = "EUR"

// NewSlip is a slip as it is tapped: where, and the cause.
type NewSlip struct {
	ledger.Form
	Airframe string `json:"airframe,omitempty" form:"airframe"` // id; "" for the first
	Assembly string `json:"assembly,omitempty" form:"assembly"` // id
	Step     string `json:"step,omitempty" form:"step"`
	Place    string `json:"place,omitempty" form:"place" text:"lines"` // in words
	Cause    string `json:"cause" form:"cause"`
}

// placed is where a slip was found to belong.
type placed struct {
	Airframe string `json:"airframe"`           // id
	Name     string `json:"name"`               // of the assembly, or the airframe
	Currency string `json:"currency,omitempty"` // in which the aircraft is paid
}

var logged = &ledger.Kind[NewSlip, placed]{
	Name: "slip", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewSlip, f placed) error {
		return q.AddSlip(ctx, query.AddSlipParams{ID: e.ID, AirframeID: f.Airframe, AssemblyID: gate.Reference(n.Assembly), Step: n.Step, Place: n.Place, Cause: n.Cause, Currency: cmp.Or(f.Currency, currency), At: e.At, Entry: e.Seq, Revised: e.Seq})
	},
	Words: func(n NewSlip, f placed) ledger.Words {
		return ledger.Words{What: "Slip: " + f.Name, Detail: say.Join(n.Cause, n.Place)}
	},
}

// Log logs a slip with its cause; what it cost may follow.
func (l *Logbook) Log(ctx context.Context, n NewSlip) error {
	wrong := ledger.Problems{}
	wrong.Text("place", &n.Place, ledger.MaxNote, "")
	if !slices.Contains(slip.Causes, n.Cause) {
		wrong.Add("cause", "what went wrong? Tap one of the list")
	}
	if n.Step != "" && !slices.Contains(hold.Steps, hold.Step(n.Step)) {
		wrong.Add("step", "which kind of step was it?")
	}
	_, err := ledger.Do(ctx, l.ledger, logged, n.Form, n, func(q *query.Queries) (f placed, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		if n.Assembly != "" {
			frame, assembly, err := airframe.Of(ctx, q, n.Assembly)
			if err != nil {
				return f, err
			}
			f = placed{Airframe: frame.ID, Name: assembly.Name}
		} else {
			frame, _, err := airframe.One(ctx, q, n.Airframe)
			if err != nil {
				return f, err
			}
			f = placed{Airframe: frame.ID, Name: frame.Name}
		}
		switch money, err := q.PlanMoney(ctx, f.Airframe); {
		case err == nil:
			f.Currency = money.Currency
		case !errors.Is(err, sql.ErrNoRows):
			return f, err
		}
		return f, nil
	})
	return err
}

// SlipCost is what a slip cost and taught.
type SlipCost struct {
	ledger.Form
	Slip    string `json:"slip" form:"-"` // id
	Seen    int64  `json:"seen,omitempty" form:"seen"`
	What    string `json:"told,omitempty" form:"what" text:"lines"`
	Found   string `json:"found,omitempty" form:"found" text:"lines"`
	Minutes string `json:"minutes,omitempty" form:"minutes"` // as typed: 45, 2 h, 1:40
	Money   string `json:"money,omitempty" form:"money"`     // as typed: 12.50, $18
	Parts   string `json:"parts,omitempty" form:"parts" text:"lines"`
	Lesson  string `json:"lesson,omitempty" form:"lesson" text:"lines"`
}

// costed is a slip's cost as it was understood.
type costed struct {
	Cause   string `json:"cause"`
	Minutes int64  `json:"minutes"`
	Money   int64  `json:"money"`              // minor units
	Named   string `json:"currency,omitempty"` // the currency that was named with it
}

var told = &ledger.Kind[SlipCost, costed]{
	Name: "slip-told", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n SlipCost, f costed) error {
		return q.TellSlip(ctx, query.TellSlipParams{What: n.What, Found: n.Found, Minutes: f.Minutes, Money: f.Money, Named: f.Named, Parts: n.Parts, Lesson: n.Lesson, Revised: e.Seq, ID: n.Slip})
	},
	Words: func(n SlipCost, f costed) ledger.Words {
		return ledger.Words{What: "Slip: " + f.Cause, Detail: say.Join(n.What, n.Lesson)}
	},
}

// Tell adds what a slip cost and taught. What was told before stays in the journal.
func (l *Logbook) Tell(ctx context.Context, n SlipCost) error {
	wrong := ledger.Problems{}
	for field, into := range map[string]*string{"what": &n.What, "found": &n.Found, "parts": &n.Parts, "lesson": &n.Lesson} {
		wrong.Text(field, into, ledger.MaxNote, "")
	}
	var f costed
	if text := strings.TrimSpace(n.Minutes); text != "" {
		v, err := spoken.Minutes(text)
		if err != nil {
			wrong.Add("minutes", err.Error())
		}
		f.Minutes = int64(v)
	}
	if text := strings.TrimSpace(n.Money); text != "" {
		var err error
		if f.Money, f.Named, err = spoken.Money(text); err != nil {
			wrong.Add("money", err.Error())
		}
	}
	_, err := ledger.Do(ctx, l.ledger, told, n.Form, n, func(q *query.Queries) (costed, error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		kept, err := q.Slip(ctx, n.Slip)
		if err != nil {
			return f, err
		}
		if n.Seen != kept.Revised {
			return f, ledger.Moved("it as it was first told", fmt.Sprintf("told as “%s”", say.Join(kept.What, kept.Lesson)))
		}
		f.Cause = kept.Cause
		return f, nil
	})
	return err
}

// List returns slips before an entry (0: the latest), the last one first, and whether
// there are more.
func (l *Logbook) List(ctx context.Context, q *query.Queries, before int64, most int) (list []Slip, more bool, err error) {
	if before <= 0 {
		before = 1 << 62
	}
	rows, err := q.Slips(ctx, query.SlipsParams{Before: before, Most: int64(most) + 1})
	if err != nil {
		return nil, false, fmt.Errorf("reading the slips: %w", err)
	}
	if len(rows) > most {
		rows, more = rows[:most], true
	}
	for _, r := range rows {
		list = append(list, l.from(query.SlipsOfAssemblyRow(r)))
	}
	return list, more, nil
}

// OfAssembly returns the slips of an assembly, the first one first.
func (l *Logbook) OfAssembly(ctx context.Context, q *query.Queries, assembly string) ([]Slip, error) {
	rows, err := q.SlipsOfAssembly(ctx, gate.Reference(assembly))
	if err != nil {
		return nil, fmt.Errorf("reading the slips: %w", err)
	}
	list := make([]Slip, len(rows))
	for i, r := range rows {
		list[i] = l.from(r)
	}
	return list, nil
}

func (l *Logbook) from(r query.SlipsOfAssemblyRow) Slip {
	return Slip{ID: r.ID, AssemblyID: r.AssemblyID.String, Assembly: r.Assembly.String, Step: r.Step, Place: r.Place, Cause: r.Cause, What: r.What, Found: r.Found, Minutes: int(r.Minutes), Money: r.Money,
		Currency: r.Currency, Parts: r.Parts, Lesson: r.Lesson, At: l.ledger.When(r.At), Entry: r.Entry, Revised: r.Revised}
}

// Totals are how many slips there are, and the minutes that they cost.
func Totals(ctx context.Context, q *query.Queries) (number, minutes int, err error) {
	t, err := q.SlipMinutes(ctx)
	return int(t.Number), int(t.Minutes), err
}

// mostLessons is how many lessons a sheet shows; all are under Slips.
const mostLessons = 12

// Lessons are what was learnt that is worth reading before a step of an assembly, by
// name ("" for any step): what was learnt there or on its twin first, then the latest.
func Lessons(ctx context.Context, q *query.Queries, airframe, assembly, step string) ([]Lesson, error) {
	rows, err := q.Lessons(ctx, query.LessonsParams{Airframe: airframe, Assembly: assembly, Twin: part.Twin(assembly), Step: step, Most: mostLessons})
	if err != nil {
		return nil, fmt.Errorf("reading the lessons: %w", err)
	}
	var list []Lesson
	for _, r := range rows {
		if why, ok := (slip.Slip{Assembly: r.Assembly.String, Step: r.Step, Lesson: r.Lesson}).Applies(assembly, step); ok {
			list = append(list, Lesson{r.Lesson, why})
		}
	}
	return list, nil
}
