// Package holding judges the holds before steps that cannot be undone, and releases
// them: it asks the gate for what each hold requires and the capabilities for the
// evidence, and the rules in core/hold for the judgement.
package holding

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"orpine/internal/airframe"
	"orpine/internal/core/check"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/say"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/riveting"
	"orpine/internal/store/query"
)

// Holding is the judgement of a workshop's holds.
type Holding struct {
	ledger    *ledger.Ledger
	gate      *gate.Gate
	measuring *measuring.Measuring
}

// New returns it.
func New(l *ledger.Ledger, g *gate.Gate, m *measuring.Measuring) *Holding {
	h := &Holding{l, g, m}
	l.KeptBy(h)
	l.MendedBy(h.Reckon)
	return h
}

// Capability is what the package brings to the ledger. Its rows are the gate's, and of
// those whose things a step changes.
var Capability = ledger.Capability{
	Name:  "holding",
	Kinds: ledger.Kinds(stood, released, stepped, withdrawn, stepIsFact, mistaken),
}

// Hold stands before an irreversible step, with how its evidence stands.
type Hold struct {
	gate.Hold
	AssemblyName string
	Airframe     airframe.Airframe
	Rows         []RowLeft
	Judgement    hold.Judgement
	Unrepeated   bool        // its step is done, and a check that it was shown is not measured once more
	Releases     []Release   // oldest first; only where one hold is loaded
	Facts        []gate.Fact // what was done past it, likewise

	rests    []string // ids of setups, checks and instruments that its lines rest on
	measured bool     // something was read for its joint
}

// RowLeft is a row that a hold stands before, with how many of its holes are neither set
// nor kept open.
type RowLeft struct {
	ID, Name string
	Left     int
}

// Left is the first row of the hold with holes to be set, and how many there are in all.
func (h Hold) Left() (first RowLeft, all int) {
	for _, r := range h.Rows {
		if all == 0 && r.Left > 0 {
			first = r
		}
		all += r.Left
	}
	return first, all
}

// Spent tells whether the step was done.
func (h Hold) Spent() bool { return h.Done }

// Release is one release of a hold, with the evidence as it then was.
type Release struct {
	ID, By             string
	At                 time.Time
	Standing           string
	Reason             string
	AnsweredBy, Answer string
	Answered, Document string // when, and where it is kept
	Lines              []hold.Line
	Lapsed             measure.Event // what came first; "" while it stands
	Withdrawn          string        // what of its evidence was taken away since
	Wrong              string        // of a step that is done: on what that was wrong it rested
	Ended              string        // what made a line worse than it was signed; "" while none is
	EndedBy            int64         // the entry that did
	Done               *Done
}

// Done is the irreversible step, recorded.
type Done struct {
	ID       string // of its entry
	By, Note string
	At       time.Time
}

// Recorded is the entry by which the step was recorded as it is done now, under a release; "" for none.
func (h Hold) Recorded() (id string) {
	var last time.Time
	for _, r := range h.Releases {
		if h.Done && h.Fact == "" && r.Done != nil && !r.Done.At.Before(last) {
			id, last = r.Done.ID, r.Done.At
		}
	}
	return id
}

// Current returns the release that stands or was spent; nil when there is none.
func (h Hold) Current() *Release {
	for i := range h.Releases {
		if r := &h.Releases[i]; r.ID == h.ReleaseID {
			return r
		}
	}
	return nil
}

// Dispositions are the answers of someone with authority; they are shown for ever.
func (h Hold) Dispositions() []Release {
	var out []Release
	for _, r := range h.Releases {
		if r.AnsweredBy != "" {
			out = append(out, r)
		}
	}
	return out
}

// Answered is the last answer of someone with authority that holds for how its lines stand now, nil for
// none: signing again may rest on it.
func (h Hold) Answered() *Release {
	list := h.Dispositions()
	for i := len(list) - 1; i >= 0; i-- {
		if h.Judgement.RestsOn(list[i].Lines) {
			return &list[i]
		}
	}
	return nil
}

