// Package account says who works in a shop and what each may do, and lets them in.
//
// Who belongs to the shop, and as what, stands in the journal. What lets someone in (passwords,
// codes, sessions) is of the machine and in a file of its own, access.db: it is in no archive and
// no journal, and a shop that is restored on another machine lets its people in anew by a code.
// A shop in which nobody was named yet asks for no account.
package account

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Role is what someone is in the shop.
type Role string

// The roles.
const (
	Builder   Role = "builder"   // does and may do everything, and lets others in
	Helper    Role = "helper"    // measures, rivets, looks, logs; releases and changes nothing
	Inspector Role = "inspector" // reads everything and signs dispositions, answers and looks
	Viewer    Role = "viewer"    // reads
)

// Roles are all of them, with what each may do, in words.
var Roles = []struct {
	Role Role
	Says string
}{
	{Builder, "does everything, releases holds and lets others in"},
	{Helper, "measures, rivets, looks and logs; releases and alters nothing"},
	{Inspector, "reads everything; signs dispositions, answers and looks"},
	{Viewer, "reads"},
}

// Right is what a route asks for, and an entry.
type Right = ledger.Right

// The rights.
const (
	Open Right = "open" // whoever is there: signing in, and what that page needs
	See  Right = "see"  // to read
	Own        = ledger.Own
	Work       = ledger.Work
	Sign       = ledger.Sign
	Make       = ledger.Make
	Keep       = ledger.Keeping
)

var rights = map[Role][]Right{
	Builder:   {Open, Own, See, Work, Sign, Make, Keep},
	Helper:    {Open, Own, See, Work},
	Inspector: {Open, Own, See, Sign},
	Viewer:    {Open, Own, See},
}

// May tells whether someone of this role may do what asks for any of some rights.
func (r Role) May(any ...Right) bool {
	return slices.ContainsFunc(any, func(right Right) bool { return slices.Contains(rights[r], right) })
}

// Person is someone of the shop.
type Person struct {
	ID, Name string
	Role     Role
	Left     time.Time // zero while they belong to it
	Revised  int64
}

// Seat is who makes a request in a shop with accounts: its Person is nil for someone who is not
// signed in.
type Seat struct {
	*Person
	Ended int64 // how often their sessions were ended when this one was looked at
}

type seatKey struct{}

// Sit marks a context with who makes a request.
func Sit(ctx context.Context, s Seat) context.Context {
	ctx = context.WithValue(ctx, seatKey{}, s)
	if s.Person != nil {
		ctx = ledger.As(ctx, ledger.Author{Name: s.Name, Mark: mark(s.ID), May: s.Role.May})
	}
	return ctx
}

// Playing is a context in which whoever is signed in may do everything: nothing of it is kept.
func Playing(ctx context.Context) context.Context {
	s, _ := Sitting(ctx)
	if s.Person == nil {
		return ctx
	}
	return ledger.As(ctx, ledger.Author{Name: s.Name, Mark: mark(s.ID)})
}

// mark is what stands in the journal beside a name: short, so that it is taken for no thing that
// the entry is about.
func mark(id string) string { return id[:min(len(id), 8)] }

// Sitting tells who makes a request; guarded is false in a shop that asks for no account.
func Sitting(ctx context.Context) (s Seat, guarded bool) {
	s, guarded = ctx.Value(seatKey{}).(Seat)
	return s, guarded
}

// Capability is what the package brings to the ledger.
var Capability = ledger.Capability{Name: "account", Tables: ledger.Records("people"), Kinds: ledger.Kinds(added, changed, replaced)}

// Accounts are those of a workshop.
type Accounts struct {
	*Access
	ledger *ledger.Ledger
}

// New returns the accounts of a workshop, with what lets them in.
func New(l *ledger.Ledger, a *Access) *Accounts { return &Accounts{a, l} }

