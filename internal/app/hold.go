package app

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"orpine/internal/core/hold"
	"orpine/internal/core/journal"
	"orpine/internal/core/measure"
	"orpine/internal/core/row"
	"orpine/internal/core/school"
	"orpine/internal/store"
	"orpine/internal/store/query"
)

// Hold stands before an irreversible step.
type Hold struct {
	ID, Name, Step string
	Permanent, Why string
	AssemblyID     string
	AssemblyName   string
	Airframe       Airframe
	Setup          Setup // that its checks are in; the zero setup for a hold that asks for none
	Pins           bool  // it stands before the pin holes alone
	Rows           []RowLeft
	Required       []hold.Requirement
	Judgement      Judgement
	Releases       []Release // oldest first
}

// Judgement is the live state of a hold's evidence.
type Judgement struct{ hold.Judgement }

// Worst is the first line of the worst standing: the plain reason why the hold
// stands as it does.
func (j Judgement) Worst() hold.Line {
	for _, l := range j.Lines {
		if l.Standing == j.Standing {
			return l
		}
	}
	return hold.Line{}
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

// Stop is the first line that is outside its limits, whatever else is missing.
func (j Judgement) Stop() (l hold.Line, ok bool) {
	i := slices.IndexFunc(j.Lines, func(l hold.Line) bool { return l.Standing == hold.Stop })
	if i < 0 {
		return l, false
	}
	return j.Lines[i], true
}

// Telling is what to say of the hold in a line: what is outside its limits before what is
// still missing.
func (j Judgement) Telling() hold.Line {
	if l, ok := j.Stop(); ok {
		return l
	}
	return j.Worst()
}

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
	Done               *Done
}

// Done is the irreversible step, recorded.
type Done struct {
	By, Note string
	At       time.Time
}

// Spent tells whether the step was done.
func (h Hold) Spent() bool {
	current := h.Current()
	return current != nil && current.Done != nil
}

// Released tells whether the step may be taken now.
func (h Hold) Released() bool {
	current := h.Current()
	return current != nil && current.Done == nil
}

// Current returns the release that stands or was spent; nil when there is none.
func (h Hold) Current() *Release {
	for i := len(h.Releases) - 1; i >= 0; i-- {
		if r := &h.Releases[i]; r.Lapsed == "" && r.Withdrawn == "" {
			return r
		}
	}
	return nil
}

// complete tells whether all evidence is there, whatever it says.
func (h Hold) complete() bool { return h.Judgement.Standing != hold.Missing }

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

// Hold loads a hold with the live state of its evidence.
func (a *App) Hold(ctx context.Context, id string) (h Hold, err error) {
	err = a.view(ctx, func(q *query.Queries) error {
		h, err = a.holdByID(ctx, q, id)
		return err
	})
	return h, err
}

func (a *App) holdByID(ctx context.Context, q *query.Queries, id string) (Hold, error) {
	kept, err := q.Hold(ctx, id)
	if err != nil {
		return Hold{}, err
	}
	if !kept.SetupID.Valid {
		return a.hold(ctx, q, kept, nil)
	}
	setup, err := q.Setup(ctx, kept.SetupID.String)
	if err != nil {
		return Hold{}, err
	}
	s, err := a.setup(ctx, q, setup)
	if err != nil {
		return Hold{}, err
	}
	return a.hold(ctx, q, kept, []Setup{s})
}

// hold loads a hold; its setup, if it has one, is among those.
func (a *App) hold(ctx context.Context, q *query.Queries, kept query.Hold, setups []Setup) (Hold, error) {
	h := Hold{ID: kept.ID, Name: kept.Name, Step: kept.Step, Permanent: kept.Permanent, Why: kept.Why, AssemblyID: kept.AssemblyID, Pins: kept.Scope == "pins"}
	for _, s := range setups {
		if kept.SetupID.Valid && s.ID == kept.SetupID.String {
			h.Setup, h.AssemblyName, h.Airframe = s, s.AssemblyName, s.Airframe
		}
	}
	if h.AssemblyName == "" {
		assembly, err := q.Assembly(ctx, kept.AssemblyID)
		if err != nil {
			return h, err
		}
		frame, err := q.Airframe(ctx, assembly.AirframeID)
		if err != nil {
			return h, err
		}
		h.AssemblyName = assembly.Name
		if h.Airframe, err = airframe(frame); err != nil {
			return h, err
		}
	}
	if err := json.Unmarshal([]byte(kept.Required), &h.Required); err != nil {
		return h, fmt.Errorf("reading what %q asks for: %w", h.Name, err)
	}
	evidence, err := a.evidence(ctx, q, h)
	if err != nil {
		return h, err
	}
	h.Judgement = Judgement{hold.Judge(h.asks(), evidence, a.now())}
	for _, r := range h.Required {
		if r.Need == hold.Marked {
			h.Rows = append(h.Rows, RowLeft{r.Of, evidence.Rows[r.Of].Name, evidence.Rows[r.Of].Left})
		}
	}
	return h, a.releases(ctx, q, &h)
}

