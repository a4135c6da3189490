package app

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"orpine/internal/core/hold"
	"orpine/internal/core/journal"
	"orpine/internal/core/measure"
	"orpine/internal/core/part"
	"orpine/internal/core/row"
	"orpine/internal/core/stock"
	"orpine/internal/store/query"
)

// Stores is what an airframe's builder has: parts, fasteners, and the makers' notices.
type Stores struct {
	Airframe   Airframe
	Assemblies []Named // that a part may go into
	Rows       []Named
	Parts      []Part
	Stock      []StockLine
	Notices    []Notice
	ByCause    []stock.Yield
	ByCrew     []stock.Yield
	ByLength   []stock.Yield
	ByRow      []stock.Yield
	Clecos     []ClecoNeed
}

// Named is something to choose.
type Named struct{ ID, Name string }

// ClecoNeed is how many clecos of a size the pin patterns of all rows take at once.
type ClecoNeed struct {
	Size         string
	Wanted, Have int
}

// Part is one part, with where it lies.
type Part struct {
	ID                         string
	Number, Name, Hand         string
	Supplier, Lot, Process     string
	Condition, Place, Clue     string
	Assembly, Row              string // names; "" where it went into none
	AssemblyID, RowID, CheckID string
	Depth                      part.Depth
	Photos                     []Photo
}

// StockLine is one kind of fastener.
type StockLine struct {
	Sort, Name string
	stock.Stand
	Measured bool // it follows from the holes, too
}

// Notice is a maker's notice, with the parts that it names.
type Notice struct {
	ID, Title, Note string
	At              time.Time
	Names           part.Notice
	Affected        []Affected
}

// Affected is a part that a notice names.
type Affected struct {
	Part
	Certain bool // else its lot or process was never written down
}

// Stores loads the stores of an airframe ("" for the first).
func (a *App) Stores(ctx context.Context, id string) (s Stores, err error) {
	err = a.view(ctx, func(q *query.Queries) error {
		frames, err := airframes(ctx, q)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(frames, func(f Airframe) bool { return id == "" || f.ID == id })
		if i < 0 {
			return ErrNotFound
		}
		s.Airframe = frames[i]
		assemblies, err := q.Assemblies(ctx, s.Airframe.ID)
		if err != nil {
			return err
		}
		for _, kept := range assemblies {
			s.Assemblies = append(s.Assemblies, Named{kept.ID, kept.Name})
		}
		rows, err := q.RowsOfAirframe(ctx, s.Airframe.ID)
		if err != nil {
			return err
		}
		for _, kept := range rows {
			s.Rows = append(s.Rows, Named{kept.ID, kept.Name})
		}
		if err := a.fillParts(ctx, q, &s, assemblies, rows); err != nil {
			return err
		}
		if err := a.fillStock(ctx, q, &s, rows); err != nil {
			return err
		}
		return a.fillNotices(ctx, q, &s)
	})
	return s, err
}

func (a *App) fillParts(ctx context.Context, q *query.Queries, s *Stores, assemblies []query.Assembly, rows []query.RivetRow) error {
	parts, err := q.Parts(ctx, s.Airframe.ID)
	if err != nil {
		return err
	}
	counts, err := q.HoleCounts(ctx, s.Airframe.ID)
	if err != nil {
		return err
	}
	for _, kept := range parts {
		p := partOf(kept)
		var lies part.Lies
		for _, assembly := range assemblies {
			if assembly.ID != p.AssemblyID {
				continue
			}
			p.Assembly, lies.Assembly = assembly.Name, true
			lies.Permanent = assembly.BeforeUs != ""
			if err := a.lies(ctx, q, assembly.ID, p.RowID, rows, &lies); err != nil {
				return err
			}
		}
		for _, r := range s.Rows {
			if r.ID == p.RowID {
				p.Row = r.Name
			}
		}
		for _, c := range counts {
			if c.RowID != p.RowID {
				continue
			}
			lies.Pinned = lies.Pinned || row.State(c.State) == row.Pinned
			lies.Set = lies.Set || row.State(c.State) == row.Set
		}
		p.Depth = lies.Depth()
		if p.Photos, err = a.photos(ctx, q, p.ID); err != nil {
			return err
		}
		s.Parts = append(s.Parts, p)
	}
	return nil
}

