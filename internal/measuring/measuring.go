// Package measuring keeps setups and their checks, takes readings, and works out what
// they say. What a check is, and what is to be done next, is in package
// core/check; the arithmetic is in core/measure and core/pose.
package measuring

import (
	"context"
	"fmt"
	"slices"
	"sync"
	"time"

	"orpine/internal/airframe"
	"orpine/internal/core/check"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/school"
	"orpine/internal/gate"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
	"orpine/internal/worksheet"
)

// Measuring is the setups of a workshop.
type Measuring struct {
	ledger *ledger.Ledger
	gate   *gate.Gate

	outdated sync.Mutex
	anew     map[string]query.SetStandingParams // standings worked out on the way, to be kept
}

// Capability is what the package brings to the ledger.
var Capability = ledger.Capability{
	Name:   "measuring",
	Tables: append(ledger.Records("setups", "checks", "events", "readings", "placings"), ledger.Deriveds("standings")...),
	Kinds:  ledger.Kinds(begun, taken, takenBack, happened, redefined, checkAdded, repeatedAfter, warmthSaid, keptTo, confirmed, eventMistaken, liesSaid),
}

// New returns the setups, and lets them provide their evidence.
func New(l *ledger.Ledger, g *gate.Gate) *Measuring {
	m := &Measuring{ledger: l, gate: g, anew: map[string]query.SetStandingParams{}}
	l.ComparedBy(m.compare)
	g.Register(gate.Provider{Gather: m.evidence})
	g.Register(gate.Provider{Needs: []hold.Need{hold.Inside}, Gather: m.beside})
	return m
}

// Setup is one placing of an assembly, with its checks.
type Setup struct {
	ID, Name     string
	Airframe     airframe.Airframe // where it belongs to no assembly yet, one without id that has only its unit
	AssemblyID   string
	AssemblyName string
	Shape        airframe.Shape
	State        int64     // counts the events since it was begun, from 1
	Steady       time.Time // since when nothing has disturbed it
	Last         measure.Event
	Material     string // of the part; "" for not said
	Temperature  string // of the shop in °C, as typed
	Checks       []Check

	zeros map[string]instrument.Zeros // of the levels that were read, by id

	Instruments []instrument.Instrument // of the workshop
}

// Title names the setup and its assembly.
func (s Setup) Title() string {
	if s.AssemblyName == "" {
		return s.Name
	}
	return s.AssemblyName + " " + s.Name
}

// Check returns the check of that id.
func (s Setup) Check(id string) (Check, bool) {
	i := slices.IndexFunc(s.Checks, func(c Check) bool { return c.ID == id })
	if i < 0 {
		return Check{}, false
	}
	return s.Checks[i], true
}

// Check is one check of a setup, with what is kept of it.
type Check struct {
	check.Check
	SetupID     string
	Survey      string        // id of the check that surveyed the rails which it lies on; "" for none
	Instrument  string        // id of the one offered for the next reading
	Schools     school.Choice // where the check differs from its airframe
	Limits      map[string]measure.Limit
	Proportions []string       // keys of fields that are drawn in usual proportions: nobody said them yet
	Hangs       []string       // those of them on which what it says hangs
	Definition  map[string]any // the worksheet check without its readings
	Redefined   int64          // the entry that changed its definition last
	Revised     int64          // the entry that changed anything of what it says last

	defined     string // the definition as it is kept
	firstLimits string // those that it had first, as they are kept; "" while it never had any
	filled      map[string]any
	usualLimits string // which of its limits are the usual ones, as it is kept
}

// Setup loads a setup and works out its checks.
func (m *Measuring) Setup(ctx context.Context, id string) (s Setup, err error) {
	err = m.ledger.View(ctx, func(q *query.Queries) error {
		if s, err = m.Load(ctx, q, id); err != nil {
			return err
		}
		for i := range s.Checks {
			s.Solve(i)
		}
		return nil
	})
	return s, err
}

// Load loads a setup with the readings that count; nothing is worked out.
func (m *Measuring) Load(ctx context.Context, q *query.Queries, id string) (Setup, error) {
	row, err := q.Setup(ctx, id)
	if err != nil {
		return Setup{}, ledger.Found(err)
	}
	return loader{q, m.ledger.When}.setup(ctx, placed(row))
}

// History fills the spot of a check with all that was ever read there, the last
// hundred of it.
func (m *Measuring) History(ctx context.Context, q *query.Queries, s Setup, c *Check, key check.Key) error {
	i := slices.IndexFunc(c.Spots, func(s check.Spot) bool { return s.Key() == key })
	if i < 0 {
		return nil
	}
	rows, err := q.ReadingsAtSpot(ctx, query.ReadingsAtSpotParams{CheckID: c.ID, List: key.List, Point: key.Point, Field: key.Field, Limit: 100})
	if err != nil {
		return err
	}
	c.Spots[i].Readings = nil
	for _, r := range slices.Backward(rows) {
		in, _ := instrument.ByID(s.Instruments, r.InstrumentID)
		c.Spots[i].Readings = append(c.Spots[i].Readings, check.Reading{ID: r.ID, Text: r.Text, Value: r.Value, Instrument: in.Name, Turned: r.Turned == 1, Hung: r.Hung == 1, Aid: r.Aid, Moved: r.Moved == 1, Sent: r.Sent, Condition: r.Condition, At: m.ledger.When(r.At), Superseded: r.Superseded, Stale: measure.Event(r.Event.String)})
	}
	return nil
}

