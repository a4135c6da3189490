package closing

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"orpine/internal/airframe"
	"orpine/internal/core/hold"
	"orpine/internal/core/say"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// What is said of bays.
const (
	outside   = "outside"   // something of its assemblies lies outside
	reachable = "reachable" // the holes that a row keeps open inside can still be reached
	also      = "assembly"  // it belongs to that assembly too
	within    = "within"    // it lies within that bay
	closes    = "closes"    // that row closes it
	said      = "said"      // which assemblies lie inside was said
)

// saying is one thing said of a bay, as the facts of an entry have it; Off takes it back.
type saying struct {
	Kind string `json:"kind"`
	Of   string `json:"of"`
	Note string `json:"note,omitempty"`
	Off  bool   `json:"off,omitempty"`
}

func (s saying) put(ctx context.Context, q *query.Queries, e ledger.Entry, bay, by string) error {
	if s.Off {
		return q.UnsayOfBay(ctx, query.UnsayOfBayParams{BayID: bay, Kind: s.Kind, Of: s.Of})
	}
	return q.SayOfBay(ctx, query.SayOfBayParams{BayID: bay, Kind: s.Kind, Of: s.Of, Note: s.Note, ByName: by, At: e.At, Entry: e.Seq})
}

// saidWords tell of it in the log.
func (f inBay) saidWords() string {
	var words []string
	for _, s := range f.Said {
		switch {
		case s.Off:
			words = append(words, "inside after all: "+s.Note)
		case s.Kind == said:
		case s.Kind == reachable:
			words = append(words, "can still be reached: "+s.Note)
		default:
			words = append(words, "outside: "+s.Note)
		}
	}
	return say.Join(words...)
}

// known fills in what is known of bays beside their tasks: what lies outside, which bays lie
// within and are open, and the holds of their assemblies that are not settled.
func (c *Closing) known(ctx context.Context, q *query.Queries, bays []query.Bay, ids []string, into *hold.Evidence) error {
	if len(ids) == 0 {
		return nil
	}
	sayings, err := q.SaidOfBays(ctx, ids)
	if err != nil {
		return fmt.Errorf("reading what was said of bays: %w", err)
	}
	asked, closing := map[string]bool{}, map[string][]string{}
	for _, one := range sayings {
		b := into.Bay(one.BayID)
		switch one.Kind {
		case said, also: // those of before it was asked say what lies inside, too
			asked[one.BayID] = true
		case closes:
			closing[one.BayID] = append(closing[one.BayID], one.Of)
		case outside:
			if b.Outside == nil {
				b.Outside = map[string]string{}
			}
			b.Outside[one.Of] = one.ByName
		case reachable:
			if b.Asked == nil {
				b.Asked = map[string]string{}
			}
			b.Asked[one.Of] = one.Note
		}
	}
	inner, err := q.BaysWithin(ctx, ids)
	if err != nil {
		return fmt.Errorf("reading the bays within: %w", err)
	}
	for _, in := range inner {
		if in.Done == 0 {
			b := into.Bay(in.OuterID)
			b.Within = append(b.Within, in.Name)
		}
	}
	if err := c.aircraft(ctx, q, bays, asked, closing, into); err != nil {
		return err
	}
	closers, err := gate.All(q.HoldsByID(ctx, closers(bays)))
	if err != nil {
		return err
	}
	return gate.NearBays(ctx, q, ids, func(bay string, assemblies []string) error {
		holds, err := gate.All(q.HoldsNearBays(ctx, assemblies))
		if err != nil {
			return err
		}
		b := into.Bay(bay)
		by := bays[slices.IndexFunc(bays, func(b query.Bay) bool { return b.ID == bay })].ClosedBy
		shuts := closers[slices.IndexFunc(closers, func(h gate.Hold) bool { return h.ID == by })]
		for _, h := range holds {
			after := slices.Contains(h.Required, hold.Requirement{Need: hold.Before, Of: shuts.ID})
			before := slices.Contains(shuts.Required, hold.Requirement{Need: hold.Before, Of: h.ID})
			if !after && !before { // its order is known else
				b.Near = append(b.Near, hold.Near{ID: "hold:" + h.ID, What: "the hold “" + h.Name + "”"})
			}
		}
		return nil
	})
}

