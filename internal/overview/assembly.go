package overview

import (
	"context"
	"slices"
	"time"

	"orpine/internal/airframe"
	"orpine/internal/closing"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/row"
	"orpine/internal/core/say"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/instrument"
	"orpine/internal/logbook"
	"orpine/internal/photo"
	"orpine/internal/riveting"
	"orpine/internal/store/query"
	"orpine/internal/stores"
)

// Disposition is the answer of someone with authority, with the hold that it is about.
type Disposition struct {
	holding.Release
	Hold    string // name
	HoldID  string
	Letters []photo.Photo // what is attached to it
}

// AssemblySheet is one assembly with all that belongs to it.
type AssemblySheet struct {
	Assembly
	Airframe     airframe.Airframe
	Dispositions []Disposition
	Rows         []RowBrief
	Bays         []closing.Bay
	Lessons      []logbook.Lesson
	Instruments  []instrument.Instrument
}

// RowBrief is a row in a list.
type RowBrief struct {
	riveting.Standing
	At time.Time // when it changed last; the zero time where nobody asked
}

// rowNeeds are how a row may stand, the one that needs a hand the most first.
var rowNeeds = []string{"stop", "unsure", "notyet", "open", "done"}

// Mark is how it stands: one of rowNeeds.
func (r RowBrief) Mark() string {
	left := r.Holes - r.Of[row.Set] - r.Of[row.Accepted] - r.Of[row.Abandoned]
	switch {
	case left == 0:
		return "done"
	case r.Of[row.Bad]+r.Of[row.Drilled] > 0 || r.Ready.Lengths == measure.Stop:
		return "stop"
	case r.Of[row.Doubtful] > 0 || r.Ready.Lengths == measure.Unsure:
		return "unsure"
	case left == r.Of[row.Open]:
		return "open"
	}
	return "notyet"
}

// Word says it.
func (r RowBrief) Word() string {
	return map[string]string{"done": "Done", "stop": map[bool]string{true: "A bad rivet", false: "Stop"}[r.Of[row.Bad]+r.Of[row.Drilled] > 0], "unsure": "Look", "open": "Done but for what stays open", "notyet": "Not yet"}[r.Mark()]
}

func (r RowBrief) need() int { return slices.Index(rowNeeds, r.Mark()) }

// Says is how many holes are in each state: "38 set · 4 open".
func (r RowBrief) Says() string {
	var parts []string
	for _, s := range row.Telling {
		if n := r.Of[s]; n > 0 {
			parts = append(parts, say.Plural(n, string(s), string(s)))
		}
	}
	return say.Join(parts...)
}

// Assembly loads one assembly.
func (w *Workshop) Assembly(ctx context.Context, id string) (s AssemblySheet, err error) {
	err = w.view(ctx, func(q *query.Queries) error {
		s, err = w.assembly(ctx, q, id)
		return err
	})
	return s, err
}

func (w *Workshop) assembly(ctx context.Context, q *query.Queries, id string) (s AssemblySheet, err error) {
	if s.Airframe, s.Assembly.Assembly, err = airframe.Of(ctx, q, id); err != nil {
		return s, err
	}
	if s.Setups, err = w.Measuring.BriefsOfAssembly(ctx, q, s.Assembly.Assembly); err != nil {
		return s, err
	}
	kept, err := gate.All(q.HoldsOfAssembly(ctx, id))
	if err != nil {
		return s, err
	}
	if s.Holds, err = w.Holding.Judge(ctx, q, s.Airframe, map[string]string{id: s.Name}, kept); err != nil {
		return s, err
	}
	s.judge()
	if s.Dispositions, err = w.dispositions(ctx, q, id); err != nil {
		return s, err
	}
	if s.Rows, err = rowsOf(ctx, q, s.Airframe.ID, id); err != nil {
		return s, err
	}
	if s.Bays, err = w.Closing.OfAssembly(ctx, q, id); err != nil {
		return s, err
	}
	if s.Lessons, err = logbook.Lessons(ctx, q, s.Airframe.ID, s.Name, ""); err != nil {
		return s, err
	}
	s.Instruments, err = instrument.List(ctx, q, w.Ledger.When)
	return s, err
}