// lies finds what was done to the assembly that a part went into.
func (a *App) lies(ctx context.Context, q *query.Queries, assembly, rowID string, rows []query.RivetRow, lies *part.Lies) error {
	bay := ""
	for _, r := range rows {
		if r.ID == rowID {
			bay = r.BayID.String
		}
	}
	holds, err := q.HoldsOfAssembly(ctx, assembly)
	if err != nil {
		return err
	}
	for _, h := range holds {
		state, err := rowHold(ctx, q, h)
		if err != nil {
			return err
		}
		if !state.Done {
			continue
		}
		switch step := hold.Step(h.Step); {
		case step.Closes():
			if bay == "" {
				lies.AfterClosed = true
				continue
			}
			b, err := q.Bay(ctx, bay)
			if err != nil {
				return err
			}
			lies.AfterClosed = lies.AfterClosed || b.ClosedBy == h.ID
		case step == "rivet" && rowID == "", step == "bond":
			lies.Permanent = true
		}
	}
	return nil
}

func partOf(p query.Part) Part {
	return Part{ID: p.ID, Number: p.Number, Name: p.Name, Hand: p.Hand, Supplier: p.Supplier, Lot: p.Lot, Process: p.Process, Condition: p.Condition, Place: p.Place, Clue: p.Clue,
		AssemblyID: p.AssemblyID.String, RowID: p.RowID.String, CheckID: p.CheckID.String}
}

// partState is how far the hand of a part is shown.
func (a *App) partState(ctx context.Context, q *query.Queries, id string) (hold.PartState, error) {
	p, err := q.Part(ctx, id)
	if err != nil {
		return hold.PartState{}, err
	}
	s := hold.PartState{Name: p.Name, Label: p.Hand, Clue: p.Clue}
	if s.Look, err = a.lastLook(ctx, q, hold.Handed, id, ""); err != nil || !p.CheckID.Valid {
		return s, err
	}
	check, err := q.Check(ctx, p.CheckID.String)
	if err != nil {
		return s, err
	}
	kept, err := q.Setup(ctx, check.SetupID)
	if err != nil {
		return s, err
	}
	setup, err := a.setup(ctx, q, kept)
	if err != nil {
		return s, err
	}
	s.Check = check.ID
	if c, ok := setup.Check(check.ID); ok && c.Result != nil && c.Complete() {
		s.Geometry, s.Answer = c.Result.Verdict, c.Answer()
	}
	if s.Geometry == measure.Unsure {
		s.Answer = "" // it cannot tell; two people can
	}
	return s, nil
}

// rivetTry is one line of what was set and spoilt.
type rivetTry = query.RivetsOfRowRow

// triesOf pairs what was set with what turned out bad.
func triesOf(rows []rivetTry) []stock.Try {
	var out []stock.Try
	type place struct {
		row    string
		number int64
	}
	at := map[place]int{} // the try that is in the hole
	for _, r := range rows {
		p := place{r.RowID, r.Number}
		length := r.Fastener
		if r.What == string(row.Spoil) {
			if i, ok := at[p]; ok {
				out[i].Cause = r.Cause
				delete(at, p)
				continue
			}
			out = append(out, stock.Try{Cause: r.Cause, Crew: r.Crew, Length: length, Row: r.RowID})
			continue
		}
		at[p] = len(out)
		out = append(out, stock.Try{Crew: r.Crew, Length: length, Row: r.RowID})
	}
	return out
}

