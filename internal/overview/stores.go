package overview

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"orpine/internal/airframe"
	"orpine/internal/core/hold"
	"orpine/internal/core/part"
	"orpine/internal/core/row"
	"orpine/internal/core/say"
	"orpine/internal/core/stock"
	"orpine/internal/gate"
	"orpine/internal/measuring"
	"orpine/internal/photo"
	"orpine/internal/planning"
	"orpine/internal/riveting"
	"orpine/internal/store/query"
	"orpine/internal/stores"
)

// StoresSheet is what an airframe's builder has: parts, fasteners, and the makers' notices.
type StoresSheet struct {
	Airframe   airframe.Airframe
	Assemblies []Named // that a part may go into
	Rows       []Named
	Bays       []Named
	Checks     []measuring.HandCheck
	Parts      []Part
	Stock      []StockLine
	Notices    []Notice
	Counts     []Named // of stock, the last one first
	ByCause    []stock.Yield
	ByCrew     []stock.Yield
	ByLength   []stock.Yield
	ByRow      []stock.Yield
	Clecos     []ClecoNeed
	Takes      map[string][]string // keys of the items that each row still takes, by its id
	Places     map[string]string   // where what was counted in lies, by its key
	Shortages  []Shortage          // by the day of need
}

// shownCounts is how many counts of stock are shown, to be put right.
const shownCounts = 20

// Named is something to choose.
type Named struct{ ID, Name string }

// ClecoNeed is how many clecos of a size the pin patterns of all rows take at once.
type ClecoNeed struct {
	Size         string
	Wanted, Have int
}

// Part is one part, with where it lies.
type Part struct {
	stores.Part
	Assembly, Row string   // names; "" where it went into none
	More          []string // names of the further rows and bays that it lies in
	Depth         part.Depth
	Drill         int      // rivets that hold it in its rows
	Reopen        []string // the steps that closed what it lies behind
	Hours         float64  // that were worked on its assembly, where it is riveted or deeper
	Photos        []photo.Photo
}

// Title names it: "S2-53-12, boom stringer, left".
func (p Part) Title() string { return say.List(p.Number, p.Name) }

// StockLine is one kind of fastener.
type StockLine struct {
	Sort, Name string
	stock.Stand
	Measured bool // it follows from the holes, too
	Lots     []StockLot
}

// StockLot is a lot of a line, with whether it is drawn from.
type StockLot struct {
	stock.Box
	InUse, OutOfDate bool
}

// Notice is a maker's notice, with the parts that it means or may mean.
type Notice struct {
	stores.Notice
	Affected []Affected
	Things   []Reached // stock, holes and pots that it means, or may mean
	Lotless  []string  // likewise, of which no lot was written down, where it names lots alone
	Cleared  []string  // parts that it does not mean, with what is written on each
}

// Reached is something beside single parts that a notice means, or may mean.
type Reached struct {
	stores.Thing
	Answer part.Answer
	Found  stores.Found // zero while nobody looked
	Drill  int          // rivets to drill, where it is affected
	Closed []string     // the steps that closed what it lies behind
}

// Open tells whether somebody has yet to look at it, or to answer for it.
func (r Reached) Open() bool { return r.Found.By == "" || r.Found.Answer == part.Affected }

// Affected is a part that a notice means, or may mean; after an inspection, what that found.
type Affected struct {
	Part
	Answer part.Answer
	Found  stores.Found // zero while nobody looked
}

// Store loads the stores of an airframe ("" for the first).
func (w *Workshop) Store(ctx context.Context, id string) (s StoresSheet, err error) {
	err = w.view(ctx, func(q *query.Queries) error {
		if s.Airframe, _, err = airframe.One(ctx, q, id); err != nil {
			return err
		}
		if s.Parts, err = w.partsOf(ctx, q, s.Airframe.ID); err != nil {
			return err
		}
		if s.Assemblies, err = assembliesOf(ctx, q, s.Airframe.ID); err != nil {
			return err
		}
		rows, err := riveting.Standings(ctx, q, s.Airframe.ID)
		if err != nil {
			return err
		}
		for _, r := range rows {
			s.Rows = append(s.Rows, Named{r.ID, r.Name})
		}
		bays, err := q.BaysOfAirframe(ctx, s.Airframe.ID)
		if err != nil {
			return err
		}
		for _, b := range bays {
			s.Bays = append(s.Bays, Named{b.ID, b.Name})
		}
		if s.Checks, err = measuring.HandChecks(ctx, q, s.Airframe.ID); err != nil {
			return err
		}
		if err := s.stock(ctx, q, rows, w.Ledger.Now().Format(time.DateOnly)); err != nil {
			return err
		}
		return w.notices(ctx, q, &s)
	})
	return s, err
}

