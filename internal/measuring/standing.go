package measuring

import (
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"slices"

	"orpine/internal/core/check"
	"orpine/internal/core/form"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/school"
	"orpine/internal/gate"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
	"orpine/internal/worksheet"
)

// Standing is what a check says, as it is kept beside the record: it is worked out when
// someone looks at it after an entry changed the check, or the arithmetic, an instrument
// or the airframe has changed since.
type Standing struct {
	ID string `json:"-"` // of the check
	hold.CheckState
	Solved bool     // the readings so far give an answer
	Next   string   `json:",omitempty"` // the reading to take next, in words
	Tools  []string // ids of the instruments of the readings that count
}

// basis is what a standing rests on besides its check: each with the entry that had
// changed it last.
type basis struct {
	Airframe int64            `json:"airframe"`
	Tools    map[string]int64 `json:"tools"`
}

// standing works out what a check of a setup says.
func (s *Setup) standing(i int) (Standing, basis) {
	if s.Checks[i].Result == nil {
		s.Solve(i)
	}
	c := s.Checks[i]
	out := Standing{ID: c.ID, CheckState: hold.CheckState{Name: c.Name, Wanted: c.Wanted, Taken: c.Taken, Stale: c.Check.Stale, Disturbed: c.Disturbed, Answer: c.Answer(), Refused: c.Refused(),
		Setup: s.ID, Placing: s.Title(), Revised: c.Revised, Kind: c.Kind.Name, TrueBench: c.Held && c.Judged.Answer(school.Bench) == school.Trued, AfterOf: c.AfterOf}}
	if c.Result != nil {
		out.Solved, out.Verdict = true, c.Result.Verdict
		out.Near = out.Verdict == measure.Go && c.Judged.Answer(school.Limits) == school.Guarded && !c.Result.Inside(hold.Guard)
	}
	if len(c.Limits) == 0 && len(c.Kind.Limits) > 0 {
		out.Wants = check.SayLimited(c.Kind, c.Kind.Limits[0].Name)
	}
	out.Late, out.UsualLimits = c.Late, c.UsualLimits
	if c.Result != nil {
		out.Usual = c.Result.Usually()
	}
	out.Instruments, out.Zeroed = s.proofs(c)
	if q, ok := c.Headline(); ok && q.Limit != nil {
		out.Value, out.U, out.Low, out.High = q.Value, q.U, q.Limit.Low, q.Limit.High
		out.OneSided = (q.Limit.Low == nil) != (q.Limit.High == nil)
	}
	if next, ok := c.Next(); ok {
		out.Next = next.Say()
	}
	b := basis{s.Airframe.Revised, map[string]int64{}}
	for _, tool := range c.Used {
		out.Tools = append(out.Tools, tool.ID)
		b.Tools[tool.ID] = s.tool(tool.Name).Revised
	}
	return out, b
}

// lacking is what a check that is not go lacks, in the words of its findings.
func (c Check) lacking() string {
	if c.Result == nil || len(c.Result.Findings) == 0 {
		return "the ± is wider than was thought"
	}
	return c.Result.Findings[0].Text
}

func asRow(s Standing, revised int64, b basis) (query.SetStandingParams, error) {
	rests, err := json.Marshal(b)
	if err != nil {
		return query.SetStandingParams{}, err
	}
	says, err := json.Marshal(s)
	return query.SetStandingParams{CheckID: s.ID, Arithmetic: measure.Arithmetic, Revised: revised, Basis: string(rests), Says: string(says)}, err
}

// keptStanding is a check's row with its standing.
type keptStanding struct {
	ID, SetupID           string
	Position              int64
	Name, Kind            string
	Revised               int64
	AfterOf               sql.NullString
	Arithmetic, WorkedOut sql.NullInt64
	Basis, Says           sql.NullString
	Frame                 sql.NullInt64 // the entry that changed the airframe last
}

