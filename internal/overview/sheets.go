package overview

import (
	"context"
	"errors"
	"math"
	"slices"
	"strconv"
	"strings"

	"orpine/internal/airframe"
	"orpine/internal/closing"
	"orpine/internal/core/check"
	"orpine/internal/core/hold"
	"orpine/internal/core/quantity"
	"orpine/internal/core/row"
	"orpine/internal/core/stock"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/ledger"
	"orpine/internal/logbook"
	"orpine/internal/measuring"
	"orpine/internal/photo"
	"orpine/internal/riveting"
	"orpine/internal/store/query"
	"orpine/internal/stores"
)

// SetupSheet is a setup with one of its checks in hand.
type SetupSheet struct {
	measuring.Setup
	Check   measuring.Check // in hand, worked out
	Spot    check.Spot      // likewise, with all that was read there; its number is 0 for none
	Answer  check.Answer
	Holds   []holding.Hold // that it is measured for
	Lessons []logbook.Lesson
	Belongs []Named              // the assemblies that it may be kept to, where it belongs to none
	With    []measuring.LiesLike // setups before it that are one placing with it
	LiesAs  *measuring.LiesLike  // the one of which it is asked
}

// Setup loads a setup with a check in hand ("": the first that is not complete, or the
// last) and a spot of it (0: the first that is to be read).
func (w *Workshop) Setup(ctx context.Context, id, checkID string, number int) (s SetupSheet, err error) {
	ctx = ledger.Viewing(ctx)
	err = w.view(ctx, func(q *query.Queries) error {
		if s.Setup, err = w.Measuring.Load(ctx, q, id); err != nil {
			return err
		}
		if len(s.Checks) == 0 {
			return ledger.ErrNotFound
		}
		at := chosen(s.Setup, checkID)
		s.Solve(at)
		if earlier, ok := s.Before(s.Checks[at]); ok {
			s.Solve(slices.IndexFunc(s.Checks, func(c measuring.Check) bool { return c.ID == earlier.ID }))
		}
		if s.Holds, err = w.Holding.OfSetup(ctx, q, s.Setup); err != nil {
			return err
		}
		w.Measuring.Known(&s.Setup, at)
		s.Check = s.Checks[at]
		s.Check.Finer = s.Setup.Finer(s.Check)
		s.Check.Prospect = s.Setup.Prospect(s.Check)
		s.Answer = check.Answered(s.Check.Check, s.around(at))
		if spot, ok := s.Check.Spot(number); ok {
			if err := w.Measuring.History(ctx, q, s.Setup, &s.Check, spot.Key()); err != nil {
				return err
			}
			s.Spot = s.Check.Spots[spot.Number-1]
		}
		step := ""
		for _, h := range s.Holds {
			step = h.Step
		}
		if s.AssemblyID == "" {
			s.Belongs, err = belongs(ctx, q)
			return err
		}
		if s.With, s.LiesAs, err = w.Measuring.Lying(ctx, q, s.ID); err != nil {
			return err
		}
		s.Lessons, err = logbook.Lessons(ctx, q, s.Airframe.ID, s.AssemblyName, step)
		return err
	})
	return s, err
}

// AsIf is what a check would say with a reading that is typed and not kept: figures, and no verdict. ok is false where
// there is nothing to say.
func (w *Workshop) AsIf(s SetupSheet, number int, n measuring.NewReading) (c measuring.Check, a check.Answer, ok bool) {
	at := slices.IndexFunc(s.Checks, func(c measuring.Check) bool { return c.ID == n.Check })
	if at < 0 {
		return c, a, false
	}
	as, ok := s.Setup.AsIf(at, number, n, w.Ledger.Now())
	if !ok {
		return c, a, false
	}
	c = as.Checks[at]
	return c, check.Unkept(c.Check), true
}

// belongs lists the assemblies of all aircraft.
func belongs(ctx context.Context, q *query.Queries) (list []Named, err error) {
	frames, err := airframe.List(ctx, q)
	if err != nil {
		return nil, err
	}
	for _, f := range frames {
		of, err := airframe.Assemblies(ctx, q, f.ID)
		if err != nil {
			return nil, err
		}
		for _, a := range of {
			list = append(list, Named{a.ID, f.Name + ": " + a.Name})
		}
	}
	return list, nil
}

// chosen is the check asked for, or the first that is not complete, or the last.
func chosen(s measuring.Setup, id string) int {
	if i := slices.IndexFunc(s.Checks, func(c measuring.Check) bool { return c.ID == id }); i >= 0 {
		return i
	}
	if i := slices.IndexFunc(s.Checks, func(c measuring.Check) bool { return !c.Complete() }); i >= 0 {
		return i
	}
	return len(s.Checks) - 1
}