// partsOf are the parts of an airframe with how deep each lies.
func (w *Workshop) partsOf(ctx context.Context, q *query.Queries, frame string) ([]Part, error) {
	list, err := stores.Parts(ctx, q, frame)
	if err != nil || len(list) == 0 {
		return nil, err
	}
	assemblies, err := airframe.Assemblies(ctx, q, frame)
	if err != nil {
		return nil, err
	}
	rows, err := riveting.Standings(ctx, q, frame)
	if err != nil {
		return nil, err
	}
	holds, err := gate.All(q.Holds(ctx, frame))
	if err != nil {
		return nil, err
	}
	bays, err := q.BaysOfAirframe(ctx, frame)
	if err != nil {
		return nil, err
	}
	var ids []string
	for _, p := range list {
		ids = append(ids, p.ID)
	}
	photos, err := w.Photos.Of(ctx, q, ids...)
	if err != nil {
		return nil, err
	}
	worked, err := planning.ByAssembly(ctx, q, frame, w.Ledger.When, w.Ledger.Now())
	if err != nil {
		return nil, err
	}
	out := make([]Part, len(list))
	for i, p := range list {
		out[i] = Part{Part: p, Photos: photos[p.ID]}
		var lies part.Lies
		for _, a := range assemblies {
			if a.ID == p.AssemblyID {
				out[i].Assembly, lies.Assembly, lies.Permanent = a.Name, true, a.Before != ""
			}
		}
		out[i].lie(&lies, rows, bays, holds)
		if out[i].Depth = lies.Depth(); out[i].Depth >= part.Riveted {
			out[i].Hours = math.Round(worked[p.AssemblyID]*10) / 10
		}
	}
	return out, nil
}

// lie finds what holds a part: the rows and bays that it lies in, and what was done to the
// assembly that it went into.
func (p *Part) lie(lies *part.Lies, rows []riveting.Standing, bays []query.Bay, holds []gate.Hold) {
	in := slices.Clone(p.Bays)
	for _, r := range rows {
		first := r.ID == p.RowID
		if !first && !slices.Contains(p.Rows, r.ID) {
			continue
		}
		if first {
			p.Row = r.Name
		} else {
			p.More = append(p.More, r.Name)
		}
		set := r.Of[row.Set] + r.Of[row.Doubtful] + r.Of[row.Accepted]
		lies.Assembly, lies.Pinned, lies.Set = true, lies.Pinned || r.Of[row.Pinned] > 0, lies.Set || set > 0
		p.Drill += set
		if r.Bay != "" {
			in = append(in, r.Bay)
		}
	}
	closes := map[string]string{} // the hold that closes a bay, by its id: the bay's
	for _, b := range bays {
		if slices.Contains(in, b.ID) {
			closes[b.ClosedBy] = b.ID
		}
		if slices.Contains(p.Bays, b.ID) {
			lies.Assembly, p.More = true, append(p.More, b.Name)
		}
	}
	for _, h := range holds {
		mine := h.AssemblyID == p.AssemblyID && p.AssemblyID != ""
		step := hold.Step(h.Step)
		switch {
		case !h.Done:
		case step.Closes() && (closes[h.ID] != "" || mine && len(in) == 0):
			lies.AfterClosed = true
			p.Reopen = append(p.Reopen, h.Name)
		case mine && (step == "rivet" && p.RowID == "" || step == "bond"):
			lies.Permanent = true
			p.Reopen = append(p.Reopen, h.Name)
		}
	}
}

func handed(hand string) bool { return part.Handed(hand) }

// stock sets what was counted beside what was set, spoilt and is still to be set.
func (s *StoresSheet) stock(ctx context.Context, q *query.Queries, rows []riveting.Standing, today string) error {
	all, err := riveting.Tries(ctx, q, s.Airframe.ID)
	if err != nil {
		return err
	}
	names := map[string]string{}
	for _, r := range rows {
		names[r.ID] = r.Name
	}
	s.ByCause = stock.By(all, func(t stock.Try) string { return t.Cause })
	s.ByCrew = stock.By(all, func(t stock.Try) string { return t.Crew })
	s.ByLength = stock.By(all, func(t stock.Try) string { return t.Length })
	s.ByRow = stock.By(all, func(t stock.Try) string { return names[t.Row] })
	lines := map[string]*StockLine{}
	line := func(sort, name string) *StockLine {
		key := stock.Key(name)
		if lines[key] == nil {
			lines[key] = &StockLine{Sort: sort, Name: name}
		}
		return lines[key]
	}
	counts, err := q.StockCounts(ctx, query.StockCountsParams{AirframeID: s.Airframe.ID, Limit: shownCounts})
	if err != nil {
		return err
	}
	s.Places = map[string]string{}
	for _, c := range counts {
		s.Counts = append(s.Counts, Named{c.ID, fmt.Sprintf("%d × %s", c.Number, c.Name)})
	}
	places, err := q.StockPlaces(ctx, s.Airframe.ID)
	if err != nil {
		return err
	}
	for _, p := range places { // the last one first
		if key := stock.Key(p.Name); s.Places[key] == "" {
			s.Places[key] = p.Place
		}
	}
	totals, err := q.StockTotals(ctx, s.Airframe.ID)
	if err != nil {
		return err
	}
	for _, c := range totals {
		line(c.Sort, c.Name).Counted += int(c.Number)
	}
	for _, t := range all {
		for name, n := range row.Items(t.Length) {
			l := line("rivet", name)
			l.Measured = true
			if t.Cause == "" {
				l.Set += n
			} else {
				l.Spoilt += n
			}
		}
	}
	clecos := map[string]int{}
	s.Takes = map[string][]string{}
	for _, r := range rows {
		for name, n := range r.ToSet {
			s.Takes[r.ID] = append(s.Takes[r.ID], stock.Key(name))
			l := line("rivet", name)
			l.Measured = true
			l.ToSet += n
		}
		clecos[r.Size] += r.Pins
	}
	for size, wanted := range clecos {
		need := ClecoNeed{Size: size, Wanted: wanted}
		if l := lines[stock.Key("cleco "+size)]; l != nil {
			need.Have = l.Counted
		}
		s.Clecos = append(s.Clecos, need)
	}
	slices.SortFunc(s.Clecos, func(a, b ClecoNeed) int { return strings.Compare(a.Size, b.Size) })
	boxes, err := stores.Boxes(ctx, q, s.Airframe.ID)
	if err != nil {
		return err
	}
	for _, l := range lines {
		drawn, _ := boxes.Drawn(l.Name, math.MaxInt64)
		lots := boxes.Lots(l.Name)
		written := slices.ContainsFunc(lots, func(b stock.Box) bool { return b.Lot != "" || b.Best != "" })
		for _, box := range lots {
			if written { // else there is nothing to choose from
				l.Lots = append(l.Lots, StockLot{box, box.Lot == drawn.Lot, box.OutOfDate(today)})
			}
		}
		s.Stock = append(s.Stock, *l)
	}
	slices.SortFunc(s.Stock, func(a, b StockLine) int { return strings.Compare(a.Sort+a.Name, b.Sort+b.Name) })
	return nil
}

