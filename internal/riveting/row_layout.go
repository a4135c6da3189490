package riveting

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"

	"orpine/internal/airframe"
	"orpine/internal/core/hold"
	"orpine/internal/core/row"
	"orpine/internal/core/say"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// NewRow is a row to be laid out, everything as typed. Lists are lines of columns parted
// by semicolons.
type NewRow struct {
	ledger.Form
	Assembly string            `json:"assembly"` // id
	Name     string            `json:"name"`
	Values   map[string]string `json:"values" text:"lines"` // by the key of RowFields
	Rivets   string            `json:"rivets"`              // id of the hold before setting; "" makes one
	Drills   []string          `json:"drills,omitempty"`    // ids of the holds before drilling; nil: all that are unsettled there
	OptOut   string            `json:"opt_out,omitempty"`   // why it is not tied to all of them
	Bay      string            `json:"bay,omitempty"`       // id of the space that it lies in
	Repeat   Repeat            `json:"repeat,omitzero"`
	Marked   string            `json:"marked,omitempty"` // who looked through the plans: all holes that stay open are marked
	Mirror   string            `json:"mirror,omitempty"` // id of the assembly on the other side that has the same
	// List is a call-out list as plans print it, for all of them at once: see row.ReadList. Then Name names the hold
	// that is made for them, and Values are not read.
	List string `json:"list,omitempty" text:"lines"`
}

// Repeat lays the same row again, each further by so much in the view that it is seen in.
type Repeat struct {
	Times int        `json:"times"` // in all; 0 or 1 for once
	Step  [2]float64 `json:"step"`  // mm
}

// layout is a row as it was understood.
type layout struct {
	ID        string          `json:"id"`
	Title     string          `json:"title"`
	Plan      json.RawMessage `json:"plan"`
	Line      json.RawMessage `json:"line"`
	Final     int64           `json:"final"`
	Rivets    string          `json:"rivets"`          // id of the hold before setting
	Hold      *gate.Made      `json:"hold,omitempty"`  // that hold, where it was made
	Asked     *gate.Asked     `json:"asked,omitempty"` // else what it asks for from now on
	Drills    []string        `json:"drills"`          // ids of the holds before drilling
	Holes     []laidHole      `json:"holes"`
	Withdrawn gate.Withdrawn  `json:"withdrawn"`
	More      []more          `json:"more,omitempty"` // rows laid with it, at once
	Name      string          `json:"name,omitempty"` // of the first row of a list
}

// more is a row that is laid with another, and differs by its name and where it lies; one of a list in its plan and
// holes, too.
type more struct {
	ID       string          `json:"id"`
	Assembly string          `json:"assembly"`
	Name     string          `json:"name"`
	Line     json.RawMessage `json:"line"`
	Rivets   string          `json:"rivets"`
	Hold     *gate.Made      `json:"hold,omitempty"`
	Drills   []string        `json:"drills"`
	Flip     bool            `json:"flip,omitempty"` // it is the mirror of the first
	Plan     json.RawMessage `json:"plan,omitempty"`
	Holes    []laidHole      `json:"holes,omitempty"`
}

// laidHole is a hole with where it lies.
type laidHole struct {
	holeFact
	Along  float64 `json:"x"`
	Across float64 `json:"y,omitempty"`
	Pose   string  `json:"p,omitempty"`
}

var laid = &ledger.Kind[NewRow, layout]{
	Name: "row", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewRow, f layout) error {
		if f.Hold != nil {
			if err := gate.Put(ctx, q, e, *f.Hold); err != nil {
				return err
			}
		}
		if f.Asked != nil {
			if err := gate.PutAsked(ctx, q, e, []gate.Asked{*f.Asked}); err != nil {
				return err
			}
		}
		drills := f.Drills
		if drills == nil { // an entry of before rows inherited them
			drills = n.Drills
		}
		if err := f.put(ctx, q, e, n, more{ID: e.ID, Assembly: n.Assembly, Name: cmp.Or(f.Name, n.Name), Line: f.Line, Rivets: f.Rivets, Drills: drills}); err != nil {
			return err
		}
		for _, m := range f.More {
			if err := f.put(ctx, q, e, n, m); err != nil {
				return err
			}
		}
		if n.Marked != "" {
			ids := []string{e.ID}
			for _, m := range f.More {
				ids = append(ids, m.ID)
			}
			if err := gate.PutMarked(ctx, q, e, n.Marked, ids); err != nil {
				return err
			}
		}
		return gate.PutWithdrawn(ctx, q, e, f.Withdrawn)
	},
	Derive: func(ctx context.Context, q *query.Queries, _ NewRow, f layout) error {
		for _, m := range f.More {
			if err := derive(ctx, q, m.ID); err != nil {
				return err
			}
		}
		return derive(ctx, q, f.ID)
	},
	Words: func(_ NewRow, f layout) ledger.Words {
		detail := fmt.Sprintf("%d holes", len(f.Holes))
		if f.Name != "" {
			all := len(f.Holes)
			for _, m := range f.More {
				all += len(m.Holes)
			}
			detail = fmt.Sprintf("%s, as the plans list them", say.Plural(all, "hole", "holes"))
		} else if len(f.More) > 0 {
			detail += fmt.Sprintf(" in each of %d rows", len(f.More)+1)
		}
		return ledger.Words{What: "row added: " + f.Title, Detail: detail}
	},
}

