// Package riveting keeps rows of holes: how each is laid out, what was done to each
// hole, and what goes into it. What may be done to a hole in which state is in
// package core/row.
package riveting

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"orpine/internal/airframe"
	"orpine/internal/core/hold"
	"orpine/internal/core/row"
	"orpine/internal/core/say"
	"orpine/internal/core/stock"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Riveting is the rows of a workshop.
type Riveting struct{ ledger *ledger.Ledger }

// Capability is what the package brings to the ledger.
var Capability = ledger.Capability{
	Name:   "riveting",
	Tables: append(ledger.Records("rivet_rows", "drill_holds", "holes", "operations"), ledger.Deriveds("row_standings")...),
	Kinds:  ledger.Kinds(laid, planned, operated, undone, barrierChosen, holesAreFact),
}

// New returns the rows, and lets them provide their evidence.
func New(l *ledger.Ledger, g *gate.Gate) *Riveting {
	r := &Riveting{l}
	g.Register(gate.Provider{Needs: []hold.Need{hold.Marked, hold.Prepared}, Gather: r.ready})
	g.Register(gate.Provider{Needs: []hold.Need{hold.Inside}, Gather: r.inside})
	g.Register(gate.Provider{Gather: r.beyond})
	return r
}

// Row is a row of holes of an assembly.
type Row struct {
	ID, Name     string
	Airframe     airframe.Airframe
	AssemblyID   string
	AssemblyName string
	row.Row
	Line    airframe.Line
	Barrier string // what the builder chose where metals meet
	Holes   []row.Hole
	Rivets  gate.Hold   // stands before setting
	Drills  []gate.Hold // stand before drilling to size
	Bay     string      // id of the space that it lies in
	Closes  string      // id of the hold of the space that it closes
	Shut    string      // the name of a closed space that its assembly lies inside
	Planned int64       // the entry that changed its plan last
	Revised int64       // the entry that changed anything of it last

	revised map[int]int64 // of each hole
	version string        // hash of the entry that changed the row last
	fitted  map[string]row.Advice
}

// fit is what goes into a hole, worked out once for all that are alike.
func (r Row) fit(h row.Hole) row.Advice {
	key := r.Key(h)
	a, ok := r.fitted[key]
	if !ok {
		a = r.Fit(h)
		r.fitted[key] = a
	}
	return a
}

// Hole returns the hole of that number.
func (r Row) Hole(number int) (row.Hole, bool) {
	i := slices.IndexFunc(r.Holes, func(h row.Hole) bool { return h.Number == number })
	if i < 0 {
		return row.Hole{}, false
	}
	return r.Holes[i], true
}

// Count is how many holes are shown in a state.
func (r Row) Count(s row.State) int {
	n := 0
	for _, h := range r.Holes {
		if h.Shown() == s {
			n++
		}
	}
	return n
}

// CountsSay says how many holes are in each state: "38 set · 4 open".
func (r Row) CountsSay() string {
	var parts []string
	for _, s := range row.Telling {
		if n := r.Count(s); n > 0 {
			parts = append(parts, fmt.Sprintf("%d %s", n, s))
		}
	}
	return say.Join(parts...)
}

// Missed are the holes that are neither done nor kept open.
func (r Row) Missed() []int { return row.Missed(r.Holes) }

// LongRun is holes at which a longer fastener is called out than their layers ask for.
type LongRun struct {
	CallOut string
	Numbers []int
}

// Longer are the holes that are neither done nor kept open, and whose call-out is longer than
// their layers ask for.
func (r Row) Longer() []LongRun {
	var out []LongRun
	for _, h := range r.Holes {
		if h.Filled() || h.Done() || h.Kept() || h.Over {
			continue
		}
		a := r.fit(h)
		if !r.Row.Longer(a) {
			continue
		}
		i := slices.IndexFunc(out, func(l LongRun) bool { return l.CallOut == a.CallOut })
		if i < 0 {
			i, out = len(out), append(out, LongRun{CallOut: a.CallOut})
		}
		out[i].Numbers = append(out[i].Numbers, h.Number)
	}
	return out
}

