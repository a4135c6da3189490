package ledger

import (
	"context"
	"fmt"
	"slices"

	"orpine/internal/core/journal"
	"orpine/internal/store/query"
)

// Bearing says what entries of a kind have to do with what becomes permanent. Every kind says it;
// its zero value is refused where kinds are registered.
type Bearing int

// The bearings.
const (
	_         Bearing = iota // nobody said
	Apart                    // nothing: no hold asks about it
	Evidence                 // it may change how a line of a hold's evidence stands
	Permanent                // as Evidence; and some of them say that something became permanent: see Kind.Makes
)

// A Made is something that an entry says has become permanent, or was begun.
type Made struct {
	Hold, Release string // the step of a hold, under a release
	Row           string // holes of a row
	Numbers       []int
	What          string // what was done to them, as the row knows it
	Step          string // a step of the order of work
	State         string // and how far it is now
	Ties          string // JSON: the holds that it was tied to with it; "" where nothing was said
	Clock         string // a coat or a closing over an assembly: its id
}

// A Gatekeeper is asked before anything is said to be permanent, and sees every entry that may
// change the evidence for it.
type Gatekeeper interface {
	// Ask refuses what nobody released, by Problems. known tells that the entry was made in
	// another workshop, under the gate of that.
	Ask(ctx context.Context, q *query.Queries, made []Made, known bool) error
	// Follow finds which releases end with an entry, or stand again; it writes derived rows only.
	Follow(ctx context.Context, q *query.Queries, p Passed) error
}

// Passed is an entry whose rows were just written.
type Passed struct {
	Entry
	Kind      string
	Names     []string // ids that its request and facts name
	TakesBack []string // ids of entries that it takes back
	Rights    bool     // it says that something was wrong before
	Made      []Made
}

// KeptBy sets who is asked. A ledger without a gatekeeper takes what it is given: it is one that
// replays.
func (l *Ledger) KeptBy(g Gatekeeper) { l.gate = g }

// bearing is what a Kind says of itself, without its types.
func (k *Kind[R, F]) bearing() Bearing { return k.Bears }

func (k *Kind[R, F]) said() error {
	switch {
	case len(k.Takes) == 0:
		return fmt.Errorf("the kind %q does not say who may make its entries", k.Name)
	case k.Bears < Apart || k.Bears > Permanent:
		return fmt.Errorf("the kind %q does not say what it has to do with what becomes permanent", k.Name)
	case (k.Bears == Permanent) != (k.Makes != nil):
		return fmt.Errorf("the kind %q says that it makes something permanent and not what, or the other way round", k.Name)
	}
	return nil
}

func (k *Kind[R, F]) passed(e journal.Entry, c content) (p Passed, err error) {
	p = Passed{Kind: k.Name}
	if k.Makes == nil && k.TakesBack == nil && k.Rights == nil && k.About == nil {
		return p, nil
	}
	r, f, err := k.read(c)
	if err != nil {
		return p, err
	}
	if k.Makes != nil {
		p.Made = k.Makes(e.ID, r, f)
	}
	if k.TakesBack != nil {
		p.TakesBack = k.TakesBack(r, f)
	}
	if k.About != nil {
		p.Names = k.About(e.ID, r, f)
	}
	if k.Rights != nil {
		p.Rights = k.Rights(r, f)
	}
	return p, nil
}

// ask asks the gate about an entry that is about to be written.
func (l *Ledger) ask(ctx context.Context, q *query.Queries, kind registered, e journal.Entry, c content, known bool) error {
	if l.gate == nil || kind.bearing() != Permanent {
		return nil
	}
	p, err := kind.passed(e, c)
	if err != nil || len(p.Made) == 0 {
		return err
	}
	return l.gate.Ask(ctx, q, p.Made, known)
}

// follow lets the gate see an entry that was written.
func (l *Ledger) follow(ctx context.Context, q *query.Queries, kind registered, e journal.Entry, c content) error {
	if l.gate == nil || kind.bearing() == Apart {
		return nil
	}
	p, err := kind.passed(e, c)
	if err != nil {
		return err
	}
	p.Entry = stamp(e)
	if p.Names == nil {
		p.Names = append([]string{e.ID}, uuids.FindAllString(string(c.Request), -1)...)
		p.Names = append(p.Names, uuids.FindAllString(string(c.Facts), -1)...)
	}
	slices.Sort(p.Names)
	p.Names = slices.Compact(p.Names)
	return l.gate.Follow(context.WithValue(ctx, followingKey{}, map[string]any{}), q, p)
}

// followed is follow for an entry as it is kept, in a replay.
func (l *Ledger) followed(ctx context.Context, q *query.Queries, e journal.Entry) error {
	kind, c, err := l.registry.understood(e)
	if err != nil {
		return err
	}
	if err := kind.derive(ctx, q, e, c); err != nil {
		return err
	}
	return l.follow(ctx, q, kind, e, c)
}

type followingKey struct{}

// Following tells whether what is read belongs to an entry that is just being written: what is
// worked out of it is kept with it, or not at all.
func Following(ctx context.Context) bool { return ctx.Value(followingKey{}) != nil }

type viewingKey struct{}

// Viewing marks the context of one View, within which nothing changes.
func Viewing(ctx context.Context) context.Context {
	return context.WithValue(ctx, viewingKey{}, map[string]any{})
}

// Once reads something once while an entry is followed, or within a context of Viewing, for its rows
// do not change there; else each time.
func Once[T any](ctx context.Context, what string, read func() (T, error)) (T, error) {
	kept, ok := ctx.Value(followingKey{}).(map[string]any)
	if !ok {
		kept, ok = ctx.Value(viewingKey{}).(map[string]any)
	}
	if !ok {
		return read()
	}
	if v, there := kept[what].(T); there {
		return v, nil
	}
	v, err := read()
	if err == nil {
		kept[what] = v
	}
	return v, err
}