// put writes one row.
func (f layout) put(ctx context.Context, q *query.Queries, e ledger.Entry, n NewRow, m more) error {
	if m.Hold != nil {
		if err := gate.Put(ctx, q, e, *m.Hold); err != nil {
			return err
		}
	}
	bay, plan, holes := n.Bay, f.Plan, f.Holes
	if m.Assembly != n.Assembly {
		bay = ""
	}
	if m.Plan != nil {
		plan, holes = m.Plan, m.Holes
	}
	err := q.AddRow(ctx, query.AddRowParams{ID: m.ID, AssemblyID: m.Assembly, Name: m.Name, Plan: string(plan), Line: string(m.Line), Final: f.Final, RivetHold: m.Rivets, BayID: gate.Reference(bay), OptOut: n.OptOut, Entry: e.Seq, Planned: e.Seq, Revised: e.Seq})
	if err != nil {
		return err
	}
	for _, d := range m.Drills {
		if err := q.AddDrillHold(ctx, query.AddDrillHoldParams{RowID: m.ID, HoldID: d, Entry: e.Seq}); err != nil {
			return err
		}
	}
	for _, h := range holes {
		if m.Flip {
			h.Across = -h.Across
		}
		err := q.AddHole(ctx, query.AddHoleParams{RowID: m.ID, Number: int64(h.Number), Along: h.Along, Across: h.Across, Pose: h.Pose, State: string(h.State), Clean: flag(h.Clean), Over: flag(h.Over), Spoilt: int64(h.Spoilt), Tried: h.Tried,
			KeepPart: h.Keep.Part, KeepStep: h.Keep.Step, KeepHold: h.Keep.Hold, Work: h.kept(), Until: h.Reach.Step, Entry: e.Seq, Revised: e.Seq})
		if err != nil {
			return err
		}
	}
	return nil
}

// Lay lays a row out. Problems are by the key of the field.
func (s *Riveting) Lay(ctx context.Context, n NewRow) error {
	wrong := ledger.Problems{}
	wrong.Text("name", &n.Name, ledger.MaxName, "which row is it?")
	wrong.Text("opt_out", &n.OptOut, ledger.MaxNote, "")
	wrong.Text("marked", &n.Marked, ledger.MaxName, "")
	_, err := ledger.Do(ctx, s.ledger, laid, n.Form, n, func(q *query.Queries) (f layout, err error) {
		frame, assembly, err := airframe.Of(ctx, q, n.Assembly)
		if err != nil {
			return f, err
		}
		holds, err := gate.All(q.HoldsOfAssembly(ctx, n.Assembly))
		if err != nil {
			return f, err
		}
		f.ID, f.Title = n.ID, assembly.Name+": "+n.Name
		if f.Withdrawn, err = n.inBay(ctx, q, wrong); err != nil {
			return f, err
		}
		f.Drills = n.drills(holds, wrong)
		if n.List != "" {
			rows, says := ReadList(n.List, frame.Unit)
			if says != "" {
				wrong.Add("list", says)
			}
			if err := f.rivets(n, holds, holesOf(rows), wrong); err != nil {
				return f, err
			}
			if err := f.listed(n, rows, assembly, holds, wrong); err != nil {
				return f, err
			}
			return f, wrong.Err()
		}
		form := rowReader{n.Values, frame.Unit, wrong}
		plan := form.plan()
		holes, line := form.holes(plan.Final), form.laidLine()
		if says := form.beside(assembly.Shape, line); says != "" {
			wrong.Add("from", says)
		}
		keep(holes, holds, wrong)
		if err := f.rivets(n, holds, len(holes), wrong); err != nil {
			return f, err
		}
		if err := wrong.Err(); err != nil {
			return f, err
		}
		if line.From == line.To {
			line = airframe.LineOn(assembly.Shape, longest(holes))
		}
		for _, h := range holes {
			f.Holes = append(f.Holes, laidHole{factOf(h), h.Along, h.Across, h.Pose})
		}
		f.Final = flag(plan.Final)
		if f.Plan, err = json.Marshal(plan); err != nil {
			return f, err
		}
		if f.Line, err = json.Marshal(line); err != nil {
			return f, err
		}
		return f, f.also(ctx, q, n, assembly, line)
	})
	return err
}