// asks is what the hold requires, with the survey of the bench shown to be inside
// its limits where a check that the hold rests on takes the bench as true.
func (h Hold) asks() []hold.Requirement {
	trued := false
	for _, r := range h.Required {
		c, _ := h.Setup.Check(r.Check)
		trued = trued || c.Kind.Name == "twist" && c.Definition["held"] == true && c.Judged.Answer(school.Bench) == school.Trued
	}
	if !trued {
		return h.Required
	}
	out := slices.Clone(h.Required)
	found := false
	for _, c := range h.Setup.Checks {
		if c.Kind.Name != "bench" {
			continue
		}
		found = true
		out = slices.DeleteFunc(out, func(r hold.Requirement) bool { return r.Check == c.ID && r.Need == hold.Surveyed })
		if shown := (hold.Requirement{Need: hold.Shown, Check: c.ID}); !slices.Contains(out, shown) {
			out = slices.Insert(out, 0, shown)
		}
	}
	if !found {
		out = append(out, hold.Requirement{Need: hold.Shown, Check: "the survey of the bench"})
	}
	return out
}

func (a *App) releases(ctx context.Context, q *query.Queries, h *Hold) error {
	rows, err := q.Releases(ctx, h.ID)
	if err != nil {
		return err
	}
	steps, err := q.Steps(ctx, h.ID)
	if err != nil {
		return err
	}
	for _, r := range rows {
		release := Release{ID: r.ID, By: r.ByName, At: a.when(r.At), Standing: r.Standing, Reason: r.Reason, AnsweredBy: r.AnsweredBy, Answer: r.Answer, Answered: r.Answered, Document: r.Document, Withdrawn: r.Withdrawn}
		if err := json.Unmarshal([]byte(r.Evidence), &release.Lines); err != nil {
			return fmt.Errorf("reading the evidence of a release: %w", err)
		}
		if r.Lapsed.Valid {
			event, err := q.Event(ctx, r.Lapsed.String)
			if err != nil {
				return err
			}
			release.Lapsed = measure.Event(event.What)
		}
		for _, s := range steps {
			if s.ReleaseID == r.ID {
				release.Done = &Done{s.ByName, s.Note, a.when(s.At)}
			}
		}
		h.Releases = append(h.Releases, release)
	}
	return nil
}

// states is how far the checks of a setup are, as the rules of holds see them.
func (s Setup) states() map[string]hold.CheckState {
	out := map[string]hold.CheckState{}
	for _, c := range s.Checks {
		state := hold.CheckState{Name: c.Name, Wanted: c.Wanted, Taken: c.Taken, Stale: c.Stale, Disturbed: c.Disturbed, Answer: c.Answer(), Refused: c.Refused()}
		if c.Result != nil {
			state.Verdict = c.Result.Verdict
			state.Near = state.Verdict == measure.Go && c.Judged.Answer(school.Limits) == school.Guarded && !c.Result.Inside(hold.Guard)
		}
		for _, in := range c.Used {
			state.Instruments = append(state.Instruments, hold.InstrumentState{Name: in.Name, Tested: in.Proven(), Angle: in.Angle, Days: in.DueDays})
		}
		out[c.ID] = state
	}
	return out
}

// NewRelease is someone's wish to release a hold.
type NewRelease struct {
	ID         string `json:"-"`
	Hold       string `json:"hold"` // id
	By         string `json:"by"`
	Reason     string `json:"reason,omitempty"`
	AnsweredBy string `json:"answered_by,omitempty"`
	Answer     string `json:"answer,omitempty"`
	Answered   string `json:"answered,omitempty"` // when
	Document   string `json:"document,omitempty"` // where the answer is kept
}

// Release releases a hold on the evidence as it is now, or says plainly why not.
func (a *App) Release(ctx context.Context, n NewRelease) error {
	defer a.alone()()
	wrong := Problems{}
	wrong.text("by", &n.By, maxName, "")
	wrong.text("reason", &n.Reason, maxNote, "")
	wrong.text("answered_by", &n.AnsweredBy, maxName, "")
	wrong.text("answer", &n.Answer, maxNote, "")
	wrong.text("answered", &n.Answered, maxName, "")
	wrong.text("document", &n.Document, maxNote, "")
	if err := wrong.err(); err != nil {
		return err
	}
	if kind, err := a.recorded(ctx, n.ID); kind == journal.Release || err != nil {
		return err
	}
	h, err := a.Hold(ctx, n.Hold)
	if err != nil {
		return err
	}
	if h.Current() != nil {
		return Problems{"": "it is released already"}
	}
	for _, e := range h.Judgement.Allow(hold.Request{By: n.By, Reason: n.Reason, AnsweredBy: n.AnsweredBy, Answer: n.Answer, Answered: n.Answered, Document: n.Document}) {
		wrong.Add(e.Field, e.Message)
	}
	if err := wrong.err(); err != nil {
		return err
	}
	evidence, err := json.Marshal(h.Judgement.Lines)
	if err != nil {
		return err
	}
	facts := map[string]any{"hold": h.Name, "assembly": h.AssemblyName, "standing": h.Judgement.Standing.String(), "evidence": h.Judgement.Lines}
	if h.Setup.ID != "" {
		readings, err := a.Export(ctx, h.Setup.ID)
		if err != nil {
			return err
		}
		facts["worksheet"] = json.RawMessage(readings)
	}
	return a.record(ctx, deed{n.ID, journal.Release, n.By, n, facts}, func(q *query.Queries, entry int64) error {
		return q.AddRelease(ctx, query.AddReleaseParams{ID: n.ID, HoldID: h.ID, ByName: n.By, At: store.Time(a.now()), Standing: h.Judgement.Standing.String(),
			Reason: n.Reason, AnsweredBy: n.AnsweredBy, Answer: n.Answer, Answered: n.Answered, Document: n.Document, Evidence: string(evidence), Entry: entry})
	})
}

