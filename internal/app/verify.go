package app

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"

	"orpine/internal/core/journal"
	"orpine/internal/store"
	"orpine/internal/store/query"
)

// account is what the journal says of the rows that were stored with it.
type account struct {
	entries    int64
	kept       map[string]query.Journal    // entries that have a row of their own, by id
	superseded map[string]string           // readings taken back, by id: why
	stale      map[string]string           // readings that an event made stale, by id: the event
	holes      map[string]map[int]holeFact // by row and number, as the last entry has it
}

// Verify walks the whole journal and then compares the readings, releases, steps,
// looks, counts, photos and holes with what it says of them. It returns how many entries hold; the error is
// a *journal.Broken that names the first that does not.
func (a *App) Verify(ctx context.Context) (entries int64, err error) {
	said := &account{kept: map[string]query.Journal{}, superseded: map[string]string{}, stale: map[string]string{}, holes: map[string]map[int]holeFact{}}
	err = a.view(ctx, func(q *query.Queries) error {
		if err := said.walk(ctx, q); err != nil {
			return err
		}
		return said.compare(ctx, q)
	})
	return said.entries, err
}

// walk checks the chain, entry by entry, and takes down what each says.
func (s *account) walk(ctx context.Context, q *query.Queries) error {
	var chain journal.Chain
	for {
		rows, err := q.Entries(ctx, query.EntriesParams{After: s.entries, Most: 1000})
		if err != nil || len(rows) == 0 {
			return err
		}
		for _, row := range rows {
			e, err := store.Entry(row)
			if err != nil {
				return err
			}
			if err := chain.Check(e); err != nil {
				return err
			}
			s.entries++
			if err := s.take(row); err != nil {
				return err
			}
		}
	}
}

// take takes down what an entry says of rows.
func (s *account) take(row query.Journal) error {
	var c struct {
		Request struct {
			Reading string
			Reason  string
			Bay     string
			InPlace string `json:"in_place"`
		}
		Facts struct {
			Replaced, Stale []string
			Row             string
			After           []holeFact
		}
	}
	if err := json.Unmarshal([]byte(row.Content), &c); err != nil {
		return &journal.Broken{Seq: row.Seq, Why: "its content cannot be read"}
	}
	event := row.ID
	switch row.Kind {
	case journal.Reading, journal.Release, journal.Looked, journal.Photo:
		s.kept[row.ID] = row
	case journal.Counted:
		if c.Request.Bay != "" {
			s.kept[row.ID] = row
		}
	case journal.Done:
		s.kept[row.ID], event = row, stepEvent(row.ID)
	case journal.Superseded:
		s.superseded[c.Request.Reading] = c.Request.Reason
	}
	if len(c.Facts.After) > 0 && s.holes[c.Facts.Row] == nil {
		s.holes[c.Facts.Row] = map[int]holeFact{}
	}
	for _, h := range c.Facts.After {
		s.holes[c.Facts.Row][h.Number] = h
	}
	for _, id := range c.Facts.Replaced {
		s.superseded[id] = c.Request.InPlace
	}
	for _, id := range c.Facts.Stale {
		s.stale[id] = event
	}
	return nil
}

// compare finds rows that are not what their entry says, and entries whose row is
// gone or the other way round.
func (s *account) compare(ctx context.Context, q *query.Queries) error {
	readings, err := q.AllReadings(ctx)
	if err != nil {
		return err
	}
	for _, r := range readings {
		says := map[string]any{"text": r.Text, "value": r.Value, "condition": r.Condition}
		if err := s.row(r.ID, r.Entry, says); err != nil {
			return err
		}
	}
	releases, err := q.AllReleases(ctx)
	if err != nil {
		return err
	}
	for _, r := range releases {
		says := map[string]any{"by": r.ByName, "standing": r.Standing, "reason": r.Reason, "answered_by": r.AnsweredBy, "answer": r.Answer, "answered": r.Answered, "document": r.Document}
		if err := s.row(r.ID, r.Entry, says); err != nil {
			return err
		}
	}
	steps, err := q.AllSteps(ctx)
	if err != nil {
		return err
	}
	for _, step := range steps {
		if err := s.row(step.ID, step.Entry, map[string]any{"by": step.ByName, "note": step.Note}); err != nil {
			return err
		}
	}
	if err := s.looked(ctx, q); err != nil {
		return err
	}
	if err := s.pictured(ctx, q); err != nil {
		return err
	}
	if err := s.orphans(); err != nil {
		return err
	}
	if err := s.asHoles(ctx, q); err != nil {
		return err
	}
	for _, r := range readings {
		if r.Superseded != s.superseded[r.ID] || r.StaleEvent.String != s.stale[r.ID] {
			return &journal.Broken{Seq: r.Entry, Why: "whether its reading still counts is not what later entries say"}
		}
	}
	return nil
}