// aircraft fills in what a closing asks of the whole aircraft: whether another assembly lies inside,
// and every hole that still holds a cleco and that nobody has placed.
func (c *Closing) aircraft(ctx context.Context, q *query.Queries, bays []query.Bay, asked map[string]bool, closing map[string][]string, into *hold.Evidence) error {
	for _, b := range bays {
		rows, err := q.PinnedOfAircraft(ctx, b.AssemblyID)
		if err != nil {
			return fmt.Errorf("reading the clecos of an aircraft: %w", err)
		}
		state := into.Bay(b.ID)
		for _, r := range rows {
			if r.Assemblies > 1 && !asked[b.ID] {
				state.Asks = true
			}
			var how struct{ Pinned string }
			if !r.Says.Valid || json.Unmarshal([]byte(r.Says.String), &how) != nil || how.Pinned == "" {
				continue
			}
			id := "row:" + r.ID
			placed := r.BayID.Valid || slices.Contains(closing[b.ID], r.ID) || slices.ContainsFunc(state.Near, func(n hold.Near) bool { return n.ID == id })
			if !placed {
				state.Near = append(state.Near, hold.Near{ID: id, What: fmt.Sprintf("%s of %s (clecos in %s)", r.Name, r.Assembly, how.Pinned)})
			}
		}
	}
	return nil
}

// closers are the holds that close bays.
func closers(bays []query.Bay) []string {
	ids := make([]string, len(bays))
	for i, b := range bays {
		ids[i] = b.ClosedBy
	}
	return ids
}

// sayings are what a ticked form says of its bay, checked against how things stand.
func (c *Closing) sayings(ctx context.Context, q *query.Queries, n Ticked) ([]saying, error) {
	if len(n.Outside)+len(n.Inside)+len(n.Reachable) == 0 {
		return nil, nil
	}
	e, err := c.gate.Gather(ctx, q, gate.Hold{Required: []hold.Requirement{{Need: hold.Inside, Of: n.Bay}}})
	if err != nil {
		return nil, err
	}
	b, out := e.Bay(n.Bay), []saying{}
	tasks, err := q.TasksOfBays(ctx, []string{n.Bay})
	if err != nil {
		return nil, fmt.Errorf("reading the tasks: %w", err)
	}
	what := func(id string) string {
		for _, near := range b.Near {
			if near.ID == id {
				return near.What
			}
		}
		for _, t := range tasks {
			if "task:"+t.ID == id {
				return t.What
			}
		}
		return ""
	}
	for _, id := range slices.Compact(slices.Sorted(slices.Values(n.Outside))) {
		name := what(id)
		if name == "" {
			return nil, ledger.Problems{"": "one of these is done since, or not of this assembly: look again"}
		}
		out = append(out, saying{Kind: outside, Of: id, Note: name})
	}
	for _, id := range slices.Compact(slices.Sorted(slices.Values(n.Inside))) {
		if b.Outside[id] == "" {
			return nil, ledger.Problems{"": "one of these was not said to lie outside"}
		}
		out = append(out, saying{Kind: outside, Of: id, Note: what(id), Off: true})
	}
	for _, id := range slices.Compact(slices.Sorted(slices.Values(n.Reachable))) {
		i := slices.IndexFunc(b.Kept, func(k hold.KeptInside) bool { return k.ID == id })
		if i < 0 {
			return nil, ledger.Problems{"": "that row keeps no hole open inside"}
		}
		out = append(out, saying{Kind: reachable, Of: id, Note: b.Kept[i].Kept})
	}
	return out, nil
}

// Placed says where a bay is: which other assemblies it belongs to, and within which bay it
// lies.
type Placed struct {
	ledger.Form
	Bay    string   `json:"bay" form:"-"` // id
	Also   []string `json:"also,omitempty" form:"also"`
	Within string   `json:"within,omitempty" form:"within"`
	Closes []string `json:"closes,omitempty" form:"closes"` // ids of the rows of screws or rivets that close it
	By     string   `json:"by" form:"by"`
}