// NewPerson is someone who comes to belong to the shop.
type NewPerson struct {
	ledger.Form
	Name string `json:"name" form:"name"`
	Role Role   `json:"role" form:"role"`
}

var added = &ledger.Kind[NewPerson, struct{}]{
	Name: "person", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Keeping},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewPerson, _ struct{}) error {
		return q.AddPerson(ctx, query.AddPersonParams{ID: e.ID, Name: n.Name, Role: string(n.Role), Entry: e.Seq, Revised: e.Seq})
	},
	Words: func(n NewPerson, _ struct{}) ledger.Words {
		return ledger.Words{What: "Of the shop: " + n.Name, Detail: string(n.Role)}
	},
	Travel: ledger.Travel[NewPerson, struct{}]{Stays: true},
}

// Add takes someone into the shop. Problems are at "name" and "role".
func (a *Accounts) Add(ctx context.Context, n NewPerson) error {
	wrong := n.read()
	_, err := ledger.Do(ctx, a.ledger, added, n.Form, n, func(q *query.Queries) (none struct{}, err error) {
		if err := wrong.Err(); err != nil {
			return none, err
		}
		people, err := list(ctx, q, a.ledger)
		if len(people) == 0 {
			wrong.Add("", "this shop has no builder yet: name yourself first, or nobody could let people in")
		}
		for _, p := range people {
			if p.Left.IsZero() && SameName(p.Name, n.Name) {
				wrong.Add("name", "looks like the name of someone here already: deeds are signed with it")
			}
		}
		return none, errors.Join(err, wrong.Err())
	})
	return err
}

func (n *NewPerson) read() ledger.Problems {
	wrong := ledger.Problems{}
	wrong.Text("name", &n.Name, ledger.MaxName, "what are they called?")
	if rights[n.Role] == nil {
		wrong.Add("role", "choose what they are here")
	}
	return wrong
}

// Begin makes the first person of a shop its builder, where nobody is named yet.
func (a *Accounts) Begin(ctx context.Context, n NewPerson) error {
	n.Role = Builder
	wrong := n.read()
	_, err := ledger.Do(ctx, a.ledger, added, n.Form, n, func(q *query.Queries) (none struct{}, err error) {
		nobody, err := q.NobodyYet(ctx)
		if err == nil && !nobody {
			wrong.Add("", "this shop has its first builder already: sign in, or let a builder give you a code")
		}
		return none, errors.Join(err, wrong.Err())
	})
	return err
}

// PersonChanged gives someone another role, or says that they left.
type PersonChanged struct {
	ledger.Form
	Person string `json:"person" form:"-"` // id
	Seen   int64  `json:"seen" form:"seen"`
	Role   Role   `json:"role" form:"role"`
	Left   bool   `json:"left,omitempty" form:"left"`
}

type called struct {
	Name string `json:"name"`
}

var changed = &ledger.Kind[PersonChanged, called]{
	Name: "person changed", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Keeping},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n PersonChanged, _ called) error {
		left := ""
		if n.Left {
			left = e.At
		}
		return q.ChangePerson(ctx, query.ChangePersonParams{Role: string(n.Role), LeftAt: left, Revised: e.Seq, ID: n.Person})
	},
	Words: func(n PersonChanged, f called) ledger.Words {
		if n.Left {
			return ledger.Words{What: "Left the shop: " + f.Name}
		}
		return ledger.Words{What: "Of the shop: " + f.Name, Detail: "now " + string(n.Role)}
	},
	Travel: ledger.Travel[PersonChanged, called]{Stays: true},
}