func (s SetupSheet) around(at int) check.Around {
	a := check.Around{Change: s.Changed(s.Checks[at])}
	for _, c := range s.Checks {
		a.Others = append(a.Others, c.Check)
	}
	for _, h := range s.Holds {
		a.Holds = append(a.Holds, h.Stand())
	}
	return a
}

// HoldSheet is a hold with what its page needs beside it.
type HoldSheet struct {
	holding.Hold
	Setup      measuring.Setup // that its checks are in, the last one worked out; the zero setup for none
	Repeatable []string        // names of checks that can be measured once more after the step
	Lessons    []logbook.Lesson
	Photos     []photo.Photo
	Closes     []closing.Bay
	Lying      []RowRecord // the rows of its assembly, where it has no setup
	Shape      airframe.Shape
	Ahead      Ahead
	Hands      map[string]Handed // parts whose hand is asked, by id
}

// Handed is a part whose hand is asked, with what may be its twin.
type Handed struct {
	Clue   string
	Photos []photo.Photo
	Twins  []Twin
}

// Twin is another part of the aircraft, those of the same name or the other hand first.
type Twin struct {
	ID, Name string
	Photos   []photo.Photo
}

// mostTwins is how many parts are offered as a twin.
const mostTwins = 30

// hands loads the parts whose hand a hold asks.
func (w *Workshop) hands(ctx context.Context, q *query.Queries, s *HoldSheet) error {
	asked := map[string]bool{}
	for _, r := range s.Required {
		if r.Need == hold.Handed && r.What == "" {
			asked[r.Of] = true
		}
	}
	if len(asked) == 0 {
		return nil
	}
	parts, err := stores.Parts(ctx, q, s.Airframe.ID)
	if err != nil {
		return err
	}
	photos, err := w.Photos.Of(ctx, q, of(parts, func(p stores.Part) string { return p.ID })...)
	if err != nil {
		return err
	}
	s.Hands = map[string]Handed{}
	for _, p := range parts {
		if !asked[p.ID] {
			continue
		}
		one := Handed{Clue: p.Clue, Photos: photos[p.ID]}
		for _, other := range parts {
			if other.ID != p.ID {
				one.Twins = append(one.Twins, Twin{other.ID, strings.TrimSpace(other.Number + " " + other.Name), photos[other.ID]})
			}
		}
		like := func(t Twin) int {
			switch {
			case strings.HasSuffix(t.Name, p.Name):
				return 0
			case len(t.Photos) > 0:
				return 1
			}
			return 2
		}
		slices.SortStableFunc(one.Twins, func(a, b Twin) int { return like(a) - like(b) })
		one.Twins = one.Twins[:min(len(one.Twins), mostTwins)]
		s.Hands[p.ID] = one
	}
	return nil
}

// Hold loads a hold.
func (w *Workshop) Hold(ctx context.Context, id string) (s HoldSheet, err error) {
	err = w.view(ctx, func(q *query.Queries) error {
		if s.Hold, err = w.Holding.One(ctx, q, id); err != nil {
			return err
		}
		if s.Lessons, err = logbook.Lessons(ctx, q, s.Airframe.ID, s.AssemblyName, s.Step); err != nil {
			return err
		}
		photos, err := w.Photos.Of(ctx, q, id)
		if err != nil {
			return err
		}
		s.Photos = photos[id]
		if s.Ahead, err = w.ahead(ctx, q, s.Airframe.ID, "hold:"+id); err != nil {
			return err
		}
		return errors.Join(w.measured(ctx, q, &s), w.closes(ctx, q, &s), w.hands(ctx, q, &s))
	})
	return s, err
}

// measured loads the setup of a hold, or the rows as they lie where it has none.
func (w *Workshop) measured(ctx context.Context, q *query.Queries, s *HoldSheet) (err error) {
	if s.SetupID == "" {
		if _, assembly, err := airframe.Of(ctx, q, s.AssemblyID); err == nil {
			s.Shape = assembly.Shape
		}
		rows, err := riveting.OfAssembly(ctx, q, s.AssemblyID)
		for _, r := range rows {
			s.Lying = append(s.Lying, RowRecord{Row: r})
		}
		return err
	}
	if s.Setup, err = w.Measuring.Load(ctx, q, s.SetupID); err != nil {
		return err
	}
	if n := len(s.Setup.Checks); n > 0 {
		s.Setup.Solve(n - 1)
	}
	if s.Done {
		for _, c := range s.Setup.Unrepeated(s.Hold.Hold) {
			s.Repeatable = append(s.Repeatable, c.Name)
		}
	}
	return nil
}