var placed = &ledger.Kind[Placed, inBay]{
	Name: "bay-placed", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n Placed, f inBay) error {
		for _, kind := range []string{also, within, closes, said} {
			if err := q.UnsayKindOfBay(ctx, query.UnsayKindOfBayParams{BayID: n.Bay, Kind: kind}); err != nil {
				return err
			}
		}
		for _, one := range f.Said {
			if err := one.put(ctx, q, e, n.Bay, n.By); err != nil {
				return err
			}
		}
		return gate.PutWithdrawn(ctx, q, e, f.Withdrawn)
	},
	Words: func(_ Placed, f inBay) ledger.Words {
		return ledger.Words{What: "Where it lies: " + f.Bay, Detail: f.What}
	},
}

// Place says where a bay is. A release of its closing ends: it answers for more, or for
// something else, now.
func (c *Closing) Place(ctx context.Context, n Placed) error {
	wrong := ledger.Problems{}
	wrong.Text("by", &n.By, ledger.MaxName, "who says so?")
	_, err := ledger.Do(ctx, c.ledger, placed, n.Form, n, func(q *query.Queries) (f inBay, err error) {
		title, h, err := open(ctx, q, n.Bay)
		if err != nil {
			return f, err
		}
		bay, err := q.Bay(ctx, n.Bay)
		if err != nil {
			return f, err
		}
		frame, _, err := airframe.Of(ctx, q, bay.AssemblyID)
		if err != nil {
			return f, err
		}
		f = inBay{Bay: title, Withdrawn: gate.Withdraw("it was said since where it lies", h)}
		var names []string
		for _, id := range slices.Compact(slices.Sorted(slices.Values(n.Also))) {
			other, assembly, err := airframe.Of(ctx, q, id)
			if err != nil || other.ID != frame.ID || id == bay.AssemblyID {
				wrong.Add("also", "choose other assemblies of this aircraft")
				continue
			}
			f.Said, names = append(f.Said, saying{Kind: also, Of: id}), append(names, assembly.Name)
		}
		if n.Within != "" {
			outer, err := c.outer(ctx, q, n, frame.ID, wrong)
			if err != nil {
				return f, err
			}
			f.Said, names = append(f.Said, saying{Kind: within, Of: n.Within}), append(names, "within "+outer)
		}
		for _, id := range slices.Compact(slices.Sorted(slices.Values(n.Closes))) {
			row, err := q.RowToClose(ctx, id)
			if err != nil || row.AirframeID != frame.ID || row.BayID.String == n.Bay {
				wrong.Add("closes", "choose rows of this aircraft that do not lie inside it")
				continue
			}
			f.Said, names = append(f.Said, saying{Kind: closes, Of: id, Note: row.Name}), append(names, "closed by "+row.Name)
		}
		f.Said = append(f.Said, saying{Kind: said})
		if f.What = strings.Join(names, ", "); f.What == "" {
			f.What = "of this assembly alone, within no other bay"
		}
		return f, wrong.Err()
	})
	return err
}

// outer is the name of the bay that one is said to lie within: of the same aircraft, open,
// and not within this one.
func (c *Closing) outer(ctx context.Context, q *query.Queries, n Placed, frame string, wrong ledger.Problems) (string, error) {
	bay, err := q.Bay(ctx, n.Within)
	if errors.Is(err, sql.ErrNoRows) || err == nil && bay.Withdrawn != "" {
		wrong.Add("within", "choose a bay of this aircraft")
		return "", nil
	}
	if err != nil {
		return "", err
	}
	other, _, err := airframe.Of(ctx, q, bay.AssemblyID)
	if err != nil {
		return "", err
	}
	h, err := gate.One(ctx, q, bay.ClosedBy)
	if err != nil {
		return "", err
	}
	around, err := gate.Around(ctx, q, n.Within)
	switch {
	case err != nil:
		return "", err
	case other.ID != frame:
		wrong.Add("within", "choose a bay of this aircraft")
	case h.Done:
		wrong.Add("within", bay.Name+" is closed")
	case n.Within == n.Bay || slices.ContainsFunc(around, func(b query.BayAroundRow) bool { return b.ID == n.Bay }):
		wrong.Add("within", bay.Name+" lies within this one")
	}
	return bay.Name, nil
}
