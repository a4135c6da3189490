package riveting

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/row"
	"orpine/internal/gate"
	"orpine/internal/store/query"
)

// Standing is how far a row is, as it is kept beside the record: worked out when an
// entry changes the row, and anew where the arithmetic has changed since.
type Standing struct {
	ID, AssemblyID, Name, Bay string            `json:"-"`
	Revised                   int64             `json:"-"` // the entry that changed it last
	Hold                      string            `json:"-"` // id of the hold before its rivets
	Bucker                    bool              `json:"-"` // it wants a second pair of hands
	Holes                     int               // in all
	Of                        map[row.State]int // how many are shown in each state
	Spoilt                    int
	Ready                     hold.RowState  // without what people looked at
	Missed                    string         // "17, 43–76"
	Pinned                    string         // likewise
	ToSet                     map[string]int // fasteners still to be set
	Size                      string         // of its clecos
	Pins                      int            // how many it takes
}

// standing works out how far the row is.
func (r Row) standing() Standing {
	s := Standing{ID: r.ID, AssemblyID: r.AssemblyID, Name: r.Name, Bay: r.Bay, Holes: len(r.Holes), Of: map[row.State]int{}, ToSet: map[string]int{}, Size: r.Fastener.Size, Pins: len(r.Pins(r.Holes)), Missed: row.Runs(r.Missed())}
	var pinned []int
	unclean := 0
	for _, h := range r.Holes {
		s.Of[h.Shown()]++
		s.Spoilt += h.Spoilt
		if !h.Clean && slices.Contains([]row.State{row.Sized, row.Deburred, row.Oversize, row.Pinned}, h.State) {
			unclean++
		}
		if h.State == row.Pinned {
			pinned = append(pinned, h.Number)
		}
		if !h.Filled() && !h.Done() {
			for name, n := range row.Items(r.FastenerAt(h)) {
				s.ToSet[name] += n
			}
		}
	}
	s.Pinned = row.Runs(pinned)
	s.Ready = hold.RowState{Name: r.Name, Open: s.Of[row.Open], Kept: KeptSays(r.Holes), Untried: len(r.Untried(r.Holes)), Left: len(r.Missed()), Forms: slices.Contains(r.Steps(r.Holes), row.Form), Unclean: unclean}
	s.Ready.Lengths, s.Ready.Length = r.Lengths()
	return s
}

// Lengths is the worst verdict over what goes into each hole that is still to be set,
// and says of which and why.
func (r Row) Lengths() (worst measure.Verdict, says string) {
	worst = measure.Go
	var holes []int
	for _, h := range r.Holes {
		if h.Done() {
			continue
		}
		advice := r.fit(h)
		v := advice.Verdict()
		if v == measure.None && advice.Length == "" && r.Fastener.Rivet() {
			v = measure.Stop // no length fits
		}
		if v > worst {
			worst, holes, says = v, nil, ""
		}
		if v == worst && v > measure.Go {
			holes = append(holes, h.Number)
			if says == "" {
				says = advice.Says()
			}
		}
	}
	if says != "" {
		says = fmt.Sprintf("%s %s: %s", map[bool]string{true: "hole", false: "holes"}[len(holes) == 1], row.Runs(holes), says)
	}
	return worst, says
}

// KeptSays says which holes stay open, for what and until when.
func KeptSays(holes []row.Hole) []string {
	var out []string
	var keeps []row.Keep
	of := map[row.Keep][]int{}
	for _, h := range holes {
		if !h.Kept() {
			continue
		}
		if of[h.Keep] == nil {
			keeps = append(keeps, h.Keep)
		}
		of[h.Keep] = append(of[h.Keep], h.Number)
	}
	for _, k := range keeps {
		out = append(out, fmt.Sprintf("%s for %s (%s)", row.Runs(of[k]), k.Part, k.Step))
	}
	return out
}

// derive works a row out anew and keeps how far it is.
func derive(ctx context.Context, q *query.Queries, id string) error {
	kept, err := q.Row(ctx, id)
	if err != nil {
		return fmt.Errorf("working out a row: %w", err)
	}
	r, err := from(kept.RivetRow)
	if err != nil {
		return err
	}
	r.version = kept.Version
	if err := r.holes(ctx, q); err != nil {
		return err
	}
	says, err := json.Marshal(r.standing())
	if err != nil {
		return err
	}
	return q.SetRowStanding(ctx, query.SetRowStandingParams{RowID: id, Arithmetic: measure.Arithmetic, Revised: r.Revised, Says: string(says)})
}