func (w *Workshop) closes(ctx context.Context, q *query.Queries, s *HoldSheet) error {
	if !hold.Step(s.Step).Closes() {
		return nil
	}
	bays, err := w.Closing.OfAssembly(ctx, q, s.AssemblyID)
	s.Closes = slices.DeleteFunc(bays, func(b closing.Bay) bool { return b.Hold.ID != s.ID })
	return err
}

// RowSheet is a row with what its page needs beside it.
type RowSheet struct {
	riveting.Row
	Undo    []riveting.Undoable // what can be undone, the last one first
	Yield   []stock.Yield
	Lessons []logbook.Lesson
	Steps   []string // later steps that have a hold
	Ahead   Ahead
	Waits   []Wait // what new ones of its parts would take, where a rivet is to be drilled out
}

// Row loads a row.
func (w *Workshop) Row(ctx context.Context, id string) (s RowSheet, err error) {
	err = w.view(ctx, func(q *query.Queries) error {
		if s.Row, err = riveting.One(ctx, q, id); err != nil {
			return err
		}
		if s.Undo, err = riveting.LastDone(ctx, q, id); err != nil {
			return err
		}
		if s.Yield, err = riveting.Yield(ctx, q, id); err != nil {
			return err
		}
		holds, err := gate.All(q.HoldsOfAssembly(ctx, s.AssemblyID))
		if err != nil {
			return err
		}
		for _, h := range holds {
			if h.ID != s.Rivets.ID {
				s.Steps = append(s.Steps, h.Name)
			}
		}
		if s.Ahead, err = w.ahead(ctx, q, s.Airframe.ID, "row:"+id); err != nil {
			return err
		}
		if slices.ContainsFunc(s.Holes, func(h row.Hole) bool { return h.State == row.Bad }) {
			s.Waits, err = w.waiting.of(w.Ledger, id, func() ([]Wait, error) { return waits(ctx, q, s.Airframe.ID, id) }, "stores", "planning", "amending")
			if err != nil {
				return err
			}
		}
		s.Lessons, err = logbook.Lessons(ctx, q, s.Airframe.ID, s.AssemblyName, "rivet")
		return err
	})
	return s, err
}

// RowsSheet is the rows of one assembly, as they lie and in the order of setting.
type RowsSheet struct {
	airframe.Assembly
	Airframe airframe.Airframe
	Rows     []RowRecord
	Legs     []row.Leg
	Lessons  []logbook.Lesson
}

// Rows loads the rows of an assembly.
func (w *Workshop) Rows(ctx context.Context, assembly string) (s RowsSheet, err error) {
	err = w.view(ctx, func(q *query.Queries) error {
		if s.Airframe, s.Assembly, err = airframe.Of(ctx, q, assembly); err != nil {
			return err
		}
		rows, err := riveting.OfAssembly(ctx, q, assembly)
		if err != nil {
			return err
		}
		var works []row.Work
		for _, r := range rows {
			s.Rows = append(s.Rows, recordOf(r))
			works = append(works, row.Work{ID: r.ID, Name: r.Name, Row: r.Row, Holes: r.Holes})
		}
		s.Legs = row.Order(works)
		s.Lessons, err = logbook.Lessons(ctx, q, s.Airframe.ID, s.Name, "rivet")
		return err
	})
	return s, err
}

// AssemblyRows are the rows of one assembly, briefly.
type AssemblyRows struct {
	ID, Name string
	Rows     []RowBrief
}

// RowList lists the rows of an airframe ("" for the first), by assembly, with how many
// holes are in each state.
func (w *Workshop) RowList(ctx context.Context, id string) (frame airframe.Airframe, others []airframe.Airframe, list []AssemblyRows, err error) {
	err = w.view(ctx, func(q *query.Queries) error {
		if frame, others, err = airframe.One(ctx, q, id); err != nil {
			return err
		}
		assemblies, err := airframe.Assemblies(ctx, q, frame.ID)
		if err != nil {
			return err
		}
		rows, err := rowsOf(ctx, q, frame.ID, "")
		if err != nil {
			return err
		}
		at, err := w.Ledger.TimesOf(ctx, q, of(rows, func(r RowBrief) int64 { return r.Revised }))
		if err != nil {
			return err
		}
		slices.SortStableFunc(rows, func(a, b RowBrief) int { return a.need() - b.need() })
		for _, a := range assemblies {
			group := AssemblyRows{ID: a.ID, Name: a.Name}
			for _, r := range rows {
				r.At = at[r.Revised]
				if r.AssemblyID == a.ID {
					group.Rows = append(group.Rows, r)
				}
			}
			list = append(list, group)
		}
		return nil
	})
	return frame, others, list, err
}