// row compares a row with the request or the facts of its entry.
func (s *account) row(id string, seq int64, says map[string]any) error {
	row, ok := s.kept[id]
	delete(s.kept, id)
	if !ok || row.Seq != seq {
		return &journal.Broken{Seq: seq, Why: "it is missing, though something was stored with it"}
	}
	var c struct{ Request, Facts map[string]any }
	if err := json.Unmarshal([]byte(row.Content), &c); err != nil {
		return &journal.Broken{Seq: seq, Why: "its content cannot be read"}
	}
	for field, value := range says {
		said, ok := c.Request[field]
		if !ok {
			said = c.Facts[field]
		}
		if said == nil {
			said = "" // left out when it is empty
		}
		if said != value {
			return &journal.Broken{Seq: seq, Why: fmt.Sprintf("what was stored with it (%s) is not what it says", field)}
		}
	}
	return nil
}

// orphans names the first entry whose row is gone.
func (s *account) orphans() error {
	first := s.entries + 1
	for _, row := range s.kept {
		first = min(first, row.Seq)
	}
	if first > s.entries {
		return nil
	}
	return &journal.Broken{Seq: first, Why: "what was stored with it is gone"}
}

// looked compares what people answered for, and what was counted.
func (s *account) looked(ctx context.Context, q *query.Queries) error {
	looks, err := q.AllLooks(ctx)
	if err != nil {
		return err
	}
	var before int64
	for _, l := range looks {
		if l.Entry == before { // one entry may answer for several things
			continue
		}
		before = l.Entry
		if err := s.row(l.ID, l.Entry, map[string]any{"by": l.ByName, "second": l.SecondName, "of": l.Of, "need": l.Need, "note": l.Note}); err != nil {
			return err
		}
	}
	counts, err := q.AllCounts(ctx)
	if err != nil {
		return err
	}
	for _, c := range counts {
		if err := s.row(c.ID, c.Entry, map[string]any{"by": c.ByName, "thing": c.Thing, "number": float64(c.Number)}); err != nil {
			return err
		}
	}
	return nil
}

// pictured compares every photo with the sum that its entry carries.
func (s *account) pictured(ctx context.Context, q *query.Queries) error {
	photos, err := q.AllPhotos(ctx)
	if err != nil {
		return err
	}
	for _, p := range photos {
		kept, err := q.Photo(ctx, p.ID) // one at a time: they are large
		if err != nil {
			return err
		}
		sum := sha256.Sum256(kept.Content)
		if err := s.row(p.ID, p.Entry, map[string]any{"of": p.Of, "caption": p.Caption, "sha256": hex.EncodeToString(sum[:])}); err != nil {
			return err
		}
	}
	return nil
}

// asHoles compares every hole with the last entry about it.
func (s *account) asHoles(ctx context.Context, q *query.Queries) error {
	holes, err := q.AllHoles(ctx)
	if err != nil {
		return err
	}
	for _, h := range holes {
		said, ok := s.holes[h.RowID][int(h.Number)]
		if !ok || said != factOf(holeOf(h)) {
			return &journal.Broken{Seq: s.entries, Why: fmt.Sprintf("hole %d of a row is not what the entries up to it say", h.Number)}
		}
		delete(s.holes[h.RowID], int(h.Number))
	}
	for _, left := range s.holes {
		if len(left) > 0 {
			return &journal.Broken{Seq: s.entries, Why: "a hole that was laid out is gone"}
		}
	}
	return nil
}