// mostRepeats is how many rows are laid at once.
const mostRepeats = 60

// also lays out the rows that are laid with the first: its repeats, and both on the other
// side. Those of one assembly are set under one hold.
func (f *layout) also(ctx context.Context, q *query.Queries, n NewRow, at airframe.Assembly, line airframe.Line) error {
	if n.Repeat.Times < 0 || n.Repeat.Times > mostRepeats {
		return ledger.Problems{"times": fmt.Sprintf("1 to %d times", mostRepeats)}
	}
	if n.Repeat.Times > 1 && n.Repeat.Step == [2]float64{} {
		return ledger.Problems{"times": "how far on does each lie?"}
	}
	names := []string{n.Name}
	for i := 1; i < n.Repeat.Times; i++ {
		names = append(names, fmt.Sprintf("%s, %d", n.Name, i+1))
	}
	var ids []string
	for i, name := range names[1:] {
		shift := func(p [2]float64) [2]float64 {
			return [2]float64{p[0] + n.Repeat.Step[0]*float64(i+1), p[1] + n.Repeat.Step[1]*float64(i+1)}
		}
		m := more{ID: ledger.Child(n.ID, fmt.Sprintf("row %d", i+1)), Assembly: n.Assembly, Name: name, Rivets: f.Rivets, Drills: f.Drills}
		var err error
		if m.Line, err = json.Marshal(airframe.Line{View: line.View, From: shift(line.From), To: shift(line.To)}); err != nil {
			return err
		}
		f.More, ids = append(f.More, m), append(ids, m.ID)
	}
	if err := f.ask(ids); err != nil {
		return err
	}
	if n.Mirror == "" {
		return nil
	}
	return f.mirrored(ctx, q, n, at, names, line)
}

// ask makes the hold of the first row ask for others too.
func (f *layout) ask(ids []string) error {
	required := &json.RawMessage{}
	switch {
	case f.Hold != nil:
		required = &f.Hold.Required
	case f.Asked != nil:
		required = &f.Asked.Required
	default:
		return nil
	}
	var list []hold.Requirement
	if err := json.Unmarshal(*required, &list); err != nil {
		return err
	}
	for _, id := range ids {
		list = append(list, hold.Requirement{Need: hold.Marked, Of: id}, hold.Requirement{Need: hold.Prepared, Of: id})
	}
	data, err := json.Marshal(list)
	*required = data
	return err
}

// mirrored lays the same rows on the assembly of the other side, under a hold of its own and
// what stands before drilling there.
func (f *layout) mirrored(ctx context.Context, q *query.Queries, n NewRow, at airframe.Assembly, names []string, line airframe.Line) error {
	frame, other, err := airframe.Of(ctx, q, n.Mirror)
	mine, _, errMine := airframe.Of(ctx, q, n.Assembly)
	if err != nil || errMine != nil || frame.ID != mine.ID || other.ID == at.ID {
		return ledger.Problems{"mirror": "which assembly is on the other side? Choose one of this aircraft"}
	}
	holds, err := gate.All(q.HoldsOfAssembly(ctx, n.Mirror))
	if err != nil {
		return err
	}
	drills := []string{}
	for _, h := range holds {
		if !h.Done && hold.Step(h.Step).Drills() {
			drills = append(drills, h.ID)
		}
	}
	var asks []hold.Requirement
	first := ledger.Child(n.ID, "other side hold")
	for i, name := range names {
		over := func(p [2]float64) [2]float64 {
			p = [2]float64{p[0] + n.Repeat.Step[0]*float64(i), p[1] + n.Repeat.Step[1]*float64(i)}
			switch line.View {
			case "above":
				p[1] = -p[1]
			case "ahead":
				p[0] = -p[0]
			}
			return p
		}
		m := more{ID: ledger.Child(n.ID, fmt.Sprintf("other side row %d", i)), Assembly: n.Mirror, Name: name, Rivets: first, Drills: drills, Flip: true}
		if m.Line, err = json.Marshal(airframe.Line{View: line.View, From: over(line.From), To: over(line.To)}); err != nil {
			return err
		}
		asks = append(asks, hold.Requirement{Need: hold.Marked, Of: m.ID}, hold.Requirement{Need: hold.Prepared, Of: m.ID})
		f.More = append(f.More, m)
	}
	made, err := gate.Make(first, n.Mirror, "", gate.NewHold{Name: "Rivet " + n.Name, Step: "rivet", Permanent: fmt.Sprintf("the rivets of %s, %s", other.Name, n.Name), Why: "A rivet in a hole that a later part needs, or of the wrong length, is drilled out.", Required: asks}, false)
	f.More[len(f.More)-len(names)].Hold = &made
	return err
}

