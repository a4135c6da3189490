package measuring

import (
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"slices"

	"orpine/internal/core/check"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/school"
	"orpine/internal/gate"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
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
		Setup: s.ID, Kind: c.Kind.Name, TrueBench: c.Held && c.Kind.Name == "twist" && c.Judged.Answer(school.Bench) == school.Trued, AfterOf: c.AfterOf}}
	if c.Result != nil {
		out.Solved, out.Verdict = true, c.Result.Verdict
		out.Near = out.Verdict == measure.Go && c.Judged.Answer(school.Limits) == school.Guarded && !c.Result.Inside(hold.Guard)
	}
	if len(c.Limits) == 0 && len(c.Kind.Limits) > 0 {
		out.Wants = check.SayLimited(c.Kind, c.Kind.Limits[0].Name)
	}
	out.Late = c.Late
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

func row(s Standing, revised int64, b basis) (query.SetStandingParams, error) {
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
		for _, id := range out[i].Tools {
			if in, ok := instrument.ByID(tools, id); ok {
				out[i].Instruments = append(out[i].Instruments, in.State())
			}
		}
	}
	return out, nil
}

// current is the standing of a row, worked out anew where it is out of date.
func (m *Measuring) current(ctx context.Context, q *query.Queries, r keptStanding, tools map[string]int64) (Standing, error) {
	var s Standing
	var b basis
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
	if r.Says.Valid && r.Arithmetic.Int64 != measure.Arithmetic && r.WorkedOut.Int64 == r.Revised && before.Verdict == measure.Go && s.Verdict == measure.Unsure {
		s.Was = "it said go until the program was brought up to date, which asks for more: " + setup.Checks[0].lacking()
	}
	kept, err := row(s, c.Revised, b)
	if err != nil {
		return s, err
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
	if kept, err := row(standing, c.Revised, rests); err == nil {
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

// evidence gives holds the standings of all checks in their setups.
func (m *Measuring) evidence(ctx context.Context, q *query.Queries, holds []gate.Hold, into *hold.Evidence) error {
	var setups []string
	for _, h := range holds {
		if h.SetupID != "" && !slices.Contains(setups, h.SetupID) {
			setups = append(setups, h.SetupID)
		}
	}
	standings, err := m.Standings(ctx, q, setups...)
	for _, s := range standings {
		into.Checks[s.ID] = s.CheckState
		if s.AfterOf != "" {
			into.Again[s.AfterOf] = s.CheckState
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