// FastenerAt names what goes into a hole, as stock knows it: "solid 1/8 × 6 mm".
func (r Row) FastenerAt(h row.Hole) string { return r.Item(h, r.fit(h)) }

// leave is what stands in the way of operations at a hole; come tells whether the
// step has come that a kept hole waits for.
func (r Row) leave(h row.Hole, come bool) row.Leave {
	drills := make([]row.Stand, len(r.Drills))
	for i, d := range r.Drills {
		drills[i] = row.Stand{Name: d.Name, Ended: d.Ended, Open: d.Open(), Pins: d.Pins, Ream: d.Step == "ream"}
	}
	return r.LeaveAt(h, r.Holes, row.Stand{Name: r.Rivets.Name, Ended: r.Rivets.Ended, Open: r.Rivets.Open()}, drills, come)
}

// Row loads a row with its holes.
func (s *Riveting) Row(ctx context.Context, id string) (r Row, err error) {
	err = s.ledger.View(ctx, func(q *query.Queries) error {
		r, err = One(ctx, q, id)
		return err
	})
	return r, err
}

// One loads a row with its holes and holds.
func One(ctx context.Context, q *query.Queries, id string) (Row, error) {
	kept, err := q.Row(ctx, id)
	if err != nil {
		return Row{}, ledger.Found(err)
	}
	r, err := from(kept.RivetRow)
	if err != nil {
		return r, err
	}
	r.version, r.Closes, r.Shut = kept.Version, kept.Closes, kept.Shut
	frame, assembly, err := airframe.Of(ctx, q, r.AssemblyID)
	if err != nil {
		return r, err
	}
	r.Airframe, r.AssemblyName = frame, assembly.Name
	return r, r.fill(ctx, q)
}

// fill loads the holes and holds of a row.
func (r *Row) fill(ctx context.Context, q *query.Queries) error {
	if err := r.holes(ctx, q); err != nil {
		return err
	}
	holds, err := gate.All(q.HoldsOfRow(ctx, query.HoldsOfRowParams{Rivets: r.Rivets.ID, Row: r.ID}))
	if err == nil {
		holds, err = gate.AsThen(ctx, q, holds...)
	}
	if err != nil {
		return err
	}
	for _, h := range holds {
		if h.ID == r.Rivets.ID {
			r.Rivets = h
		} else {
			r.Drills = append(r.Drills, h)
		}
	}
	return nil
}

// lately are the holes of the versions of late, by row and version: a key, how far it
// leaves the row and the map after it ask for the same.
var lately = ledger.Lately[[2]string, []query.Hole]()

func (r *Row) holes(ctx context.Context, q *query.Queries) (err error) {
	key := [2]string{r.ID, r.version}
	holes, ok := lately.Get(key)
	if !ok {
		if holes, err = q.Holes(ctx, r.ID); err != nil {
			return fmt.Errorf("reading the holes of row %s: %w", r.Name, err)
		}
		if r.version != "" {
			lately.Add(key, holes)
		}
	}
	r.Holes, r.revised = make([]row.Hole, len(holes)), make(map[int]int64, len(holes))
	for i, h := range holes {
		r.Holes[i] = row.Hole{Number: int(h.Number), Along: h.Along, Across: h.Across, Pose: h.Pose, State: row.State(h.State), Clean: h.Clean == 1, Over: h.Over == 1,
			Spoilt: int(h.Spoilt), Tried: h.Tried, Keep: row.Keep{Part: h.KeepPart, Step: h.KeepStep, Hold: h.KeepHold}}
		r.revised[int(h.Number)] = h.Revised
		if h.Work != "" {
			var w work
			if err := json.Unmarshal([]byte(h.Work), &w); err != nil {
				return fmt.Errorf("reading hole %d of row %s: %w", h.Number, r.Name, err)
			}
			r.Holes[i].Formed, r.Holes[i].Primed, r.Holes[i].Fit, r.Holes[i].Reach = w.Formed, w.Primed, w.Fit, w.Reach
			r.Holes[i].Keep.Early, r.Holes[i].Waits = w.Early, w.Waits
		}
	}
	return nil
}