// Change does. Whoever left, or is now something else, is signed out everywhere. The last builder
// stays one. Problems are at "role" and "".
func (a *Accounts) Change(ctx context.Context, n PersonChanged) error {
	_, err := ledger.Do(ctx, a.ledger, changed, n.Form, n, func(q *query.Queries) (f called, err error) {
		people, err := list(ctx, q, a.ledger)
		if err != nil {
			return f, err
		}
		builders := 0
		var who *Person
		for i, p := range people {
			if p.ID == n.Person {
				who = &people[i]
			} else if p.Left.IsZero() && p.Role == Builder {
				builders++
			}
		}
		switch {
		case who == nil:
			return f, ledger.ErrNotFound
		case rights[n.Role] == nil:
			return f, ledger.Problems{"role": "choose what they are here"}
		case who.Revised != n.Seen:
			return f, ledger.Moved(who.Name+" as before", "a "+string(who.Role)+map[bool]string{true: "", false: " who left"}[who.Left.IsZero()])
		case builders == 0 && (n.Left || n.Role != Builder):
			return f, ledger.Problems{"": who.Name + " is the only builder: name another first, or nobody could let people in"}
		}
		return called{who.Name}, nil
	})
	if err == nil {
		err = a.SignOutEverywhere(ctx, n.Person)
	}
	return err
}

// PasswordReplaced says that someone whom a code let in set a password without the one before.
type PasswordReplaced struct {
	ledger.Form
	Person string `json:"person"` // id
	By     string `json:"by"`
}

var replaced = &ledger.Kind[PasswordReplaced, struct{}]{
	Name: "password replaced", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Keeping, ledger.Own},
	Apply: func(context.Context, *query.Queries, ledger.Entry, PasswordReplaced, struct{}) error { return nil },
	Words: func(n PasswordReplaced, _ struct{}) ledger.Words {
		return ledger.Words{What: "Password replaced: " + n.By, Detail: "let in by a code, without the one before"}
	},
	Travel: ledger.Travel[PasswordReplaced, struct{}]{Stays: true},
}

// Replaced writes that down; the password itself is none of the journal's.
func (a *Accounts) Replaced(ctx context.Context, n PasswordReplaced) error {
	_, err := ledger.Do(ctx, a.ledger, replaced, n.Form, n, func(q *query.Queries) (none struct{}, err error) { return none, nil })
	return err
}

// list are all people: those who left last.
func list(ctx context.Context, q *query.Queries, l *ledger.Ledger) ([]Person, error) {
	rows, err := q.People(ctx)
	if err != nil {
		return nil, fmt.Errorf("reading the people: %w", err)
	}
	out := make([]Person, len(rows))
	for i, r := range rows {
		out[i] = Person{ID: r.ID, Name: r.Name, Role: Role(r.Role), Revised: r.Revised}
		if r.LeftAt != "" {
			out[i].Left = l.When(r.LeftAt)
		}
	}
	return out, nil
}

// People are all of the shop: those who left last.
func (a *Accounts) People(ctx context.Context) (people []Person, err error) {
	err = a.ledger.View(ctx, func(q *query.Queries) error {
		people, err = list(ctx, q, a.ledger)
		return err
	})
	return people, err
}

// Empty tells whether nobody is named yet.
func (a *Accounts) Empty(ctx context.Context) (empty bool, err error) {
	err = a.ledger.View(ctx, func(q *query.Queries) error {
		empty, err = q.NobodyYet(ctx)
		return err
	})
	return empty, err
}

// Here is someone who belongs to the shop, by id; ledger.ErrNotFound for nobody.
func (a *Accounts) Here(ctx context.Context, id string) (*Person, error) {
	return a.find(ctx, func(p Person) bool { return p.ID == id })
}

// Named is someone who belongs to the shop, by name; ledger.ErrNotFound for nobody.
func (a *Accounts) Named(ctx context.Context, name string) (*Person, error) {
	wanted := Skeleton(name)
	return a.find(ctx, func(p Person) bool { return Skeleton(p.Name) == wanted })
}

func (a *Accounts) find(ctx context.Context, is func(Person) bool) (*Person, error) {
	people, err := a.People(ctx)
	if err != nil {
		return nil, err
	}
	for _, p := range people {
		if p.Left.IsZero() && is(p) {
			return &p, nil
		}
	}
	return nil, ledger.ErrNotFound
}