// Brief is a setup in a list.
type Brief struct {
	ID, Name, AssemblyID, AssemblyName string
	Airframe                           string // name
	Steady                             time.Time
	Events                             int64 // that have disturbed it
	Checks                             []Standing
}

// Join tells whether it joins a surface to its airframe.
func (b Brief) Join() bool {
	return slices.ContainsFunc(b.Checks, func(s Standing) bool { k, _ := worksheet.KindNamed(s.Kind); return k.Join })
}

// Briefs are the setups of an airframe with how far each check is, from what was
// worked out before.
func (m *Measuring) Briefs(ctx context.Context, q *query.Queries, frame airframe.Airframe) ([]Brief, error) {
	rows, err := q.SetupsOfAirframe(ctx, frame.ID)
	if err != nil {
		return nil, err
	}
	kept, err := q.StandingsOfAirframe(ctx, frame.ID)
	if err != nil {
		return nil, err
	}
	list := make([]keptStanding, len(kept))
	for i, k := range kept {
		list[i] = keptStanding(k)
	}
	standings, err := m.standings(ctx, q, list)
	if err != nil {
		return nil, err
	}
	of := map[string][]Standing{}
	for _, s := range standings {
		of[s.Setup] = append(of[s.Setup], s)
	}
	out := make([]Brief, len(rows))
	for i, r := range rows {
		out[i] = Brief{r.ID, r.Name, r.AssemblyID.String, r.Assembly, frame.Name, m.ledger.When(r.SteadyAt), r.State - 1, of[r.ID]}
	}
	return out, nil
}

// beside are the checks of the assemblies of bays that are not measured through: begun, or
// stale since.
func (m *Measuring) beside(ctx context.Context, q *query.Queries, holds []gate.Hold, into *hold.Evidence) error {
	return gate.NearBays(ctx, q, gate.About(holds, hold.Inside), func(bay string, assemblies []string) error {
		for _, id := range assemblies {
			setups, err := m.BriefsOfAssembly(ctx, q, airframe.Assembly{ID: id})
			if err != nil {
				return err
			}
			for _, s := range setups {
				for _, c := range s.Checks {
					if c.Stale > 0 || c.Taken < c.Wanted {
						b := into.Bay(bay)
						b.Near = append(b.Near, hold.Near{ID: "check:" + c.ID, What: fmt.Sprintf("the check “%s”, %s", c.Name, s.Name)})
					}
				}
			}
		}
		return nil
	})
}

// BriefsOfAssembly are the setups of an assembly with how far each check is.
func (m *Measuring) BriefsOfAssembly(ctx context.Context, q *query.Queries, a airframe.Assembly) ([]Brief, error) {
	rows, err := q.SetupsOfAssembly(ctx, gate.Reference(a.ID))
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	out, ids := make([]Brief, len(rows)), make([]string, len(rows))
	for i, r := range rows {
		out[i], ids[i] = Brief{r.ID, r.Name, a.ID, a.Name, "", m.ledger.When(r.SteadyAt), r.State - 1, nil}, r.ID
	}
	standings, err := m.Standings(ctx, q, ids...)
	for _, s := range standings {
		into := &out[slices.Index(ids, s.Setup)]
		into.Checks = append(into.Checks, s)
	}
	return out, err
}

// Compare is what a check that compares two hands says, "" while it is not complete.
func (m *Measuring) Compare(ctx context.Context, q *query.Queries, id string) (measure.Verdict, string, error) {
	s, err := m.StandingOf(ctx, q, id)
	if err != nil || !s.Solved || s.Taken < s.Wanted {
		return measure.None, "", err
	}
	return s.Verdict, s.Answer, nil
}

// HandCheck is a check that compares a part with its twin.
type HandCheck struct{ ID, Name, Setup string }

// HandChecks lists the checks of an airframe that compare hands.
func HandChecks(ctx context.Context, q *query.Queries, airframe string) ([]HandCheck, error) {
	rows, err := q.ChecksOfKind(ctx, query.ChecksOfKindParams{AirframeID: airframe, Kind: "hand"})
	if err != nil {
		return nil, err
	}
	out := make([]HandCheck, len(rows))
	for i, r := range rows {
		out[i] = HandCheck{r.ID, r.Setup + ": " + r.Name, r.SetupID}
	}
	return out, nil
}
