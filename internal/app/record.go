package app

import (
	"context"
	"slices"
	"time"

	"orpine/internal/core/row"
	"orpine/internal/store/query"
)

// Record is what an inspector reads of one assembly: what was measured, decided and done,
// by whom, on what evidence.
type Record struct {
	Airframe Airframe
	Assembly Assembly
	Open     []Release // releases outside the limits, with their answers: they are shown for ever
	OpenOf   []string  // the hold of each
	Letters  [][]Photo // what is attached to each
	Rows     []RowRecord
	Bays     []Bay
	Parts    []Part
	Slips    []Slip
	Entries  int64  // of the journal
	Head     string // its last hash
}

// RowRecord is a row with what happened to its holes.
type RowRecord struct {
	Row
	Says      string // "38 set, 4 open"
	Oversize  []int
	Abandoned []int
	Replaced  []int // holes where a rivet was bad
	Kept      []string
	Missed    []int
	SetBy     []Setter
}

// Setter is who set how many rivets of a row, with whom.
type Setter struct {
	By, Crew string // "" where nobody put a name to it
	Rivets   int
	Last     time.Time
}

// Record gathers the record of an assembly.
func (a *App) Record(ctx context.Context, assembly string) (r Record, err error) {
	if r.Airframe, r.Assembly, err = a.Assembly(ctx, assembly); err != nil {
		return r, err
	}
	for _, h := range r.Assembly.Holds {
		for _, d := range h.Dispositions() {
			letters, err := a.PhotosOf(ctx, h.ID)
			if err != nil {
				return r, err
			}
			r.Open, r.OpenOf, r.Letters = append(r.Open, d), append(r.OpenOf, h.Name), append(r.Letters, letters)
		}
	}
	if r.Rows, err = a.RowRecords(ctx, assembly); err != nil {
		return r, err
	}
	if r.Bays, err = a.BaysOf(ctx, assembly); err != nil {
		return r, err
	}
	stores, err := a.Stores(ctx, r.Airframe.ID)
	if err != nil {
		return r, err
	}
	for _, p := range stores.Parts {
		if p.AssemblyID == assembly {
			r.Parts = append(r.Parts, p)
		}
	}
	slips, err := a.Slips(ctx, r.Airframe.ID)
	if err != nil {
		return r, err
	}
	for _, s := range slices.Backward(slips) {
		if s.AssemblyID == assembly {
			r.Slips = append(r.Slips, s)
		}
	}
	err = a.view(ctx, func(q *query.Queries) error {
		last, err := q.LastEntry(ctx)
		if err != nil {
			return err
		}
		r.Entries, r.Head = last.Seq, last.Hash
		for i := range r.Bays {
			if r.Bays[i].Photos, err = a.photos(ctx, q, r.Bays[i].ID); err != nil {
				return err
			}
		}
		return nil
	})
	return r, err
}

// PhotosOf lists the photos that are kept with something.
func (a *App) PhotosOf(ctx context.Context, of string) (list []Photo, err error) {
	err = a.view(ctx, func(q *query.Queries) error {
		list, err = a.photos(ctx, q, of)
		return err
	})
	return list, err
}

// RowRecords are the rows of an assembly with what happened to their holes.
func (a *App) RowRecords(ctx context.Context, assembly string) (list []RowRecord, err error) {
	err = a.view(ctx, func(q *query.Queries) error {
		rows, err := q.RowsOfAssembly(ctx, assembly)
		if err != nil {
			return err
		}
		for _, kept := range rows {
			r, err := a.loadRow(ctx, q, kept)
			if err != nil {
				return err
			}
			record := recordOf(r)
			setters, err := q.SettersOfRow(ctx, r.ID)
			if err != nil {
				return err
			}
			for _, s := range setters {
				record.SetBy = append(record.SetBy, Setter{s.ByName, s.Crew, int(s.Rivets), a.when(s.LastAt)})
			}
			list = append(list, record)
		}
		return nil
	})
	return list, err
}

func recordOf(r Row) RowRecord {
	out := RowRecord{Row: r, Kept: keptSays(r.Holes), Missed: r.Missed()}
	for _, h := range r.Holes {
		if h.Over {
			out.Oversize = append(out.Oversize, h.Number)
		}
		if h.State == row.Abandoned {
			out.Abandoned = append(out.Abandoned, h.Number)
		}
		if h.Spoilt > 0 {
			out.Replaced = append(out.Replaced, h.Number)
		}
	}
	out.Says = r.CountsSay()
	return out
}

// CountsSay says how many holes are in each state: "38 set · 4 open".
func (r Row) CountsSay() string {
	var parts []string
	for _, s := range []row.State{row.Set, row.Open, row.Bad, row.Oversize, row.Pinned, row.Cleaned, row.Sized, row.Pilot, row.Abandoned} {
		if n := r.Count(s); n > 0 {
			parts = append(parts, plural(n, string(s), string(s)))
		}
	}
	return join(parts...)
}

// Works are the rows of an assembly as they wait for their rivets.
func Works(list []RowRecord) []row.Work {
	var out []row.Work
	for _, r := range list {
		out = append(out, row.Work{ID: r.ID, Name: r.Name, Row: r.Row.Row, Holes: r.Holes})
	}
	return out
}

// RowsOf lists the rows of an airframe ("" for the first), by assembly, with how many
// holes are in each state.
func (a *App) RowsOf(ctx context.Context, airframe string) (frame Airframe, list []AssemblyRows, err error) {
	err = a.view(ctx, func(q *query.Queries) error {
		frames, err := airframes(ctx, q)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(frames, func(f Airframe) bool { return airframe == "" || f.ID == airframe })
		if i < 0 {
			return ErrNotFound
		}
		frame = frames[i]
		assemblies, err := q.Assemblies(ctx, frame.ID)
		if err != nil {
			return err
		}
		rows, err := q.RowsOfAirframe(ctx, frame.ID)
		if err != nil {
			return err
		}
		counts, err := q.HoleCounts(ctx, frame.ID)
		if err != nil {
			return err
		}
		of := map[string]*RowBrief{}
		for _, c := range counts {
			b := of[c.RowID]
			if b == nil {
				b = &RowBrief{Of: map[row.State]int{}}
				of[c.RowID] = b
			}
			state := row.State(c.State)
			if c.Kept == 1 {
				state = row.Open
			}
			b.Of[state] += int(c.Number)
			b.Holes += int(c.Number)
			b.Spoilt += int(c.Spoilt)
		}
		for _, assembly := range assemblies {
			group := AssemblyRows{ID: assembly.ID, Name: assembly.Name}
			for _, r := range rows {
				if b := of[r.ID]; r.AssemblyID == assembly.ID && b != nil {
					b.ID, b.Name = r.ID, r.Name
					group.Rows = append(group.Rows, *b)
				}
			}
			list = append(list, group)
		}
		return nil
	})
	return frame, list, err
}

// AssemblyRows are the rows of one assembly.
type AssemblyRows struct {
	ID, Name string
	Rows     []RowBrief
}