// from turns a row of the database into a row of holes that lacks them.
func from(kept query.RivetRow) (Row, error) {
	r := Row{ID: kept.ID, Name: kept.Name, AssemblyID: kept.AssemblyID, Barrier: kept.Barrier, Bay: kept.BayID.String, Rivets: gate.Hold{ID: kept.RivetHold},
		Planned: kept.Planned, Revised: kept.Revised, fitted: map[string]row.Advice{}}
	if err := errors.Join(json.Unmarshal([]byte(kept.Plan), &r.Row), json.Unmarshal([]byte(kept.Line), &r.Line)); err != nil {
		return r, fmt.Errorf("reading the plan of row %s: %w", kept.Name, err)
	}
	r.Final = kept.Final == 1
	return r, nil
}

// OfAssembly loads the rows of an assembly with their holes, without their holds.
func OfAssembly(ctx context.Context, q *query.Queries, assembly string) ([]Row, error) {
	rows, err := q.RowsOfAssembly(ctx, assembly)
	if err != nil {
		return nil, fmt.Errorf("reading the rows: %w", err)
	}
	out := make([]Row, len(rows))
	for i, kept := range rows {
		if out[i], err = from(kept); err != nil {
			return nil, err
		}
		if err := out[i].holes(ctx, q); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// Undoable is a submission that was done to some holes of a row.
type Undoable struct {
	ID      string // of the submission
	What    row.Operation
	Numbers []int
}

// Yield is what was set in a row and spoilt, by cause.
func Yield(ctx context.Context, q *query.Queries, rowID string) ([]stock.Yield, error) {
	rows, err := q.RivetsOfRow(ctx, rowID)
	if err != nil {
		return nil, fmt.Errorf("reading what was set: %w", err)
	}
	return stock.By(triesOf(rows), func(t stock.Try) string { return t.Cause }), nil
}

// Tries are all rivets of an airframe that were set or spoilt.
func Tries(ctx context.Context, q *query.Queries, airframe string) ([]stock.Try, error) {
	rows, err := q.RivetsOfAirframe(ctx, airframe)
	if err != nil {
		return nil, fmt.Errorf("reading what was set: %w", err)
	}
	tries := make([]query.RivetsOfRowRow, len(rows))
	for i, r := range rows {
		tries[i] = query.RivetsOfRowRow(r)
	}
	return triesOf(tries), nil
}

// triesOf pairs what was set with what turned out bad.
func triesOf(rows []query.RivetsOfRowRow) []stock.Try {
	var out []stock.Try
	type place struct {
		row    string
		number int64
	}
	at := map[place]int{} // the try that is in the hole
	never := map[int]bool{}
	for _, r := range rows {
		p := place{r.RowID, r.Number}
		if r.What == string(row.NotSet) { // it was keyed, and not done
			if i, ok := at[p]; ok {
				never[i] = true
				delete(at, p)
			}
			continue
		}
		if r.What == string(row.Spoil) {
			if i, ok := at[p]; ok {
				out[i].Cause = r.Cause
				delete(at, p)
				continue
			}
			out = append(out, stock.Try{Cause: r.Cause, Crew: r.Crew, Length: r.Fastener, Row: r.RowID})
			continue
		}
		at[p] = len(out)
		out = append(out, stock.Try{Crew: r.Crew, Length: r.Fastener, Row: r.RowID})
	}
	kept := out[:0]
	for i, try := range out {
		if !never[i] {
			kept = append(kept, try)
		}
	}
	return kept
}

// Setter is who set how many rivets of a row, with whom.
type Setter struct {
	By, Crew string // "" where nobody put a name to it
	Rivets   int
	Last     time.Time
}

// Setters are who set the rivets of a row; when reads kept times.
func Setters(ctx context.Context, q *query.Queries, rowID string, when func(kept string) time.Time) ([]Setter, error) {
	rows, err := q.SettersOfRow(ctx, rowID)
	if err != nil {
		return nil, fmt.Errorf("reading who set the rivets: %w", err)
	}
	out := make([]Setter, len(rows))
	for i, r := range rows {
		out[i] = Setter{r.ByName, r.Crew, int(r.Rivets), when(r.LastAt)}
	}
	return out, nil
}