// Stand is the hold as a check's answer sees it.
func (h Hold) Stand() check.Stand {
	s := check.Stand{ID: h.ID, Name: h.Name, Step: h.Step, Spent: h.Done, ReleasedBy: h.Released, Unrepeated: h.Unrepeated, Met: h.Judgement.Standing == hold.Met}
	worst := h.Judgement.Worst()
	s.Lacks = worst.What + ", " + worst.Why
	return s
}

// Hold loads a hold with the live state of its evidence and all its releases.
func (h *Holding) Hold(ctx context.Context, id string) (one Hold, err error) {
	err = h.ledger.View(ctx, func(q *query.Queries) error {
		one, err = h.One(ctx, q, id)
		return err
	})
	return one, errors.Join(err, h.measuring.Settle(ctx, measuring.Several))
}

// One is Hold within a view.
func (h *Holding) One(ctx context.Context, q *query.Queries, id string) (Hold, error) {
	kept, err := gate.One(ctx, q, id)
	if err != nil {
		return Hold{}, err
	}
	frame, assembly, err := airframe.Of(ctx, q, kept.AssemblyID)
	if err != nil {
		return Hold{}, err
	}
	list, err := h.Judge(ctx, q, frame, map[string]string{assembly.ID: assembly.Name}, []gate.Hold{kept})
	if err != nil {
		return Hold{}, err
	}
	return list[0], h.releases(ctx, q, &list[0])
}

// OfSetup loads the holds that a setup is measured for.
func (h *Holding) OfSetup(ctx context.Context, q *query.Queries, s measuring.Setup) ([]Hold, error) {
	list, err := gate.All(q.HoldsOfSetup(ctx, gate.Reference(s.ID)))
	if err != nil || len(list) == 0 {
		return nil, err
	}
	return h.Judge(ctx, q, s.Airframe, map[string]string{s.AssemblyID: s.AssemblyName}, list)
}

// Judge judges holds of one airframe together; assemblies are the names of theirs.
func (h *Holding) Judge(ctx context.Context, q *query.Queries, frame airframe.Airframe, assemblies map[string]string, list []gate.Hold) ([]Hold, error) {
	e, err := h.gate.Gather(ctx, q, list...)
	if err != nil {
		return nil, err
	}
	out := make([]Hold, len(list))
	for i, kept := range list {
		one := Hold{Hold: kept, AssemblyName: assemblies[kept.AssemblyID], Airframe: frame}
		one.Judgement = judged(kept, e)
		one.rests = append(append([]string{}, e.Joints[kept.ID]...), e.Rests[kept.ID]...)
		for _, c := range e.Checks {
			one.measured = one.measured || c.Taken+c.Stale > 0 && slices.Contains(e.Joints[kept.ID], c.Setup)
		}
		for _, r := range kept.Required {
			if r.Need == hold.Marked {
				one.Rows = append(one.Rows, RowLeft{r.Of, e.Rows[r.Of].Name, e.Rows[r.Of].Left})
			}
			_, again := e.Again[r.Check]
			if c, ok := e.Checks[r.Check]; ok && kept.Done && r.Need == hold.Shown && !again && c.AfterOf == "" {
				one.Unrepeated = true
			}
		}
		out[i] = one
	}
	return out, nil
}

// judged is what the evidence says of a hold.
func judged(kept gate.Hold, e *hold.Evidence) hold.Judgement {
	own := e.Of(kept.ID)
	return hold.Judge(hold.Asks(kept.Required, own), own)
}