// Standings are how far the rows of an airframe are, in the order in which they came.
func Standings(ctx context.Context, q *query.Queries, airframe string) ([]Standing, error) {
	rows, err := q.RowsOfAirframe(ctx, airframe)
	if err != nil {
		return nil, fmt.Errorf("reading how far the rows are: %w", err)
	}
	out := make([]Standing, len(rows))
	for i, r := range rows {
		if out[i], err = current(ctx, q, query.RowsOfBaysRow(r)); err != nil {
			return nil, err
		}
		var hands struct{ Bucker bool }
		if err := json.Unmarshal([]byte(r.Plan), &hands); err != nil {
			return nil, fmt.Errorf("reading the plan of row %s: %w", r.Name, err)
		}
		out[i].Revised = r.Revised
		out[i].Hold, out[i].Bucker = r.RivetHold, hands.Bucker
	}
	return out, nil
}

// current is the standing of a row, worked out anew where it is out of date: after a
// change of the arithmetic, for every entry works it out.
func current(ctx context.Context, q *query.Queries, r query.RowsOfBaysRow) (Standing, error) {
	s := Standing{ID: r.ID, AssemblyID: r.AssemblyID, Name: r.Name, Bay: r.BayID.String, Revised: r.Revised}
	if r.Says.Valid && r.Arithmetic.Int64 == measure.Arithmetic && r.WorkedOut.Int64 == r.Revised && json.Unmarshal([]byte(r.Says.String), &s) == nil {
		return s, nil
	}
	one, err := from(query.RivetRow{ID: r.ID, AssemblyID: r.AssemblyID, Name: r.Name, Plan: r.Plan, Line: r.Line, Final: r.Final, Barrier: r.Barrier, RivetHold: r.RivetHold, BayID: r.BayID, Entry: r.Entry, Planned: r.Planned, Revised: r.Revised})
	if err != nil {
		return s, err
	}
	if err := one.holes(ctx, q); err != nil {
		return s, err
	}
	return one.standing(), nil
}

// ready is how far rows are made ready for their rivets.
func (s *Riveting) ready(ctx context.Context, q *query.Queries, holds []gate.Hold, into *hold.Evidence) error {
	ids := gate.About(holds, hold.Marked, hold.Prepared)
	if len(ids) == 0 {
		return nil
	}
	rows, err := q.RowsByID(ctx, ids)
	if err != nil {
		return err
	}
	looks, err := gate.Looks(ctx, q, s.ledger, ids...)
	if err != nil {
		return err
	}
	for _, r := range rows {
		standing, err := current(ctx, q, query.RowsOfBaysRow{ID: r.ID, AssemblyID: r.AssemblyID, Name: r.Name, Plan: r.Plan, Line: r.Line, Final: r.Final, Barrier: r.Barrier, RivetHold: r.RivetHold, BayID: r.BayID, Entry: r.Entry, Planned: r.Planned, Revised: r.Revised, OptOut: r.OptOut, Withdrawn: r.Withdrawn, Arithmetic: r.Arithmetic, WorkedOut: r.WorkedOut, Says: r.Says})
		if err != nil {
			return err
		}
		ready := standing.Ready
		if r.Drilled != "" {
			ready.Drilled = s.ledger.When(r.Drilled)
		}
		ready.Marked, ready.Prepared = looks.Last(hold.Marked, r.ID, ""), looks.All(hold.Prepared, r.ID)
		into.Rows[r.ID] = ready
	}
	return nil
}