// longest is how far the last hole lies from the start, at least 1 mm.
func longest(holes []row.Hole) float64 {
	long := 1.0
	for _, h := range holes {
		long = max(long, h.Along)
	}
	return long
}

// keep checks the marks and poses of holes, and finds the hold of the later step where it
// has one.
func keep(holes []row.Hole, holds []gate.Hold, wrong ledger.Problems) {
	for i := range holes {
		k := &holes[i].Keep
		wrong.Text("keep", &k.Part, ledger.MaxName, "")
		wrong.Text("keep", &k.Step, ledger.MaxName, "")
		wrong.Text("poses", &holes[i].Pose, ledger.MaxName, "")
		for _, h := range holds {
			if k.Part != "" && strings.EqualFold(h.Name, k.Step) {
				k.Hold = h.ID
			}
		}
	}
}

// drills are the holds before drilling: those that were chosen, and all that are unsettled
// at the assembly unless there is a reason why they are not for this row.
func (n NewRow) drills(holds []gate.Hold, wrong ledger.Problems) []string {
	for _, d := range n.Drills {
		if !slices.ContainsFunc(holds, func(h gate.Hold) bool { return h.ID == d && hold.Step(h.Step).Drills() }) {
			wrong.Add("drills", "choose holds before drilling to size")
		}
	}
	out := append([]string{}, n.Drills...)
	for _, h := range holds {
		switch {
		case h.Done || !hold.Step(h.Step).Drills() || slices.Contains(out, h.ID) || n.OptOut != "":
		case n.Drills != nil:
			wrong.Add("opt_out", fmt.Sprintf("the hold “%s” stands before drilling here: tie the row to it, or say why it is not for this row", h.Name))
		default:
			out = append(out, h.ID)
		}
	}
	return out
}

// rivets finds or makes the hold before setting, which asks for the row.
func (f *layout) rivets(n NewRow, holds []gate.Hold, holes int, wrong ledger.Problems) error {
	asks := []hold.Requirement{{Need: hold.Marked, Of: n.ID}, {Need: hold.Prepared, Of: n.ID}}
	for _, h := range holds { // one that is measured for, and not settled
		if n.Rivets != "" || n.OptOut != "" || h.Step != "rivet" || h.SetupID == "" || h.Done || h.Open() {
			continue
		}
		if n.Drills == nil { // nobody chose
			n.Rivets = h.ID
			continue
		}
		wrong.Add("opt_out", fmt.Sprintf("the hold “%s” stands before riveting here: tie the row to it, or say why it is not for this row", h.Name))
	}
	if n.Rivets == "" {
		f.Rivets = ledger.Child(n.ID, "hold")
		made, err := gate.Make(f.Rivets, n.Assembly, "", gate.NewHold{Name: "Rivet " + n.Name, Step: "rivet", Permanent: fmt.Sprintf("%d rivets of %s", holes, n.Name),
			Why: "A rivet in a hole that a later part needs, or of the wrong length, is drilled out.", Required: asks}, false)
		f.Hold = &made
		return err
	}
	f.Rivets = n.Rivets
	i := slices.IndexFunc(holds, func(h gate.Hold) bool { return h.ID == n.Rivets && h.Step == "rivet" })
	if i < 0 {
		wrong.Add("rivets", "choose the hold before riveting")
		return nil
	}
	asked, err := gate.Ask(holds[i], "rivets", asks)
	f.Asked = &asked
	return err
}