func (h *Holding) releases(ctx context.Context, q *query.Queries, one *Hold) error {
	rows, err := q.Releases(ctx, one.ID)
	if err != nil {
		return fmt.Errorf("reading the releases: %w", err)
	}
	facts, err := q.FactsOfHolds(ctx, []string{one.ID})
	if err != nil {
		return fmt.Errorf("reading what was done past it: %w", err)
	}
	for _, f := range facts {
		one.Facts = append(one.Facts, gate.Fact{ID: f.ID, Hold: f.HoldID, Row: f.RowID, Numbers: f.Numbers, How: f.How, By: f.ByName, Day: f.Day, Reason: f.Reason})
	}
	if len(rows) == 0 {
		return nil
	}
	ends, err := q.GateEndsOfHold(ctx, one.ID)
	if err != nil {
		return fmt.Errorf("reading which releases stand: %w", err)
	}
	steps, err := q.Steps(ctx, one.ID)
	if err != nil {
		return fmt.Errorf("reading the steps: %w", err)
	}
	for _, r := range rows {
		release := Release{ID: r.ID, By: r.ByName, At: h.ledger.When(r.At), Standing: r.Standing, Reason: r.Reason, AnsweredBy: r.AnsweredBy, Answer: r.Answer, Answered: r.Answered, Document: r.Document,
			Lapsed: measure.Event(r.Event.String), Withdrawn: r.Withdrawn, Wrong: r.Wrong}
		if err := json.Unmarshal([]byte(r.Evidence), &release.Lines); err != nil {
			return fmt.Errorf("reading the evidence of a release: %w", err)
		}
		for _, end := range ends {
			if end.ReleaseID == r.ID {
				release.Ended, release.EndedBy = end.Why, end.Ended
				if release.Wrong == "" {
					release.Wrong = end.Wrong
				}
			}
		}
		for _, s := range steps {
			if s.ReleaseID == r.ID {
				release.Done = &Done{s.ID, s.ByName, s.Note, h.ledger.When(s.At)}
			}
		}
		one.Releases = append(one.Releases, release)
	}
	return nil
}

// NewRelease is someone's wish to release a hold, on the evidence that was shown.
type NewRelease struct {
	ledger.Form
	Hold       string   `json:"hold" form:"-"`  // id
	Shown      []string `json:"shown" form:"-"` // hold.Judgement.Digest of what was on screen
	By         string   `json:"by" form:"by"`
	Reason     string   `json:"reason,omitempty" form:"reason" text:"lines"`
	AnsweredBy string   `json:"answered_by,omitempty" form:"answered_by"`
	Answer     string   `json:"answer,omitempty" form:"answer" text:"lines"`
	Answered   string   `json:"answered,omitempty" form:"answered"`              // when
	Document   string   `json:"document,omitempty" form:"document" text:"lines"` // where the answer is kept
	Usually    bool     `json:"usually,omitempty" form:"usually"`                // on the usual limits, and not the plans'
	Others     string   `json:"others,omitempty" form:"others"`                  // these are other holes than those of a hold that is at stop
}

// evidenced is a release with the evidence as it was.
type evidenced struct {
	Hold      string          `json:"hold"` // name
	Assembly  string          `json:"assembly"`
	Standing  string          `json:"standing"`
	Evidence  json.RawMessage `json:"evidence"`
	Worksheet json.RawMessage `json:"worksheet,omitempty"`
}

var released = &ledger.Kind[NewRelease, evidenced]{
	Name: "release", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make, ledger.Sign},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewRelease, f evidenced) error {
		return gate.PutReleased(ctx, q, e, gate.Released{Hold: n.Hold, By: n.By, Standing: f.Standing, Reason: n.Reason, AnsweredBy: n.AnsweredBy, Answer: n.Answer, Answered: n.Answered, Document: n.Document, Evidence: f.Evidence})
	},
	Words: func(n NewRelease, f evidenced) ledger.Words {
		w := ledger.Words{What: f.Assembly + ": released, " + f.Hold, Detail: say.Join("evidence "+f.Standing, n.Reason)}
		if n.AnsweredBy != "" {
			w.Answer = n.AnsweredBy + " answered" + say.After(" ", n.Answered) + ": " + n.Answer + say.After(" · kept: ", n.Document)
		}
		return w
	},
}