func rowsOf(ctx context.Context, q *query.Queries, frame, assembly string) ([]RowBrief, error) {
	standings, err := riveting.Standings(ctx, q, frame)
	var out []RowBrief
	for _, r := range standings {
		if assembly == "" || r.AssemblyID == assembly {
			out = append(out, RowBrief{Standing: r})
		}
	}
	return out, err
}

func (w *Workshop) dispositions(ctx context.Context, q *query.Queries, assembly string) ([]Disposition, error) {
	rows, err := q.DispositionsOfAssembly(ctx, assembly)
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	var out []Disposition
	var holds []string
	for _, r := range rows {
		out = append(out, Disposition{Hold: r.Hold, HoldID: r.HoldID, Release: holding.Release{ID: r.ID, By: r.ByName, At: w.Ledger.When(r.At), Standing: r.Standing, Reason: r.Reason, AnsweredBy: r.AnsweredBy, Answer: r.Answer, Answered: r.Answered, Document: r.Document, Withdrawn: r.Withdrawn}})
		holds = append(holds, r.HoldID)
	}
	letters, err := w.Photos.Of(ctx, q, holds...)
	for i := range out {
		out[i].Letters = letters[out[i].HoldID]
	}
	return out, err
}

// Record is what an inspector reads of one assembly: what was measured, decided and done,
// by whom, on what evidence.
type Record struct {
	AssemblySheet
	RowRecords []RowRecord
	BayRecords []BaySheet
	Parts      []Part
	Slips      []logbook.Slip
	Entries    int64  // of the journal
	Head       string // its last hash
	Page, More int    // of its setups: which one this is, from 1, and the next, 0 for none
}

// RowRecord is a row with what happened to its holes.
type RowRecord struct {
	riveting.Row
	Says      string // "38 set, 4 open"
	Oversize  []int
	Abandoned []int
	Replaced  []int // holes where a rivet was bad
	Kept      []string
	SetBy     []riveting.Setter
}

// recordPage is how many setups, and how many rows, a page of a record shows.
const recordPage = 20

// Record gathers a page of the record of an assembly, from 1.
func (w *Workshop) Record(ctx context.Context, assembly string, page int) (r Record, err error) {
	err = w.view(ctx, func(q *query.Queries) error {
		if r.AssemblySheet, err = w.assembly(ctx, q, assembly); err != nil {
			return err
		}
		r.Page = max(page, 1)
		for i := range r.Holds {
			if r.Holds[i], err = w.Holding.One(ctx, q, r.Holds[i].ID); err != nil {
				return err
			}
		}
		if r.RowRecords, err = w.rowRecords(ctx, q, assembly); err != nil {
			return err
		}
		longest := max(len(r.Setups), len(r.RowRecords), len(r.Holds))
		r.Setups, r.RowRecords, r.Holds = pageOf(r.Setups, r.Page), pageOf(r.RowRecords, r.Page), pageOf(r.Holds, r.Page)
		if r.Page*recordPage < longest {
			r.More = r.Page + 1
		}
		for _, b := range r.Bays {
			sheet, err := w.bay(ctx, q, b)
			if err != nil {
				return err
			}
			r.BayRecords = append(r.BayRecords, sheet)
		}
		if r.Parts, err = w.partsOf(ctx, q, r.Airframe.ID); err != nil {
			return err
		}
		r.Parts = slices.DeleteFunc(r.Parts, func(p Part) bool { return p.AssemblyID != assembly })
		if r.Slips, err = w.Logbook.OfAssembly(ctx, q, assembly); err != nil {
			return err
		}
		head, err := q.Head(ctx)
		r.Entries, r.Head = head.Seq, head.Hash
		return err
	})
	return r, err
}

// pageOf is a page of a list, from 1.
func pageOf[T any](list []T, page int) []T {
	from := min((page-1)*recordPage, len(list))
	return list[from:min(from+recordPage, len(list))]
}

// rowRecords are the rows of an assembly with what happened to their holes.
func (w *Workshop) rowRecords(ctx context.Context, q *query.Queries, assembly string) ([]RowRecord, error) {
	rows, err := riveting.OfAssembly(ctx, q, assembly)
	if err != nil {
		return nil, err
	}
	out := make([]RowRecord, len(rows))
	for i, r := range rows {
		out[i] = recordOf(r)
		if out[i].SetBy, err = riveting.Setters(ctx, q, r.ID, w.Ledger.When); err != nil {
			return nil, err
		}
	}
	return out, nil
}