func (w *Workshop) notices(ctx context.Context, q *query.Queries, s *StoresSheet) error {
	list, err := w.Stores.Notices(ctx, q, s.Airframe.ID)
	if err != nil || len(list) == 0 {
		return err
	}
	things, err := stores.Things(ctx, q, s.Airframe.ID)
	if err != nil {
		return err
	}
	for _, kept := range list {
		n := Notice{Notice: kept}
		for _, p := range s.Parts {
			answer := n.Names.Of(part.Part{Number: p.Number, Lot: p.Lot, Process: p.Process})
			if answer == part.NotAffected {
				n.Cleared = append(n.Cleared, say.Join(say.List(p.Number, p.Name), say.After("lot ", p.Lot), say.After("process ", p.Process)))
				continue
			}
			n.Affected = append(n.Affected, Affected{p, answer, n.Found[p.ID]})
		}
		slices.SortStableFunc(n.Affected, func(a, b Affected) int { return int(b.Depth) - int(a.Depth) })
		if err := n.reaches(ctx, q, things); err != nil {
			return err
		}
		s.Notices = append(s.Notices, n)
	}
	return nil
}

// drillHours are what a rivet takes to be drilled out and set anew: five minutes.
const drillHours = 5.0 / 60

// Tasks is the work that a notice makes: how many things there are, how many have yet to be looked at or answered for,
// and the hours that drilling takes of what is affected, or may be.
type Tasks struct {
	Of, Open int
	Hours    float64
}

// Takes says how long the drilling takes; "" for none.
func (t Tasks) Takes() string {
	switch minutes := math.Round(60 * t.Hours); {
	case minutes == 0:
		return ""
	case minutes < 90:
		return fmt.Sprintf("%.0f min", minutes)
	}
	return fmt.Sprintf("%.0f h", math.Ceil(t.Hours))
}

// Tasks counts them.
func (n Notice) Tasks() (t Tasks) {
	for _, a := range n.Affected {
		t.Of++
		if a.Found.By == "" || a.Found.Answer == part.Affected {
			t.Open++
			t.Hours += drillHours * float64(a.Drill)
		}
	}
	for _, r := range n.Things {
		t.Of++
		if r.Open() {
			t.Open++
			t.Hours += drillHours * float64(r.Drill)
		}
	}
	return t
}

// reaches finds what beside single parts a notice means.
func (n *Notice) reaches(ctx context.Context, q *query.Queries, things []stores.Thing) error {
	for _, t := range things {
		answer := t.Of(n.Names)
		switch {
		case answer == part.NotAffected:
			continue
		case t.Lot == "" && !t.Named(n.Names):
			n.Lotless = append(n.Lotless, t.Says())
			continue
		}
		one := Reached{Thing: t, Answer: answer, Drill: len(t.Numbers)}
		if f := n.Found[t.ID]; f.Entry > t.Last { // of what came to it since nobody has looked
			one.Found = f
		}
		if t.Assembly != "" {
			holds, err := gate.All(q.HoldsOfAssembly(ctx, t.Assembly))
			if err != nil {
				return err
			}
			for _, h := range holds {
				if h.Done && hold.Step(h.Step).Closes() {
					one.Closed = append(one.Closed, h.Name)
				}
			}
		}
		n.Things = append(n.Things, one)
	}
	return nil
}