// inBay refuses a row inside what is closed, and ends a release before closing: there is
// something to be done inside again.
func (n NewRow) inBay(ctx context.Context, q *query.Queries, wrong ledger.Problems) (gate.Withdrawn, error) {
	none := gate.Withdraw("")
	if n.Bay == "" {
		return none, nil
	}
	bay, err := q.BayWithHold(ctx, n.Bay)
	if err != nil || bay.HoldsNow.AssemblyID != n.Assembly {
		wrong.Add("bay", "choose a space of this assembly")
		return none, nil
	}
	if bay.HoldsNow.Done == 1 {
		wrong.Add("bay", bay.Name+" is closed")
		return none, nil
	}
	h, err := gate.From(bay.HoldsNow)
	return gate.Withdraw(n.Name+" was laid out inside since", h), err
}

// RowChange changes the plan of a row that is laid out.
type RowChange struct {
	ledger.Form
	Row    string            `json:"row"` // id
	Seen   int64             `json:"seen"`
	Name   string            `json:"name"`
	Values map[string]string `json:"values" text:"lines"`
}

// replanned is a row with its new plan.
type replanned struct {
	Row       string          `json:"row"`
	Plan      json.RawMessage `json:"plan"`
	Line      json.RawMessage `json:"line"`
	Withdrawn gate.Withdrawn  `json:"withdrawn"`
}

var planned = &ledger.Kind[RowChange, replanned]{
	Name: "row-changed", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n RowChange, f replanned) error {
		if err := q.ChangeRow(ctx, query.ChangeRowParams{Name: n.Name, Plan: string(f.Plan), Line: string(f.Line), Planned: e.Seq, Revised: e.Seq, ID: n.Row}); err != nil {
			return err
		}
		return gate.PutWithdrawn(ctx, q, e, f.Withdrawn)
	},
	Derive: func(ctx context.Context, q *query.Queries, n RowChange, _ replanned) error {
		return derive(ctx, q, n.Row)
	},
	Words: func(_ RowChange, f replanned) ledger.Words {
		return ledger.Words{What: f.Row + ": its plan was changed"}
	},
}

// Change changes what a row is made of. Its holes and what was done to them stay; a
// release that rested on the old lengths ends. Problems are by the key of the field.
func (s *Riveting) Change(ctx context.Context, n RowChange) error {
	wrong := ledger.Problems{}
	wrong.Text("name", &n.Name, ledger.MaxName, "which row is it?")
	_, err := ledger.Do(ctx, s.ledger, planned, n.Form, n, func(q *query.Queries) (f replanned, err error) {
		r, err := One(ctx, q, n.Row)
		if err != nil {
			return f, err
		}
		if n.Seen != r.Planned {
			return f, ledger.Moved("another plan", "the plan that is shown below")
		}
		values := maps.Clone(n.Values)
		if slices.ContainsFunc(r.Layers, func(l row.Layer) bool { return l.Thickness < thinnest || l.Thickness > thickest }) {
			values["sure"] = "yes" // it was asked once
		}
		form := rowReader{values, r.Airframe.Unit, wrong}
		plan, line := form.plan(), form.line()
		plan.How, plan.Closed = r.How, r.Closed // where its holes lie stays
		if err := wrong.Err(); err != nil {
			return f, err
		}
		if line.From == line.To {
			line = r.Line
		}
		f = replanned{Row: r.AssemblyName + ", " + r.Name, Withdrawn: gate.Withdraw("the plan of "+n.Name+" was changed", r.Rivets)}
		if f.Plan, err = json.Marshal(plan); err != nil {
			return f, err
		}
		f.Line, err = json.Marshal(line)
		return f, err
	})
	return err
}

// Offers is what the form of a new row offers.
type Offers struct {
	Airframe airframe.Airframe
	Assembly airframe.Assembly
	Rivets   []gate.Hold
	Drills   []gate.Hold
	Bays     []Space
}

// Space is a bay that a row may lie in.
type Space struct{ ID, Name string }

// Offer loads what a new row of an assembly may be tied to.
func Offer(ctx context.Context, q *query.Queries, assembly string) (f Offers, err error) {
	if f.Airframe, f.Assembly, err = airframe.Of(ctx, q, assembly); err != nil {
		return f, err
	}
	bays, err := q.OpenBays(ctx, assembly)
	if err != nil {
		return f, fmt.Errorf("reading the bays: %w", err)
	}
	for _, b := range bays {
		f.Bays = append(f.Bays, Space{b.ID, b.Name})
	}
	holds, err := gate.All(q.HoldsOfAssembly(ctx, assembly))
	for _, h := range holds {
		switch {
		case h.Done:
		case h.Step == "rivet" && !h.Open():
			f.Rivets = append(f.Rivets, h)
		case hold.Step(h.Step).Drills():
			f.Drills = append(f.Drills, h)
		}
	}
	return f, err
}