// Release releases a hold on the evidence as it is now, or says plainly why not.
func (h *Holding) Release(ctx context.Context, n NewRelease) error {
	wrong := ledger.Problems{}
	wrong.Text("by", &n.By, ledger.MaxName, "")
	wrong.Text("reason", &n.Reason, ledger.MaxNote, "")
	wrong.Text("answered_by", &n.AnsweredBy, ledger.MaxName, "")
	wrong.Text("answer", &n.Answer, ledger.MaxNote, "")
	wrong.Text("answered", &n.Answered, ledger.MaxName, "")
	wrong.Text("document", &n.Document, ledger.MaxNote, "")
	_, err := ledger.Do(ctx, h.ledger, released, n.Form, n, func(q *query.Queries) (f evidenced, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		one, err := h.One(ctx, q, n.Hold)
		if err != nil {
			return f, err
		}
		switch {
		case one.Fact != "" && one.Done:
			return f, ledger.Problems{"": "its step was done " + one.Fact + ", and is never signed afterwards"}
		case one.Open():
			return f, ledger.Problems{"": "it is released already, by " + one.Released}
		}
		frozen, err := gate.FrozenHold(ctx, q, n.Hold)
		if err != nil {
			return f, err
		}
		if len(frozen) > 0 {
			return f, ledger.Problems{"": "it " + frozen[0].Says()}
		}
		if err := one.shows(n.Shown); err != nil {
			return f, err
		}
		if err := h.unasked(ctx, q, one.Hold, n.Others, wrong); err != nil {
			return f, err
		}
		for _, e := range one.Judgement.Allow(hold.Request{By: n.By, Reason: n.Reason, AnsweredBy: n.AnsweredBy, Answer: n.Answer, Answered: n.Answered, Document: n.Document, Usually: n.Usually}) {
			wrong.Add(e.Field, e.Message)
		}
		if err := wrong.Err(); err != nil {
			return f, err
		}
		f = evidenced{Hold: one.Name, Assembly: one.AssemblyName, Standing: one.Judgement.Standing.String()}
		if f.Evidence, err = json.Marshal(one.Judgement.Lines); err != nil {
			return f, err
		}
		if one.SetupID == "" {
			return f, nil
		}
		s, err := h.measuring.Load(ctx, q, one.SetupID)
		if err != nil {
			return f, err
		}
		for i := range s.Checks {
			s.Solve(i)
		}
		f.Worksheet, err = s.Worksheet()
		return f, err
	})
	return err
}

// unasked asks of a hold of before joints were told apart whether another one, before the same step
// of its assembly and at stop, is for other holes: once, where it is signed anew.
func (h *Holding) unasked(ctx context.Context, q *query.Queries, one gate.Hold, others string, wrong ledger.Problems) error {
	if others != "" {
		return nil
	}
	rivals, err := gate.Rivals(ctx, q, one.AssemblyID, one.Step)
	if err != nil {
		return err
	}
	for _, r := range rivals {
		if r.ID == one.ID || one.Joint != "" && r.Joint != "" {
			continue
		}
		j, err := h.gate.Judge(ctx, q, r)
		if err != nil {
			return err
		}
		if l, stopped := j.Stopped(); stopped {
			wrong.Add("others", fmt.Sprintf("“%s” stands before the same step here and is at stop (%s): are these other holes?", r.Name, l.What))
		}
	}
	return nil
}

// shows refuses a release that was asked for on other evidence than there is now.
func (h Hold) shows(shown []string) error {
	since := h.Judgement.Since(shown)
	if len(since) == 0 && len(shown) == len(h.Judgement.Lines) {
		return nil
	}
	if len(since) == 0 {
		return ledger.Moved("more evidence", h.Judgement.Standing.String())
	}
	before := "nothing of " + since[0].What
	if was, ok := since[0].Was(shown); ok {
		before = was
	}
	return ledger.Moved(before, since[0].What+": "+since[0].Why+" ("+since[0].Standing.String()+")")
}

// NewStep records the irreversible step as done, under the release that was shown.
type NewStep struct {
	ledger.Form
	Hold    string `json:"hold" form:"-"`          // id
	Release string `json:"release" form:"release"` // id
	By      string `json:"by" form:"by"`
	Note    string `json:"note,omitempty" form:"note" text:"lines"`
}

// made is a step that was done.
type made struct {
	Hold      string              `json:"hold"` // name
	Assembly  string              `json:"assembly"`
	Permanent string              `json:"permanent"`
	Happened  *measuring.Happened `json:"happened,omitempty"`
}