// RowOffers is what the form of a new row offers, with the rows as they lie.
type RowOffers struct {
	riveting.Offers
	Lying  []RowRecord
	Twins  []Named // the other assemblies of its aircraft, the one on the other side first
	Sheets []Sheet // that layers are picked from: of the stores, and of the rows that are there
}

// Sheet is a material with a thickness, in the unit of the airframe.
type Sheet struct{ Material, Thickness string }

// sheets are what layers are picked from.
func (s *RowOffers) sheets(ctx context.Context, q *query.Queries) error {
	add := func(material string, thickness quantity.Length) {
		text := thickness.Text(quantity.Millimetre)
		if s.Offers.Airframe.Unit == quantity.Inch {
			text = strconv.FormatFloat(math.Round(float64(thickness)/25.4*1e4)/1e4, 'f', -1, 64) + " in"
		}
		if sheet := (Sheet{material, text}); !slices.Contains(s.Sheets, sheet) {
			s.Sheets = append(s.Sheets, sheet)
		}
	}
	totals, err := q.StockTotals(ctx, s.Offers.Airframe.ID)
	for _, t := range totals {
		if material, thickness, ok := stock.Sheet(t.Name, row.Materials); ok && t.Sort == "sheet" && t.Number > 0 {
			add(material, thickness)
		}
	}
	for _, r := range s.Lying {
		for _, l := range r.Layers {
			add(l.Material, l.Thickness)
		}
	}
	return err
}

// OfferRow loads what a new row of an assembly may be tied to.
func (w *Workshop) OfferRow(ctx context.Context, assembly string) (s RowOffers, err error) {
	err = w.view(ctx, func(q *query.Queries) error {
		if s.Offers, err = riveting.Offer(ctx, q, assembly); err != nil {
			return err
		}
		rows, err := riveting.OfAssembly(ctx, q, assembly)
		for _, r := range rows {
			s.Lying = append(s.Lying, RowRecord{Row: r})
		}
		if err != nil {
			return err
		}
		if err := s.sheets(ctx, q); err != nil {
			return err
		}
		s.Twins, err = twins(ctx, q, s.Offers.Airframe.ID, s.Offers.Assembly)
		return err
	})
	return s, err
}

// Twins are the other assemblies of the aircraft of one, the one on the other side first.
func (w *Workshop) Twins(ctx context.Context, assembly string) (list []Named, err error) {
	err = w.view(ctx, func(q *query.Queries) error {
		frame, a, err := airframe.Of(ctx, q, assembly)
		if err != nil {
			return err
		}
		list, err = twins(ctx, q, frame.ID, a)
		return err
	})
	return list, err
}

func twins(ctx context.Context, q *query.Queries, frame string, of airframe.Assembly) (list []Named, err error) {
	others, err := airframe.Assemblies(ctx, q, frame)
	for _, a := range others {
		switch {
		case a.ID == of.ID:
		case a.Name == otherSide(of.Name):
			list = append([]Named{{a.ID, a.Name}}, list...)
		default:
			list = append(list, Named{a.ID, a.Name})
		}
	}
	return list, err
}

// otherSide is the name of the same assembly on the other side.
func otherSide(name string) string {
	for _, pair := range [][2]string{{"left", "right"}, {"right", "left"}} {
		if strings.Contains(name, pair[0]) {
			return strings.Replace(name, pair[0], pair[1], 1)
		}
	}
	return ""
}

// SlipList is a page of slips with their photos.
type SlipList struct {
	Slips           []Slip
	Number, Minutes int
	More            int64 // the entry before which older ones begin; 0 for none
}

// Slip is a slip with its photos.
type Slip struct {
	logbook.Slip
	Photos []photo.Photo
}

// slipPage is how many slips a page shows.
const slipPage = 50

// Slips lists slips before an entry (0: the latest).
func (w *Workshop) Slips(ctx context.Context, before int64) (s SlipList, err error) {
	err = w.view(ctx, func(q *query.Queries) error {
		if s.Number, s.Minutes, err = logbook.Totals(ctx, q); err != nil {
			return err
		}
		list, more, err := w.Logbook.List(ctx, q, before, slipPage)
		if err != nil {
			return err
		}
		var ids []string
		for _, one := range list {
			ids = append(ids, one.ID)
		}
		photos, err := w.Photos.Of(ctx, q, ids...)
		for _, one := range list {
			s.Slips = append(s.Slips, Slip{one, photos[one.ID]})
		}
		if more {
			s.More = list[len(list)-1].Entry
		}
		return err
	})
	return s, err
}
