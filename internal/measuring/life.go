package measuring

import (
	"context"
	"fmt"
	"slices"
	"time"

	"orpine/internal/core/check"
	"orpine/internal/core/measure"
	"orpine/internal/core/say"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Lived is what one check said of a part at one time of its life: between two events, by the readings that counted
// then, under the limits and instruments of today.
type Lived struct {
	SetupID, CheckID string
	Check            string       // its name
	Kind             measure.Kind // of the check
	Figure           measure.Quantity
	Verdict          measure.Verdict
	At               time.Time     // when it was read last
	Since            measure.Event // what had happened to it before; "" for nothing
	entry            int64
}

// Says names the figure in words.
func (l Lived) Says() say.Text { return check.SayHeadline(l.Kind, l.Figure) }

// mostLived is how many setups of a part are gone through.
const mostLived = 24

// Life is what the checks of an assembly's setups said through its life, oldest first. A time in which a check was not
// read to its end is left out.
func (m *Measuring) Life(ctx context.Context, assembly string) (out []Lived, err error) {
	err = m.ledger.View(ctx, func(q *query.Queries) error {
		rows, err := q.SetupsOfAssembly(ctx, gate.Reference(assembly))
		if err != nil {
			return fmt.Errorf("reading the setups: %w", err)
		}
		var ids []string
		for _, r := range rows[max(len(rows)-mostLived, 0):] {
			ids = append(ids, r.ID)
		}
		out, err = m.lived(ctx, q, ids)
		return err
	})
	slices.SortStableFunc(out, func(a, b Lived) int { return a.At.Compare(b.At) })
	return out, err
}

func (m *Measuring) lived(ctx context.Context, q *query.Queries, ids []string) (out []Lived, err error) {
	readings, err := q.LifeOfSetups(ctx, ids)
	if err != nil {
		return nil, fmt.Errorf("reading what was read: %w", err)
	}
	events, err := q.EventsOfSetups(ctx, ids)
	if err != nil {
		return nil, fmt.Errorf("reading the events: %w", err)
	}
	of := map[string][]query.LifeOfSetupsRow{}
	for _, r := range readings {
		of[r.Reading.CheckID] = append(of[r.Reading.CheckID], r)
	}
	l := loader{q, m.ledger.When}
	for _, id := range ids {
		row, err := q.Setup(ctx, id)
		if err != nil {
			return nil, ledger.Found(err)
		}
		s, err := l.setup(ctx, placed(row))
		if err != nil {
			return nil, err
		}
		checks, err := q.Checks(ctx, id)
		if err != nil {
			return nil, err
		}
		for i, c := range checks {
			for _, state := range states(of[c.Check.ID]) {
				one, ok, err := l.then(s, i, c.Check, of[c.Check.ID], state)
				if err != nil {
					return nil, err
				}
				if !ok {
					continue
				}
				for _, e := range events {
					if e.SetupID == id && e.Entry < one.entry {
						one.Since = measure.Event(e.What)
					}
				}
				out = append(out, one)
			}
		}
	}
	return out, nil
}

// states are those in which something was read, in order.
func states(rows []query.LifeOfSetupsRow) (out []int64) {
	for _, r := range rows {
		if !slices.Contains(out, r.Reading.State) {
			out = append(out, r.Reading.State)
		}
	}
	slices.Sort(out)
	return out
}

// then is what a check said at the end of a state: by what was read up to then and had not gone stale.
func (l loader) then(s Setup, i int, c query.Check, rows []query.LifeOfSetupsRow, state int64) (out Lived, ok bool, err error) {
	last := query.Reading{}
	for _, r := range rows {
		if r.Reading.State == state {
			last = r.Reading
		}
	}
	var kept readings
	for _, r := range rows {
		if r.Reading.Entry <= last.Entry && (r.Gone == 0 || r.Gone > last.Entry) {
			kept.counting = append(kept.counting, r.Reading)
		}
	}
	s.Checks = slices.Clone(s.Checks)
	if s.Checks[i], err = l.check(s, c, kept); err != nil {
		return out, false, err
	}
	if !s.Checks[i].Complete() {
		return out, false, nil
	}
	s.Solve(i)
	figure, ok := s.Checks[i].Headline()
	if !ok {
		return out, false, nil
	}
	return Lived{SetupID: s.ID, CheckID: c.ID, Check: c.Name, Kind: s.Checks[i].Kind, Figure: figure, Verdict: s.Checks[i].Result.Verdict, At: l.when(last.At), entry: last.Entry}, true, nil
}