var stepped = &ledger.Kind[NewStep, made]{
	Name: "step", Version: 1, Bears: ledger.Permanent, Takes: ledger.Rights{ledger.Make},
	Makes: func(_ string, n NewStep, _ made) []ledger.Made {
		return []ledger.Made{{Hold: n.Hold, Release: n.Release}}
	},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewStep, f made) error {
		if err := gate.PutStep(ctx, q, e, gate.Step{Hold: n.Hold, Release: n.Release, By: n.By, Note: n.Note}); err != nil {
			return err
		}
		if f.Happened == nil {
			return nil
		}
		return measuring.PutHappened(ctx, q, e, *f.Happened)
	},
	Words: func(n NewStep, f made) ledger.Words {
		return ledger.Words{What: f.Assembly + ": done, " + f.Hold, Detail: say.Join(f.Permanent, n.Note)}
	},
}

// RecordStep spends the release of a hold.
func (h *Holding) RecordStep(ctx context.Context, n NewStep) error {
	wrong := ledger.Problems{}
	wrong.Text("by", &n.By, ledger.MaxName, "who did it?")
	wrong.Text("note", &n.Note, ledger.MaxNote, "")
	_, err := ledger.Do(ctx, h.ledger, stepped, n.Form, n, func(q *query.Queries) (f made, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		one, err := waiting(ctx, q, n.Hold, n.Release)
		if err != nil {
			return f, err
		}
		_, assembly, err := airframe.Of(ctx, q, one.AssemblyID)
		if err != nil {
			return f, err
		}
		left, err := riveting.Unfinished(ctx, q, one)
		if err != nil {
			return f, err
		}
		if left != "" {
			return f, ledger.Problems{"": left}
		}
		f = made{Hold: one.Name, Assembly: assembly.Name, Permanent: one.Permanent}
		what, disturbs := hold.Step(one.Step).Event()
		if !disturbs || one.SetupID == "" {
			return f, nil
		}
		s, err := h.measuring.Load(ctx, q, one.SetupID)
		if err != nil {
			return f, err
		}
		happened, err := s.Happen(ctx, q, ledger.Child(n.ID, "event"), what)
		f.Happened = &happened
		return f, err
	})
	return err
}

// waiting loads a hold whose release of that id stands.
func waiting(ctx context.Context, q *query.Queries, id, release string) (gate.Hold, error) {
	one, err := gate.One(ctx, q, id)
	switch {
	case err != nil:
		return one, err
	case one.Done:
		return one, ledger.Problems{"": "the step is recorded already, and its release spent"}
	case !one.Waiting():
		return one, ledger.Problems{"": hold.NotReleased(one.Name, one.Ended)}
	case one.ReleaseID != release:
		return one, ledger.Moved("another release", "released by "+one.Released)
	}
	return one, nil
}

// Withdrawal ends a release before its step is done.
type Withdrawal struct {
	ledger.Form
	Hold    string        `json:"hold" form:"-"`          // id
	Release string        `json:"release" form:"release"` // id
	What    measure.Event `json:"what" form:"what"`       // what came first
	By      string        `json:"by" form:"by"`
}

// ended is a release that was ended.
type ended struct {
	Name      string         `json:"name"`
	Withdrawn gate.Withdrawn `json:"withdrawn"`
}

var withdrawn = &ledger.Kind[Withdrawal, ended]{
	Name: "withdrawal", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, _ Withdrawal, f ended) error {
		return gate.PutWithdrawn(ctx, q, e, f.Withdrawn)
	},
	Words: func(_ Withdrawal, f ended) ledger.Words {
		return ledger.Words{What: f.Name + ": release withdrawn: " + f.Withdrawn.Why}
	},
}

// Withdraw ends the release that stands: something moved, and no setup is there to say so
// to. Problems are at "what" and "by".
func (h *Holding) Withdraw(ctx context.Context, n Withdrawal) error {
	wrong := ledger.Problems{}
	wrong.Text("by", &n.By, ledger.MaxName, "who saw it?")
	if !n.What.Known() {
		wrong.Add("what", "what was it? Choose one of the list")
	}
	_, err := ledger.Do(ctx, h.ledger, withdrawn, n.Form, n, func(q *query.Queries) (f ended, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		one, err := waiting(ctx, q, n.Hold, n.Release)
		if err != nil {
			return f, err
		}
		_, assembly, err := airframe.Of(ctx, q, one.AssemblyID)
		return ended{assembly.Name + ", " + one.Name, gate.Withdraw(fmt.Sprintf("%s, seen by %s", n.What, n.By), one)}, err
	})
	return err
}