func (a *App) fillStock(ctx context.Context, q *query.Queries, s *Stores, rows []query.RivetRow) error {
	rivets, err := q.RivetsOfAirframe(ctx, s.Airframe.ID)
	if err != nil {
		return err
	}
	tries := make([]rivetTry, len(rivets))
	for i, r := range rivets {
		tries[i] = rivetTry(r)
	}
	all := triesOf(tries)
	s.ByCause = stock.By(all, func(t stock.Try) string { return t.Cause })
	s.ByCrew = stock.By(all, func(t stock.Try) string { return t.Crew })
	s.ByLength = stock.By(all, func(t stock.Try) string { return t.Length })
	names := map[string]string{}
	for _, r := range s.Rows {
		names[r.ID] = r.Name
	}
	s.ByRow = stock.By(all, func(t stock.Try) string { return names[t.Row] })
	lines := map[string]*StockLine{}
	line := func(sort, name string) *StockLine {
		if lines[name] == nil {
			lines[name] = &StockLine{Sort: sort, Name: name}
		}
		return lines[name]
	}
	counts, err := q.StockCounts(ctx, s.Airframe.ID)
	if err != nil {
		return err
	}
	for _, c := range counts {
		line(c.Sort, c.Name).Counted += int(c.Number)
	}
	for _, t := range all {
		l := line("rivet", t.Length)
		l.Measured = true
		if t.Cause == "" {
			l.Set++
		} else {
			l.Spoilt++
		}
	}
	clecos := map[string]int{}
	for _, kept := range rows {
		r, err := a.loadRow(ctx, q, kept)
		if err != nil {
			return err
		}
		for _, h := range r.Holes {
			if !h.Done() {
				l := line("rivet", r.FastenerAt(h))
				l.Measured = true
				l.ToSet++
			}
		}
		clecos[r.Fastener.Size] += len(r.Pins(r.Holes))
	}
	for size, wanted := range clecos {
		need := ClecoNeed{Size: size, Wanted: wanted}
		if l := lines["cleco "+size]; l != nil {
			need.Have = l.Counted
		}
		s.Clecos = append(s.Clecos, need)
	}
	slices.SortFunc(s.Clecos, func(a, b ClecoNeed) int { return strings.Compare(a.Size, b.Size) })
	for _, l := range lines {
		s.Stock = append(s.Stock, *l)
	}
	slices.SortFunc(s.Stock, func(a, b StockLine) int { return strings.Compare(a.Sort+a.Name, b.Sort+b.Name) })
	return nil
}

func (a *App) fillNotices(ctx context.Context, q *query.Queries, s *Stores) error {
	rows, err := q.Notices(ctx, s.Airframe.ID)
	if err != nil {
		return err
	}
	for _, r := range rows {
		n := Notice{ID: r.ID, Title: r.Title, Note: r.Note, At: a.when(r.At)}
		for _, list := range []struct {
			text string
			into *[]string
		}{{r.Numbers, &n.Names.Numbers}, {r.Lots, &n.Names.Lots}, {r.Processes, &n.Names.Processes}} {
			if err := json.Unmarshal([]byte(list.text), list.into); err != nil {
				return fmt.Errorf("reading the notice %s: %w", r.Title, err)
			}
		}
		for _, p := range s.Parts {
			if affected, certain := n.Names.Affects(part.Part{Number: p.Number, Lot: p.Lot, Process: p.Process}); affected {
				n.Affected = append(n.Affected, Affected{p, certain})
			}
		}
		slices.SortStableFunc(n.Affected, func(a, b Affected) int { return int(b.Depth) - int(a.Depth) })
		s.Notices = append(s.Notices, n)
	}
	return nil
}

// StockSorts are what is counted.
var StockSorts = []string{"rivet", "cleco", "shim"}

// NewStock is fasteners counted in.
type NewStock struct {
	ID       string `json:"-"`
	Airframe string `json:"airframe"` // id
	Sort     string `json:"sort"`
	Name     string `json:"name"`
	Number   int    `json:"number"`
	Note     string `json:"note,omitempty"`
}

// CountStock counts fasteners in; a negative number takes a miscount back.
func (a *App) CountStock(ctx context.Context, n NewStock) error {
	defer a.alone()()
	wrong := Problems{}
	wrong.text("name", &n.Name, maxName, "which one: solid 1/8 × 6 mm?")
	wrong.text("note", &n.Note, maxNote, "")
	if !slices.Contains(StockSorts, n.Sort) {
		wrong.Add("sort", "rivet, cleco or shim?")
	}
	if n.Number == 0 || n.Number > 1_000_000 || n.Number < -1_000_000 {
		wrong.Add("number", "how many? A whole number")
	}
	if n.Number < 0 && n.Note == "" {
		wrong.Add("note", "why are there fewer?")
	}
	if err := wrong.err(); err != nil {
		return err
	}
	return a.record(ctx, deed{n.ID, journal.Counted, "", n, map[string]any{"name": "Stores", "says": fmt.Sprintf("%d × %s", n.Number, n.Name)}}, func(q *query.Queries, entry int64) error {
		if _, err := q.Airframe(ctx, n.Airframe); err != nil {
			return err
		}
		return q.AddStockCount(ctx, query.AddStockCountParams{ID: n.ID, AirframeID: n.Airframe, Sort: n.Sort, Name: n.Name, Number: int64(n.Number), Note: n.Note, At: a.time(), Entry: entry})
	})
}