// standings are those of rows; what is out of date is worked out, and kept at the next
// Settle.
func (m *Measuring) standings(ctx context.Context, q *query.Queries, rows []keptStanding) ([]Standing, error) {
	if len(rows) == 0 {
		return nil, nil
	}
	tools, err := instrument.List(ctx, q, m.ledger.When)
	if err != nil {
		return nil, err
	}
	revised := map[string]int64{}
	for _, in := range tools {
		revised[in.ID] = in.Revised
	}
	out := make([]Standing, len(rows))
	for i, r := range rows {
		if out[i], err = m.current(ctx, q, r, revised); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// current is the standing of a row, worked out anew where it is out of date.
func (m *Measuring) current(ctx context.Context, q *query.Queries, r keptStanding, tools map[string]int64) (Standing, error) {
	var s Standing
	var b basis
	writing := ledger.Following(ctx) // what is worked out goes with the entry, or not at all
	m.outdated.Lock()
	if kept, ok := m.anew[r.ID]; ok { // worked out already, and not kept yet
		r.Arithmetic.Int64, r.WorkedOut.Int64, r.Basis.String, r.Says = kept.Arithmetic, kept.Revised, kept.Basis, sql.NullString{String: kept.Says, Valid: true}
	}
	m.outdated.Unlock()
	if r.Says.Valid && r.Arithmetic.Int64 == measure.Arithmetic && r.WorkedOut.Int64 == r.Revised &&
		json.Unmarshal([]byte(r.Says.String), &s) == nil && json.Unmarshal([]byte(r.Basis.String), &b) == nil {
		if r.Frame.Int64 == b.Airframe && !slices.ContainsFunc(s.Tools, func(id string) bool { return b.Tools[id] != tools[id] }) {
			s.ID = r.ID
			return s, nil
		}
	}
	setup, c, err := loader{q, m.ledger.When}.one(ctx, r.ID)
	if err != nil {
		return s, err
	}
	var before Standing
	if r.Says.Valid {
		_ = json.Unmarshal([]byte(r.Says.String), &before) // what cannot be read any more said nothing
	}
	s, b = setup.standing(0)
	if err := m.cameBy(ctx, q, setup, &s); err != nil {
		return s, err
	}
	if r.Says.Valid && r.Arithmetic.Int64 != measure.Arithmetic && r.WorkedOut.Int64 == r.Revised && before.Verdict == measure.Go && s.Verdict == measure.Unsure {
		s.Was = "it said go until the program was brought up to date, which asks for more: " + setup.Checks[0].lacking()
	}
	kept, err := asRow(s, c.Revised, b)
	if err != nil {
		return s, err
	}
	if writing {
		return s, q.SetStanding(ctx, kept)
	}
	m.outdated.Lock()
	m.anew[r.ID] = kept
	m.outdated.Unlock()
	return s, nil
}

// Known keeps what a check says that was worked out for its sheet, so that nobody works it out once
// more: a check that was changed since the program began, whose standing is out of date.
func (m *Measuring) Known(s *Setup, i int) {
	c := s.Checks[i]
	if c.Result == nil || c.Revised <= m.ledger.Began() {
		return
	}
	m.outdated.Lock()
	defer m.outdated.Unlock()
	if kept, ok := m.anew[c.ID]; ok && kept.Revised == c.Revised {
		return
	}
	standing, rests := s.standing(i)
	if standing.Verdict == measure.Go {
		return // what it came by is looked for first
	}
	if kept, err := asRow(standing, c.Revised, rests); err == nil {
		m.anew[c.ID] = kept
	}
}

// Several is how many standings are worked out before they are worth a write.
const Several = 16

// Settle keeps what was worked out anew while reading, once there are so many.
func (m *Measuring) Settle(ctx context.Context, least int) error {
	m.outdated.Lock()
	anew := m.anew
	if len(anew) < max(least, 1) {
		m.outdated.Unlock()
		return nil
	}
	m.anew = map[string]query.SetStandingParams{}
	m.outdated.Unlock()
	return m.ledger.Derive(ctx, func(q *query.Queries) error {
		for _, s := range anew {
			if err := q.SetStanding(ctx, s); err != nil {
				return fmt.Errorf("keeping what a check says: %w", err)
			}
		}
		return nil
	})
}

// cameBy finds what a go came by: readings that said stop and were superseded, and limits that are
// wider than the first. With two such readings at one spot, or limits under which it would be none,
// it is no go by itself.
func (m *Measuring) cameBy(ctx context.Context, q *query.Queries, s Setup, out *Standing) error {
	c := s.Checks[0]
	if out.Verdict != measure.Go {
		return nil
	}
	rows, err := q.SupersededOf(ctx, c.ID)
	if err != nil {
		return fmt.Errorf("reading what was superseded: %w", err)
	}
	stops, at := 0, map[check.Key]int{}
	for _, r := range rows {
		key := check.Key{List: r.List, Point: r.Point, Field: r.Field}
		i := slices.IndexFunc(c.Spots, func(spot check.Spot) bool { return spot.Key() == key })
		in, known := instrument.ByID(s.Instruments, r.InstrumentID)
		if i < 0 || !known {
			continue
		}
		then := s
		then.Checks = slices.Clone(s.Checks)
		one := &then.Checks[0]
		one.Result, one.Spots = nil, slices.Clone(c.Spots)
		one.Spots[i].Readings = []check.Reading{{ID: r.ID, Text: r.Text, Value: r.Value, Instrument: in.Name, Turned: r.Turned == 1, Hung: r.Hung == 1, Aid: r.Aid, Moved: r.Moved == 1, Condition: r.Condition, At: m.ledger.When(r.At)}}
		one.Tally()
		then.Solve(0)
		if one.Result != nil && one.Result.Verdict == measure.Stop {
			stops++
			at[key]++
		}
	}
	if stops > 0 {
		out.CameBy = append(out.CameBy, "after "+plural(stops, "reading", "readings")+" superseded that said stop")
	}
	for _, n := range at {
		out.Doubtful = out.Doubtful || n > 1
	}
	if wide, under := s.underFirst(c); wide {
		out.CameBy = append(out.CameBy, "under a limit that was changed")
		out.Doubtful = out.Doubtful || under != measure.Go
	} else if c.LimitsLate {
		out.CameBy = append(out.CameBy, "under "+check.LimitsLate)
	}
	return nil
}

// underFirst tells whether the limits of a check are others than it had first, and what it would
// say under those.
func (s Setup) underFirst(c Check) (changed bool, verdict measure.Verdict) {
	if c.firstLimits == "" || c.firstLimits == limitsIn(c.defined) || c.filled == nil {
		return false, 0
	}
	var limits any
	if json.Unmarshal([]byte(c.firstLimits), &limits) != nil {
		return false, 0
	}
	first, _ := form.Clone(c.filled).(map[string]any)
	first["limits"] = limits
	doc, errs := worksheet.Read(document(s.unit(), c.Judged, s.used(c), first))
	if len(errs) > 0 {
		return true, measure.Unsure
	}
	return true, doc.Solve()[0].Result.Verdict
}

func plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

// compare tells whether something that is kept of checks is not what follows from the record now;
// what is out of date is nobody's claim.
func (m *Measuring) compare(ctx context.Context, q *query.Queries) (differs string, err error) {
	rows, err := q.AllStandings(ctx, measure.Arithmetic)
	if err != nil {
		return "", fmt.Errorf("reading what checks say: %w", err)
	}
	tools, err := instrument.List(ctx, q, m.ledger.When)
	if err != nil {
		return "", err
	}
	for _, r := range rows {
		var b basis
		if json.Unmarshal([]byte(r.Basis), &b) != nil {
			return "standings", nil
		}
		old := r.Frame.Int64 != b.Airframe
		for id, revised := range b.Tools {
			in, _ := instrument.ByID(tools, id)
			old = old || in.Revised != revised
		}
		if old {
			continue
		}
		setup, c, err := loader{q, m.ledger.When}.one(ctx, r.CheckID)
		if err != nil {
			return "", err
		}
		s, rests := setup.standing(0)
		if err := m.cameBy(ctx, q, setup, &s); err != nil {
			return "", err
		}
		var was Standing
		if json.Unmarshal([]byte(r.Says), &was) != nil {
			return "standings", nil
		}
		s.Was = was.Was // what another build said before is not reckoned anew
		now, err := asRow(s, c.Revised, rests)
		if err != nil {
			return "", err
		}
		if now.Says != r.Says || now.Basis != r.Basis {
			return "standings", nil
		}
	}
	return "", nil
}

// evidence gives holds the standings of all checks in the setups of their joints.
func (m *Measuring) evidence(ctx context.Context, q *query.Queries, holds []gate.Hold, into *hold.Evidence) error {
	var setups []string
	for _, h := range holds {
		for _, id := range into.Joints[h.ID] {
			if !slices.Contains(setups, id) {
				setups = append(setups, id)
			}
		}
	}
	standings, err := m.Standings(ctx, q, setups...)
	for _, s := range standings {
		into.Checks[s.ID] = s.CheckState
		if s.AfterOf != "" {
			into.Again[s.AfterOf] = s.CheckState
		}
	}
	for _, h := range holds {
		for _, s := range standings {
			if slices.Contains(into.Joints[h.ID], s.Setup) {
				into.Rests[h.ID] = append(append(into.Rests[h.ID], s.ID), s.Tools...)
			}
		}
	}
	return err
}

// Standings are those of all checks of some setups.
func (m *Measuring) Standings(ctx context.Context, q *query.Queries, setups ...string) ([]Standing, error) {
	if len(setups) == 0 {
		return nil, nil
	}
	kept, err := q.StandingsOfSetups(ctx, setups)
	if err != nil {
		return nil, fmt.Errorf("reading what checks say: %w", err)
	}
	rows := make([]keptStanding, len(kept))
	for i, k := range kept {
		rows[i] = keptStanding(k)
	}
	return m.standings(ctx, q, rows)
}

// StandingOf is what one check says.
func (m *Measuring) StandingOf(ctx context.Context, q *query.Queries, id string) (Standing, error) {
	c, err := q.Check(ctx, id)
	if err != nil {
		return Standing{}, ledger.Found(err)
	}
	list, err := m.Standings(ctx, q, c.Check.SetupID)
	i := slices.IndexFunc(list, func(s Standing) bool { return s.ID == id })
	if err != nil || i < 0 {
		return Standing{}, err
	}
	return list[i], nil
}