// inside is what is not done in the rows of bays, which holes stay open there, and what is
// not done in rows of their assemblies that nobody put into a bay.
func (s *Riveting) inside(ctx context.Context, q *query.Queries, holds []gate.Hold, into *hold.Evidence) error {
	ids := gate.About(holds, hold.Inside)
	err := gate.NearBays(ctx, q, ids, func(bay string, assemblies []string) error {
		rows, err := q.RowsNearBays(ctx, assemblies)
		if err != nil {
			return err
		}
		for _, r := range rows {
			standing, err := current(ctx, q, query.RowsOfBaysRow(r))
			if err != nil {
				return err
			}
			if b := into.Bay(bay); standing.Missed != "" {
				b.Near = append(b.Near, hold.Near{ID: "row:" + r.ID, What: r.Name + " (" + standing.Missed + " to be set)"})
			}
		}
		return nil
	})
	if err != nil {
		return err
	}
	rows, err := q.RowsOfBays(ctx, references(ids))
	if err != nil {
		return err
	}
	for _, r := range rows {
		standing, err := current(ctx, q, query.RowsOfBaysRow(r))
		if err != nil {
			return err
		}
		bay := into.Bay(r.BayID.String)
		if standing.Missed != "" {
			bay.Rows = append(bay.Rows, r.Name+": "+standing.Missed)
		}
		if kept := standing.Ready.Kept; len(kept) > 0 {
			bay.Kept = append(bay.Kept, hold.KeptInside{ID: r.ID, Row: r.Name, Kept: strings.Join(kept, "; ")})
		}
		if standing.Pinned != "" {
			bay.Pinned = strings.TrimPrefix(bay.Pinned+"; "+r.Name+": "+standing.Pinned, "; ")
		}
	}
	return nil
}

// beyond is what the steps of holds put out of reach: holes that can then no more be set, or
// formed.
func (s *Riveting) beyond(ctx context.Context, q *query.Queries, holds []gate.Hold, into *hold.Evidence) error {
	ids := make([]string, 0, len(holds))
	for _, h := range holds {
		if !h.Done {
			ids = append(ids, h.ID)
		}
	}
	if len(ids) == 0 || !into.Shuts {
		return nil
	}
	rows, err := q.RowsBeyond(ctx, ids)
	if err != nil {
		return fmt.Errorf("reading what a step puts out of reach: %w", err)
	}
	for _, found := range rows {
		r, err := One(ctx, q, found.RowID)
		if err != nil {
			return err
		}
		name := holds[slices.IndexFunc(holds, func(h gate.Hold) bool { return h.ID == found.HoldID })].Name
		for _, what := range row.Reaches {
			left := row.Unreached(r.Holes, func(reach row.Reach) bool { return reach.What == what && strings.EqualFold(reach.Step, name) })
			if len(left) > 0 {
				into.Beyond[found.HoldID] = append(into.Beyond[found.HoldID], fmt.Sprintf("%s %s of %s, %s, cannot be %s after it", map[bool]string{true: "hole", false: "holes"}[len(left) == 1], row.Runs(left), r.AssemblyName, r.Name, what))
			}
		}
	}
	return nil
}

// Unfinished says which holes keep the step of a hold from being recorded: those that the
// eye does not see on bare metal; "" for none.
func Unfinished(ctx context.Context, q *query.Queries, h gate.Hold) (string, error) {
	rows, err := q.RowsOfHold(ctx, h.ID)
	if err != nil {
		return "", fmt.Errorf("reading the rows of a hold: %w", err)
	}
	for _, kept := range rows {
		r, err := from(kept)
		if err != nil {
			return "", err
		}
		if err := r.holes(ctx, q); err != nil {
			return "", err
		}
		if left := r.LeftBefore(r.Holes, h.Step == "rivet" && kept.RivetHold == h.ID, h.Pins); len(left) > 0 {
			return fmt.Sprintf("%s is not done: %s", r.Name, holesSay(left)), nil
		}
	}
	return "", nil
}

func holesSay(numbers []int) string {
	if len(numbers) == 1 {
		return fmt.Sprintf("1 hole %d", numbers[0])
	}
	return fmt.Sprintf("%d holes %s", len(numbers), row.Runs(numbers))
}

// InBay are the rows that lie in a bay.
func InBay(ctx context.Context, q *query.Queries, bay string) ([]Standing, error) {
	rows, err := q.RowsOfBays(ctx, references([]string{bay}))
	if err != nil {
		return nil, fmt.Errorf("reading the rows of a bay: %w", err)
	}
	out := make([]Standing, len(rows))
	for i, r := range rows {
		if out[i], err = current(ctx, q, query.RowsOfBaysRow(r)); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// WorkedSince names the rows of a hold in which something was done after an entry, in words.
func WorkedSince(ctx context.Context, q *query.Queries, hold string, entry int64) (out []string, err error) {
	names, err := q.RowsWorkedSince(ctx, query.RowsWorkedSinceParams{Entry: entry, Hold: hold})
	for _, name := range names {
		out = append(out, "work in "+name)
	}
	return out, err
}