func recordOf(r riveting.Row) RowRecord {
	out := RowRecord{Row: r, Kept: riveting.KeptSays(r.Holes), Says: r.CountsSay()}
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
	return out
}

// BaySheet is a bay with what its page needs beside it.
type BaySheet struct {
	closing.Bay
	State  hold.BayState
	Judged []hold.Line
	Photos []photo.Photo
	Rows   []riveting.Standing

	Assemblies []Named  // the others of its aircraft
	Names      []string // of those that it belongs to, too
	OtherBays  []Named  // of its aircraft
	Outer      string   // the name of the bay that it lies within
	Nested     []Named  // bays that lie within it
	Closers    []Named  // rows of its assembly that do not lie inside: they may close it
}

// Bay loads a bay.
func (w *Workshop) Bay(ctx context.Context, id string) (s BaySheet, err error) {
	err = w.view(ctx, func(q *query.Queries) error {
		b, err := w.Closing.One(ctx, q, id)
		if err != nil {
			return err
		}
		if s, err = w.bay(ctx, q, b); err != nil {
			return err
		}
		return s.where(ctx, q)
	})
	return s, err
}

func (w *Workshop) bay(ctx context.Context, q *query.Queries, b closing.Bay) (s BaySheet, err error) {
	s.Bay = b
	inside := []hold.Requirement{{Need: hold.Inside, Of: b.ID}}
	e, err := w.Gate.Gather(ctx, q, gate.Hold{Required: inside})
	if err != nil {
		return s, err
	}
	s.State, s.Judged = *e.Bay(b.ID), hold.Judge(inside, *e).Lines
	if s.Rows, err = riveting.InBay(ctx, q, b.ID); err != nil {
		return s, err
	}
	photos, err := w.Photos.Of(ctx, q, b.ID)
	if err != nil {
		return s, err
	}
	s.Photos = photos[b.ID]
	return s, nil
}

// where finds the names of where a bay lies.
func (s *BaySheet) where(ctx context.Context, q *query.Queries) error {
	assemblies, err := airframe.Assemblies(ctx, q, s.Airframe.ID)
	if err != nil {
		return err
	}
	rows, err := q.RowsOfAssembly(ctx, s.AssemblyID)
	if err != nil {
		return err
	}
	for _, r := range rows {
		if r.BayID.String != s.ID {
			s.Closers = append(s.Closers, Named{r.ID, r.Name})
		}
	}
	for _, a := range assemblies {
		if a.ID == s.AssemblyID {
			continue
		}
		s.Assemblies = append(s.Assemblies, Named{a.ID, a.Name})
		if slices.Contains(s.Also, a.ID) {
			s.Names = append(s.Names, a.Name)
		}
	}
	bays, err := q.BaysOfAirframe(ctx, s.Airframe.ID)
	if err != nil {
		return err
	}
	for _, b := range bays {
		if b.ID == s.ID {
			continue
		}
		s.OtherBays = append(s.OtherBays, Named{b.ID, b.Name})
		if b.ID == s.Within {
			s.Outer = b.Name
		}
	}
	nested, err := q.BaysWithin(ctx, []string{s.ID})
	for _, n := range nested {
		s.Nested = append(s.Nested, Named{n.ID, n.Name})
	}
	return err
}

// Joinable is what the form of a join begins from: the assembly, and the others of its
// airframe that a tape can be held to.
func (w *Workshop) Joinable(ctx context.Context, id string) (s AssemblySheet, others []airframe.Assembly, err error) {
	err = w.view(ctx, func(q *query.Queries) error {
		if s, err = w.assembly(ctx, q, id); err != nil {
			return err
		}
		others, err = airframe.Assemblies(ctx, q, s.Airframe.ID)
		return err
	})
	return s, others, err
}

// HandedParts are the parts of an airframe whose hand matters at an assembly.
func (w *Workshop) HandedParts(ctx context.Context, frame, assembly string) (out []stores.Part, err error) {
	err = w.view(ctx, func(q *query.Queries) error {
		list, err := stores.Parts(ctx, q, frame)
		for _, p := range list {
			if handed(p.Hand) && (p.AssemblyID == "" || p.AssemblyID == assembly) {
				out = append(out, p)
			}
		}
		return err
	})
	return out, err
}