// NewStep records the irreversible step as done.
type NewStep struct {
	ID   string `json:"-"`
	Hold string `json:"hold"` // id
	By   string `json:"by"`
	Note string `json:"note,omitempty"`
}

// stepEvent is the id of the event that a step is.
func stepEvent(step string) string { return step + "-event" }

// RecordStep spends the release of a hold.
func (a *App) RecordStep(ctx context.Context, n NewStep) error {
	defer a.alone()()
	wrong := Problems{}
	wrong.text("by", &n.By, maxName, "who did it?")
	wrong.text("note", &n.Note, maxNote, "")
	if err := wrong.err(); err != nil {
		return err
	}
	h, err := a.Hold(ctx, n.Hold)
	if err != nil {
		return err
	}
	what, disturbs := hold.Step(h.Step).Event()
	facts := map[string]any{"hold": h.Name, "assembly": h.AssemblyName, "permanent": h.Permanent}
	if disturbs {
		facts["stale"] = h.Setup.disturbed(what)
	}
	return a.record(ctx, deed{n.ID, journal.Done, n.By, n, facts}, func(q *query.Queries, entry int64) error {
		if !h.Released() {
			return Problems{"": "there is no release that stands: release the hold first"}
		}
		if err := a.finished(ctx, q, h); err != nil {
			return err
		}
		err := q.AddStep(ctx, query.AddStepParams{ID: n.ID, ReleaseID: h.Current().ID, HoldID: h.ID, ByName: n.By, Note: n.Note, At: store.Time(a.now()), Entry: entry})
		if err != nil || !disturbs || h.Setup.ID == "" {
			return err
		}
		return a.happen(ctx, q, stepEvent(n.ID), h.Setup, what, entry)
	})
}

// Withdrawal ends a release before its step is done.
type Withdrawal struct {
	ID   string        `json:"-"`
	Hold string        `json:"hold"` // id
	What measure.Event `json:"what"` // what came first
	By   string        `json:"by"`
}

// Withdraw ends the release that stands: something moved, and no setup is there to say so
// to. Problems are at "what" and "by".
func (a *App) Withdraw(ctx context.Context, n Withdrawal) error {
	defer a.alone()()
	if kind, err := a.recorded(ctx, n.ID); kind == journal.Changed || err != nil {
		return err
	}
	wrong := Problems{}
	wrong.text("by", &n.By, maxName, "who saw it?")
	if !n.What.Known() {
		wrong.Add("what", "what was it? Choose one of the list")
	}
	if err := wrong.err(); err != nil {
		return err
	}
	h, err := a.Hold(ctx, n.Hold)
	if err != nil {
		return err
	}
	if !h.Released() {
		return Problems{"": "there is no release that stands"}
	}
	says := fmt.Sprintf("%s, seen by %s", n.What, n.By)
	facts := map[string]any{"name": h.AssemblyName + ", " + h.Name, "says": "release withdrawn: " + says}
	return a.record(ctx, deed{n.ID, journal.Changed, n.By, n, facts}, func(q *query.Queries, _ int64) error {
		return q.WithdrawReleasesOfHold(ctx, query.WithdrawReleasesOfHoldParams{Why: says, Hold: h.ID})
	})
}

// finished refuses to record the step of rows that are not done: holes that the eye does
// not see on bare metal.
func (a *App) finished(ctx context.Context, q *query.Queries, h Hold) error {
	rows, err := q.RowsOfHold(ctx, h.ID)
	if err != nil {
		return err
	}
	for _, kept := range rows {
		r, err := a.loadRow(ctx, q, kept)
		if err != nil {
			return err
		}
		var left []int
		for _, hole := range r.Holes {
			switch {
			case hole.Done() || hole.Kept():
			case h.Step == "rivet" && kept.RivetHold == h.ID,
				hole.State == row.Pilot && (!h.Pins || slices.Contains(row.Fewest(r.Holes), hole.Number)):
				left = append(left, hole.Number)
			}
		}
		if len(left) > 0 {
			return Problems{"": fmt.Sprintf("%s is not done: %s %s", r.Name, plural(len(left), "hole", "holes"), row.Runs(left))}
		}
	}
	return nil
}

// plural counts things.
func plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}
