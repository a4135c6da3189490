// Package gate keeps the holds before steps that cannot be undone: what each asks for,
// which release is in force, whether its step is done, and what people looked at and
// answer for by name. It judges nothing; a capability registers the evidence that it
// provides, and package holding judges it.
package gate

import (
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"slices"

	"orpine/internal/core/hold"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Hold stands before an irreversible step.
type Hold struct {
	ID, Name, Step string
	Permanent, Why string
	AssemblyID     string
	SetupID        string // that its checks are in; "" for none
	Pins           bool   // it stands before the pin holes alone
	Required       []hold.Requirement
	ReleaseID      string // of the release in force; "" while it is not released
	Released       string // by whom
	Done           bool
	Revised        int64  // the entry that changed it last
	Joint          string // id of the hold whose joint it guards; "" where nobody was asked, and it is its own
	Fact           string // how its step was done without a release; "" for under one
	Ended          string // why its last release stands no more; "" for none
	Since          string // why the release ended since, under which an entry that waited was made; see AsThen
}

// Open tells whether its step may be taken, or was.
func (h Hold) Open() bool { return h.ReleaseID != "" || h.Done }

// Waiting tells whether it is released and its step not done.
func (h Hold) Waiting() bool { return h.ReleaseID != "" && !h.Done }

// Capability is what the package brings to the ledger.
var Capability = ledger.Capability{
	Name:   "gate",
	Tables: append(ledger.Records("holds", "releases", "steps", "looks", "joint_setups", "facts"), ledger.Deriveds("gate_ends")...),
	Kinds:  ledger.Kinds(looked),
}

// Gate is the holds of a workshop.
type Gate struct {
	ledger    *ledger.Ledger
	providers []Provider
	photos    func(ctx context.Context, q *query.Queries, ids []string) (map[string]int, error)
}

// PicturedBy is told who counts the photos of things, by their ids.
func (g *Gate) PicturedBy(count func(ctx context.Context, q *query.Queries, ids []string) (map[string]int, error)) {
	g.photos = count
}

// New returns the gate, with the evidence that it has itself.
func New(l *ledger.Ledger) *Gate {
	g := &Gate{ledger: l}
	g.Register(Provider{Gather: joints})
	g.Register(Provider{[]hold.Need{hold.Before, hold.Seconded, hold.Prepared}, g.own})
	g.Register(Provider{[]hold.Need{hold.Handed}, g.eyed})
	return g
}

// A Provider gathers evidence for some needs of holds, all of them at once.
type Provider struct {
	Needs  []hold.Need // nil for every hold, whatever it asks for
	Gather func(ctx context.Context, q *query.Queries, holds []Hold, into *hold.Evidence) error
}

// Register lets a capability provide evidence.
func (g *Gate) Register(p Provider) { g.providers = append(g.providers, p) }

// Gather collects what the holds ask for, and nothing else.
func (g *Gate) Gather(ctx context.Context, q *query.Queries, holds ...Hold) (*hold.Evidence, error) {
	return g.gather(ctx, q, hold.NewEvidence(), holds)
}

// GatherChecks collects what is measured for a hold, without what nobody changes by measuring:
// notices, questions, facts and what lies out of reach.
func (g *Gate) GatherChecks(ctx context.Context, q *query.Queries, h Hold) (*hold.Evidence, error) {
	e := hold.NewEvidence()
	e.Measured = true
	return g.gather(ctx, q, e, []Hold{h})
}

func (g *Gate) gather(ctx context.Context, q *query.Queries, e *hold.Evidence, holds []Hold) (*hold.Evidence, error) {
	for _, p := range g.providers {
		if p.Needs != nil && !needed(holds, p.Needs) {
			continue
		}
		if err := p.Gather(ctx, q, holds, e); err != nil {
			return nil, fmt.Errorf("gathering evidence: %w", err)
		}
	}
	return e, nil
}

func needed(holds []Hold, needs []hold.Need) bool {
	return slices.ContainsFunc(holds, func(h Hold) bool {
		return slices.ContainsFunc(h.Required, func(r hold.Requirement) bool { return slices.Contains(needs, r.Need) })
	})
}

// About are the ids of what holds ask some needs of, each once.
func About(holds []Hold, needs ...hold.Need) []string {
	var ids []string
	for _, h := range holds {
		for _, r := range h.Required {
			if r.Of != "" && slices.Contains(needs, r.Need) && !slices.Contains(ids, r.Of) {
				ids = append(ids, r.Of)
			}
		}
	}
	return ids
}

// own is the evidence of holds themselves: a step that comes before, a second
// person's look, and work that has no row.
func (g *Gate) own(ctx context.Context, q *query.Queries, holds []Hold, into *hold.Evidence) error {
	if before := About(holds, hold.Before); len(before) > 0 {
		rows, err := q.HoldsByID(ctx, before)
		if err != nil {
			return err
		}
		for _, r := range rows {
			into.Before[r.ID] = hold.StepState{Name: r.Name, Done: r.Done == 1}
		}
	}
	var ids []string
	for _, h := range holds {
		if slices.ContainsFunc(h.Required, func(r hold.Requirement) bool { return r.Need == hold.Seconded || r == work }) {
			ids = append(ids, h.ID)
		}
	}
	if len(ids) == 0 {
		return nil
	}
	looks, err := Looks(ctx, q, g.ledger, ids...)
	if err != nil {
		return err
	}
	for _, id := range ids {
		into.Seconds[id] = looks.Last(hold.Seconded, id, "")
		into.Works[id] = hold.RowState{Name: "the work", Prepared: looks.All(hold.Prepared, id)}
	}
	return nil
}

// Eyed is what a hold requires of a part that is on no list, by the look of two people: which
// part, and what the eye can check ("rib 3: its flange faces aft"); none for "".
func Eyed(submission, what string) []hold.Requirement {
	if what == "" {
		return nil
	}
	return []hold.Requirement{{Need: hold.Handed, Of: ledger.Child(submission, "hand"), What: what}}
}

// eyed are the hands of parts that are on no list.
func (g *Gate) eyed(ctx context.Context, q *query.Queries, holds []Hold, into *hold.Evidence) error {
	what := map[string]string{}
	var ids []string
	for _, h := range holds {
		for _, r := range h.Required {
			if r.Need == hold.Handed && r.What != "" {
				ids, what[r.Of] = append(ids, r.Of), r.What
			}
		}
	}
	if len(ids) == 0 {
		return nil
	}
	looks, err := Looks(ctx, q, g.ledger, ids...)
	for id, says := range what {
		into.Parts[id] = hold.PartState{Name: says, Look: looks.Last(hold.Handed, id, "")}
	}
	return err
}

// One loads a hold.
func One(ctx context.Context, q *query.Queries, id string) (Hold, error) {
	row, err := q.Hold(ctx, id)
	if err != nil {
		return Hold{}, ledger.Found(err)
	}
	return From(row)
}

// All turns rows into holds.
func All(rows []query.HoldsNow, err error) ([]Hold, error) {
	if err != nil {
		return nil, fmt.Errorf("reading the holds: %w", err)
	}
	out := make([]Hold, len(rows))
	for i, r := range rows {
		if out[i], err = From(r); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// From turns a row into a hold.
func From(r query.HoldsNow) (Hold, error) {
	h := Hold{ID: r.ID, Name: r.Name, Step: r.Step, Permanent: r.Permanent, Why: r.Why, AssemblyID: r.AssemblyID, SetupID: r.SetupID.String, Pins: r.Scope == pins,
		ReleaseID: r.Released.String, Released: r.ReleasedBy, Done: r.Done == 1, Revised: r.Revised, Joint: r.Joint, Fact: r.Fact}
	if r.Ended > 0 && !h.Done { // the record has it, and it stands no more
		h.ReleaseID, h.Released, h.Ended = "", "", r.EndedWhy
	}
	if err := json.Unmarshal([]byte(r.Required), &h.Required); err != nil {
		return h, fmt.Errorf("reading what %q asks for: %w", h.Name, err)
	}
	return h, nil
}

// pins is the scope of a hold before the pin holes alone.
const pins = "pins"

// work is what a hold before riveting asks for while it has no row: that the work is
// taken apart, deburred, primed and refitted.
var work = hold.Requirement{Need: hold.Prepared}

// New hold, as a form describes it.
type NewHold struct {
	Name      string             `json:"name"`
	Step      string             `json:"step"`
	Permanent string             `json:"permanent" text:"lines"`
	Why       string             `json:"why" text:"lines"`
	Required  []hold.Requirement `json:"required"`
	// Joint is the id of the hold whose holes, bay or seam it is about too; "" for others.
	Joint string `json:"joint,omitempty"`
	// Same is the id of a hold that there is already, and that is measured for once more: then no
	// hold is made. Other says that these are other holes than those of the holds there are.
	Same  string `json:"same,omitempty"`
	Other bool   `json:"other,omitempty"`
}

// Made is a hold as the facts of an entry have it.
type Made struct {
	ID        string          `json:"id"`
	Assembly  string          `json:"assembly"`
	Setup     string          `json:"setup,omitempty"`
	Name      string          `json:"name"`
	Step      string          `json:"step"`
	Permanent string          `json:"permanent"`
	Why       string          `json:"why"`
	Required  json.RawMessage `json:"required"`
	Scope     string          `json:"scope,omitempty"`
	Joint     string          `json:"joint,omitempty"` // id of the hold whose joint it guards
}

// Make returns the facts of a hold.
func Make(id, assembly, setup string, n NewHold, onlyPins bool) (Made, error) {
	m := Made{ID: id, Assembly: assembly, Setup: setup, Name: n.Name, Step: n.Step, Permanent: n.Permanent, Why: n.Why}
	if onlyPins {
		m.Scope = pins
	}
	if m.Joint = n.Joint; m.Joint == "" {
		m.Joint = id
	}
	required := append([]hold.Requirement{}, n.Required...)
	if n.Step == "rivet" && !slices.ContainsFunc(required, func(r hold.Requirement) bool { return r.Need == hold.Prepared }) {
		required = append(required, work)
	}
	var err error
	m.Required, err = json.Marshal(required)
	return m, err
}

// Put writes a hold that was made.
func Put(ctx context.Context, q *query.Queries, e ledger.Entry, m Made) error {
	return q.AddHold(ctx, query.AddHoldParams{ID: m.ID, AssemblyID: m.Assembly, SetupID: Reference(m.Setup), Name: m.Name, Step: m.Step, Permanent: m.Permanent, Why: m.Why, Required: string(m.Required), Scope: m.Scope, Joint: m.Joint, Entry: e.Seq, Revised: e.Seq})
}

// Asked is a hold that asks for more, as the facts of an entry have it.
type Asked struct {
	Hold     string          `json:"hold"`
	Required json.RawMessage `json:"required"`
}

// Ask returns the facts of a hold that asks for more; it must not be released yet,
// else there is a Problem at a field. Each row is asked for by itself, so that the work
// without one goes where a row comes.
func Ask(h Hold, field string, more []hold.Requirement) (Asked, error) {
	if h.Open() {
		return Asked{}, ledger.Problems{field: fmt.Sprintf("“%s” is released already; it can ask for no more", h.Name)}
	}
	required := append([]hold.Requirement{}, h.Required...)
	if slices.ContainsFunc(more, func(r hold.Requirement) bool { return r.Need == hold.Prepared && r.Of != "" }) {
		required = slices.DeleteFunc(required, func(r hold.Requirement) bool { return r == work })
	}
	data, err := json.Marshal(append(required, more...))
	return Asked{h.ID, data}, err
}

// PutAsked writes that holds ask for more.
func PutAsked(ctx context.Context, q *query.Queries, e ledger.Entry, asked []Asked) error {
	for _, a := range asked {
		if err := q.ChangeHold(ctx, query.ChangeHoldParams{Required: string(a.Required), Revised: e.Seq, ID: a.Hold}); err != nil {
			return err
		}
	}
	return nil
}

// Released is a release as the request and facts of an entry have it.
type Released struct {
	Hold, By           string
	Standing, Reason   string
	AnsweredBy, Answer string
	Answered, Document string
	Evidence           json.RawMessage
}

// PutReleased writes that a hold is released.
func PutReleased(ctx context.Context, q *query.Queries, e ledger.Entry, r Released) error {
	err := q.AddRelease(ctx, query.AddReleaseParams{ID: e.ID, HoldID: r.Hold, ByName: r.By, At: e.At, Standing: r.Standing, Reason: r.Reason, AnsweredBy: r.AnsweredBy, Answer: r.Answer, Answered: r.Answered, Document: r.Document, Evidence: string(r.Evidence), Entry: e.Seq})
	if err != nil {
		return err
	}
	return q.ReleaseHold(ctx, query.ReleaseHoldParams{Released: Reference(e.ID), ReleasedBy: r.By, Revised: e.Seq, ID: r.Hold})
}

// Step is a step that was done under a release.
type Step struct{ Hold, Release, By, Note string }

// PutStep writes that the step of a hold is done.
func PutStep(ctx context.Context, q *query.Queries, e ledger.Entry, s Step) error {
	err := q.AddStep(ctx, query.AddStepParams{ID: e.ID, ReleaseID: s.Release, HoldID: s.Hold, ByName: s.By, Note: s.Note, At: e.At, Entry: e.Seq})
	if err != nil {
		return err
	}
	return q.DoneHold(ctx, query.DoneHoldParams{Revised: e.Seq, ID: s.Hold})
}

// Withdrawn is the releases that end because evidence was taken away, as the facts of
// an entry have them.
type Withdrawn struct {
	Releases []string `json:"releases"`
	Why      string   `json:"why"`
}

// Withdraw returns the facts of a hold whose release ends, if it has one that is not
// spent.
func Withdraw(why string, holds ...Hold) Withdrawn {
	w := Withdrawn{Releases: []string{}, Why: why}
	for _, h := range holds {
		if h.Waiting() {
			w.Releases = append(w.Releases, h.ReleaseID)
		}
	}
	return w
}

// PutWithdrawn writes that releases end.
func PutWithdrawn(ctx context.Context, q *query.Queries, e ledger.Entry, w Withdrawn) error {
	for _, id := range w.Releases {
		if err := q.WithdrawRelease(ctx, query.WithdrawReleaseParams{Withdrawn: w.Why, ID: id}); err != nil {
			return err
		}
		if err := q.UnreleaseHold(ctx, query.UnreleaseHoldParams{Revised: e.Seq, Release: Reference(id)}); err != nil {
			return err
		}
	}
	return nil
}

// PutLapsed writes that releases lapsed with an event.
func PutLapsed(ctx context.Context, q *query.Queries, e ledger.Entry, releases []string, event string) error {
	for _, id := range releases {
		if err := q.LapseRelease(ctx, query.LapseReleaseParams{Lapsed: Reference(event), ID: id}); err != nil {
			return err
		}
		if err := q.UnreleaseHold(ctx, query.UnreleaseHoldParams{Revised: e.Seq, Release: Reference(id)}); err != nil {
			return err
		}
	}
	return nil
}

// Reference is an id that may be none.
func Reference(id string) sql.NullString { return sql.NullString{String: id, Valid: id != ""} }

// AskLess returns the facts of a hold that asks for less: what is withdrawn is not shown to
// it any more, and a line stays that says so, as it stood then: at stop, or shown; else unsure.
func AskLess(h Hold, id, why string, was hold.Standing, gone func(hold.Requirement) bool) (Asked, error) {
	required := slices.DeleteFunc(append([]hold.Requirement{}, h.Required...), gone)
	if len(required) < len(h.Required) {
		if was == hold.Missing {
			was = hold.Unsure
		}
		required = append(required, hold.Requirement{Need: hold.Less, Of: id, What: why, Was: was.String()})
	}
	data, err := json.Marshal(required)
	return Asked{h.ID, data}, err
}

// PutUndone writes that the step of a hold is not done any more: a closing that was opened
// again. Its release stays on the record as spent.
func PutUndone(ctx context.Context, q *query.Queries, e ledger.Entry, id string) error {
	return q.UndoneHold(ctx, query.UndoneHoldParams{Revised: e.Seq, ID: id})
}

// PutNotDone writes that the step of a hold, recorded by an entry, was not done: the release that it spent is not in
// force any more. One that was told as a fact spent none.
func PutNotDone(ctx context.Context, q *query.Queries, e ledger.Entry, s Step, step, why string) error {
	if s.Release == "" {
		if err := q.RemoveFact(ctx, step); err != nil {
			return err
		}
		return q.UnfactHold(ctx, query.UnfactHoldParams{Revised: e.Seq, ID: s.Hold})
	}
	if err := q.RemoveStep(ctx, step); err != nil {
		return err
	}
	if err := q.WithdrawRelease(ctx, query.WithdrawReleaseParams{Withdrawn: why, ID: s.Release}); err != nil {
		return err
	}
	return PutUndone(ctx, q, e, s.Hold)
}

// PutWrong marks releases of steps that are done: they rested on what was wrong, for ever.
func PutWrong(ctx context.Context, q *query.Queries, releases []string, why string) error {
	for _, id := range releases {
		if err := q.MarkRelease(ctx, query.MarkReleaseParams{Wrong: why, ID: id}); err != nil {
			return err
		}
	}
	return nil
}

// Keepers put holds right.
var Keepers = []ledger.Keeper{{Kind: "hold", Load: loadHold, Judge: judgeHold, Put: putHold, Withdraw: withdrawHold}}

func loadHold(ctx context.Context, q *query.Queries, id string, _ map[string]string) (t ledger.Thing, err error) {
	h, err := q.Hold(ctx, id)
	if err != nil {
		return t, ledger.Found(err)
	}
	t = ledger.Thing{Kind: "hold", ID: id, Title: h.Name, Path: "/holds/" + id, After: "/assemblies/" + h.AssemblyID, Seen: h.Revised, Withdrawn: h.Withdrawn, Fields: []ledger.ThingField{
		{Key: "name", Label: "What is it held for?", Value: h.Name}, {Key: "permanent", Label: "What becomes permanent", Value: h.Permanent}, {Key: "why", Label: "Why it matters, in a line", Value: h.Why},
	}}
	rows, err := q.RowsOfHold(ctx, id)
	if err != nil {
		return t, err
	}
	bays, err := q.BaysOfAssembly(ctx, h.AssemblyID)
	switch closes := slices.ContainsFunc(bays, func(b query.Bay) bool { return b.ClosedBy == id }); {
	case h.Done == 1:
		t.Stays = "its step is done, and stays on the record"
	case slices.ContainsFunc(rows, func(r query.RivetRow) bool { return r.RivetHold == id }):
		t.Stays = "the row “" + rows[0].Name + "” is set under it: withdraw the row first"
	case closes:
		t.Stays = "a bay is closed under it: withdraw the bay first"
	}
	return t, err
}

// holdFacts are a hold as it was put right.
type holdFacts struct {
	Name      string          `json:"name"`
	Permanent string          `json:"permanent"`
	Why       string          `json:"why"`
	Required  json.RawMessage `json:"required"`
}

func judgeHold(ctx context.Context, q *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	h, err := q.Hold(ctx, t.ID)
	f := holdFacts{h.Name, h.Permanent, h.Why, json.RawMessage(h.Required)}
	if err != nil || values == nil {
		return f, err
	}
	f.Name, f.Permanent, f.Why = values["name"], values["permanent"], values["why"]
	wrong.Text("name", &f.Name, ledger.MaxName, "what is it held for?")
	wrong.Text("permanent", &f.Permanent, ledger.MaxNote, "what becomes permanent?")
	wrong.Text("why", &f.Why, ledger.MaxNote, "")
	return f, nil
}

func putHold(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	var f holdFacts
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	return q.AmendHold(ctx, query.AmendHoldParams{Name: f.Name, Permanent: f.Permanent, Why: f.Why, Required: string(f.Required), Revised: e.Seq, ID: id})
}

func withdrawHold(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string, _ json.RawMessage) error {
	return PutHoldWithdrawn(ctx, q, e, id, reason)
}

// PutHoldWithdrawn writes that a hold stands before nothing any more.
func PutHoldWithdrawn(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string) error {
	return q.WithdrawHold(ctx, query.WithdrawHoldParams{Withdrawn: reason, Revised: e.Seq, ID: id})
}

// Fact is metal that was worked without a release, or before its joint had a hold here.
type Fact struct {
	ID, Hold, Row string // Row is "" for the whole step
	Numbers       string
	How, By, Day  string
	Reason        string
}

// How something is a fact.
const (
	Unreleased = "without release"
	DoneBefore = "before"
)

// PutFact writes one. Of a whole step the hold is done, and is never signed afterwards.
func PutFact(ctx context.Context, q *query.Queries, e ledger.Entry, f Fact) error {
	err := q.AddFact(ctx, query.AddFactParams{ID: f.ID, HoldID: f.Hold, RowID: f.Row, Numbers: f.Numbers, How: f.How, ByName: f.By, Day: f.Day, Reason: f.Reason, At: e.At, Entry: e.Seq})
	if err != nil || f.Row != "" {
		return err
	}
	return q.FactHold(ctx, query.FactHoldParams{Fact: f.How, Revised: e.Seq, ID: f.Hold})
}

// factLines are the lines of holds of the same joint as one that was passed by: what was done
// without a release counts as come, and is evidence for nothing.
func factLines(ctx context.Context, q *query.Queries, holds []Hold, same map[string][]string, into *hold.Evidence) error {
	var ids []string
	for _, list := range same {
		for _, id := range list {
			if !slices.Contains(ids, id) {
				ids = append(ids, id)
			}
		}
	}
	if len(ids) == 0 {
		return nil
	}
	facts, err := q.FactsOfHolds(ctx, ids)
	if err != nil {
		return fmt.Errorf("reading what was done without a release: %w", err)
	}
	for _, h := range holds {
		for _, f := range facts {
			if f.How != Unreleased || f.HoldID == h.ID || !slices.Contains(same[h.ID], f.HoldID) {
				continue
			}
			what := "the step before"
			if f.Numbers != "" {
				what = "hole " + f.Numbers
			}
			into.Extra[h.ID] = append(into.Extra[h.ID], hold.Line{Key: "fact/" + f.ID, What: what, Standing: hold.Unsure, Why: "done without release, by " + f.ByName + ": " + f.Reason})
		}
	}
	return nil
}

// PutEnd keeps whether a release stands.
func PutEnd(ctx context.Context, q *query.Queries, end query.SetGateEndParams) error {
	return q.SetGateEnd(ctx, end)
}

// MarkWrong keeps on what that was wrong a spent release rested.
func MarkWrong(ctx context.Context, q *query.Queries, release, why string) error {
	return q.WrongGate(ctx, query.WrongGateParams{Wrong: why, ReleaseID: release})
}

// RowGate is what stands before the holes of a row.
type RowGate struct {
	ID, Name, Step string
	Pins           bool
	Open           bool   // a release stands, or the step is done
	Ended          string // why its last release stands no more; "" for none
	Recorded       bool   // likewise as the record has it: a release that ended since counts
}

// OfRow are the holds that guard a row: one that its key at a hole asks.
func OfRow(ctx context.Context, q *query.Queries, row string) ([]RowGate, error) {
	rows, err := q.GateOfRow(ctx, row)
	if err != nil {
		return nil, fmt.Errorf("reading the holds of a row: %w", err)
	}
	then, err := standingThen(ctx, q, func(yield func(id string)) {
		for _, r := range rows {
			yield(r.ID)
		}
	})
	out := make([]RowGate, len(rows))
	for i, r := range rows {
		recorded := r.Done == 1 || r.Released.Valid
		out[i] = RowGate{r.ID, r.Name, r.Step, r.Scope == pins, recorded && (r.Done == 1 || r.Ended == 0), r.EndedWhy, recorded}
		if then != nil {
			out[i].Open = r.Done == 1 || then[r.ID].ReleaseID != ""
		}
	}
	return out, err
}
