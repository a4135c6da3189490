package holding

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"orpine/internal/airframe"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/row"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Rules is the number of the rules by which a release stands: it goes up with them and with the
// arithmetic, and what was reckoned by others is reckoned anew from the journal.
const Rules = measure.Arithmetic*100 + 3

// everything is the basis of a hold that rests on more than can be named: a closing, on all that
// its assemblies have.
const everything = "*"

// Follow finds which releases end with an entry, or stand again. A release stands while every line
// stands no worse than it was signed, and every line that has come since is shown; the first entry
// that makes one worse ends it. It stands again where that very entry is taken back and no line is
// worse then. See ledger.Gatekeeper.
func (h *Holding) Follow(ctx context.Context, q *query.Queries, p ledger.Passed) error {
	if harmless(p) {
		return nil
	}
	spent := int64(0)
	if p.Rights {
		spent = 1
	}
	waiting, err := q.WaitingHolds(ctx, spent)
	if err != nil {
		return fmt.Errorf("reading the releases that wait: %w", err)
	}
	for _, w := range waiting {
		kept, err := gate.From(query.HoldsNow{ID: w.ID, AssemblyID: w.AssemblyID, SetupID: w.SetupID, Name: w.Name, Step: w.Step, Permanent: w.Permanent, Why: w.Why, Required: w.Required, Scope: w.Scope, Released: w.Released, ReleasedBy: w.ReleasedBy, Done: w.Done, Entry: w.Entry, Revised: w.Revised, Withdrawn: w.Withdrawn, Joint: w.Joint, Fact: w.Fact})
		if err != nil {
			return err
		}
		switch {
		case w.Done == 1:
			err = h.wrong(ctx, q, kept, w, p)
		case w.Signed == "" && w.Released.String == p.ID:
			err = h.signed(ctx, q, kept, p)
		case w.Signed == "" || !touches(w.Basis, p.Names):
			continue
		default:
			err = h.follow(ctx, q, kept, w, p)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// harmless tells of what the hand does at every hole, and makes no line of any hold worse.
func harmless(p ledger.Passed) bool {
	return p.Kind == "holes" && !slices.ContainsFunc(p.Made, func(m ledger.Made) bool {
		return !slices.Contains([]row.Operation{row.Rivet, row.Clean, row.Deburr, row.Prime, row.Unpin, row.Accept}, row.Operation(m.What))
	})
}

// touches tells whether an entry names something that a release rests on.
func touches(basis string, names []string) bool {
	if strings.Contains(basis, `"`+everything+`"`) {
		return true
	}
	return slices.ContainsFunc(names, func(id string) bool { return strings.Contains(basis, id) })
}

// reckon is the evidence of a hold as it is, with the ids of all that it rests on besides those of
// before; measured tells that nothing but what is measured may have changed.
func (h *Holding) reckon(ctx context.Context, q *query.Queries, kept gate.Hold, airframe string, before []string, measured bool) (lines []hold.Line, basis []string, err error) {
	gather := func() (*hold.Evidence, error) { return h.gate.Gather(ctx, q, kept) }
	if measured {
		gather = func() (*hold.Evidence, error) { return h.gate.GatherChecks(ctx, q, kept) }
	}
	e, err := gather()
	if err != nil {
		return nil, nil, err
	}
	basis = append([]string{kept.ID, kept.AssemblyID, airframe, kept.SetupID}, before...)
	basis = append(append(basis, e.Joints[kept.ID]...), e.Rests[kept.ID]...)
	for _, r := range kept.Required {
		basis = append(basis, r.Check, r.Of)
		if r.Need == hold.Inside {
			basis = append(basis, everything)
		}
	}
	slices.Sort(basis)
	return judged(kept, e).Lines, slices.DeleteFunc(slices.Compact(basis), func(id string) bool { return id == "" }), nil
}

// narrowed is a hold with those of its needs alone that an entry may have changed: all checks where it
// names a setup, a check or an instrument, and each other thing that it names. The hold as it is where
// it names what all may rest on. measured tells that checks alone are left.
func narrowed(kept gate.Hold, basis []string, names []string) (out gate.Hold, measured bool) {
	if slices.Contains(basis, everything) {
		return kept, false
	}
	others := map[string]bool{}
	for _, r := range kept.Required {
		if r.Of != "" {
			others[r.Of] = true
		}
	}
	checks := false
	for _, id := range names {
		switch {
		case !slices.Contains(basis, id) || others[id]:
		case id == kept.ID || id == kept.AssemblyID:
			return kept, false
		default:
			checks = true
		}
	}
	out = kept
	out.Required = slices.DeleteFunc(slices.Clone(kept.Required), func(r hold.Requirement) bool {
		return r.Need != hold.Less && !(checks && r.Check != "") && !slices.Contains(names, r.Of)
	})
	return out, checks
}

// reading is the kind of the entry that is made most while releases wait.
const reading = "reading"

// signed keeps what the lines are reckoned to be at the signature's own entry. Where that is stop
// and the snapshot was not, the release ends by the build.
func (h *Holding) signed(ctx context.Context, q *query.Queries, kept gate.Hold, p ledger.Passed) error {
	frame, _, err := airframe.Of(ctx, q, kept.AssemblyID)
	if err != nil {
		return err
	}
	lines, basis, err := h.reckon(ctx, q, kept, frame.ID, nil, false)
	if err != nil {
		return err
	}
	end := query.SetGateEndParams{ReleaseID: kept.ReleaseID, HoldID: kept.ID, Arithmetic: Rules, Entry: p.Seq, Stood: p.Seq}
	if err := put(&end, lines, basis); err != nil {
		return err
	}
	release, err := q.ReleaseByID(ctx, kept.ReleaseID)
	if err != nil {
		return err
	}
	if (hold.Judgement{Lines: lines}).Has(hold.Stop) && release.Standing != hold.Stop.String() {
		end.Ended, end.Cause, end.Why = p.Seq, p.ID, "as the program reckons now, it was at stop when it was signed"
	}
	return gate.PutEnd(ctx, q, end)
}

func put(end *query.SetGateEndParams, lines []hold.Line, basis []string) error {
	data, err := json.Marshal(lines)
	if err != nil {
		return err
	}
	rests, err := json.Marshal(basis)
	end.Signed, end.Basis = string(data), string(rests)
	return err
}

// follow compares a release with how its lines stand after an entry.
func (h *Holding) follow(ctx context.Context, q *query.Queries, kept gate.Hold, w query.WaitingHoldsRow, p ledger.Passed) error {
	var signed []hold.Line
	if err := json.Unmarshal([]byte(w.Signed), &signed); err != nil {
		return fmt.Errorf("reading how %q was signed: %w", kept.Name, err)
	}
	taken := slices.Contains(p.TakesBack, w.Cause) && w.Cause != ""
	if w.Ended > 0 && !taken {
		return nil // it ended, and stays so
	}
	var before []string
	if err := json.Unmarshal([]byte(w.Basis), &before); err != nil {
		return fmt.Errorf("reading what %q rests on: %w", kept.Name, err)
	}
	asked, measured := kept, false
	if !taken && !slices.Contains(p.Names, w.AirframeID) {
		asked, measured = narrowed(kept, before, p.Names)
	}
	lines, basis, err := h.reckon(ctx, q, asked, w.AirframeID, before, measured && p.Kind == reading)
	if err != nil {
		return err
	}
	worse, is := hold.Worse(signed, slices.DeleteFunc(lines, func(l hold.Line) bool { return l.Key == hold.NothingAsked }))
	if !is && w.Ended == 0 && slices.Equal(basis, before) {
		return nil
	}
	end := query.SetGateEndParams{ReleaseID: kept.ReleaseID, HoldID: kept.ID, Arithmetic: Rules, Entry: w.Entry, Ended: w.Ended, Cause: w.Cause, Stood: w.Stood}
	if err := put(&end, signed, basis); err != nil {
		return err
	}
	switch {
	case is:
		if end.Ended, end.Cause, end.Why = p.Seq, p.ID, worse.Says(); w.Ended > 0 {
			end.Stood = p.Seq // what ended it was taken back, and it did not stand in between
		}
	case w.Ended > 0:
		end.Ended, end.Cause, end.Why, end.Stood = 0, "", "", p.Seq
	}
	return gate.PutEnd(ctx, q, end)
}

// wrong marks a release whose step is done where an entry that says that something was wrong shows
// that a line would have stood worse when it was signed.
func (h *Holding) wrong(ctx context.Context, q *query.Queries, kept gate.Hold, w query.WaitingHoldsRow, p ledger.Passed) error {
	basis := strings.ReplaceAll(w.Basis, `"`+everything+`"`, "")
	if w.Signed == "" || !touches(basis, p.Names) {
		return nil
	}
	var signed []hold.Line
	if err := json.Unmarshal([]byte(w.Signed), &signed); err != nil {
		return fmt.Errorf("reading how %q was signed: %w", kept.Name, err)
	}
	lines, _, err := h.reckon(ctx, q, kept, w.AirframeID, nil, false)
	if err != nil {
		return err
	}
	// What is only missing or stale by now was there when it was signed.
	if worse, is := hold.Worse(signed, slices.DeleteFunc(lines, func(l hold.Line) bool { return l.Standing == hold.Missing })); is {
		return gate.MarkWrong(ctx, q, kept.ReleaseID, worse.Says())
	}
	return nil
}

// permanent are the operations at a hole that cannot be undone, with the steps whose holds guard
// them.
var permanent = map[row.Operation][]string{
	row.Drill: {"trim", "drill to size", "ream"}, row.Form: {"drill to size", "ream"}, row.Enlarge: {"drill to size", "ream"},
	row.Rivet: {"rivet", "bond"},
}

// Ask refuses what nobody released: the step of a hold, holes of a row, a step of the order that
// is tied to holds. See ledger.Gatekeeper.
func (h *Holding) Ask(ctx context.Context, q *query.Queries, made []ledger.Made, known bool) error {
	for _, m := range made {
		var err error
		switch {
		case m.Hold != "":
			err = h.askStep(ctx, q, m, known)
		case m.Row != "" && permanent[row.Operation(m.What)] != nil:
			err = askHoles(ctx, q, m, known)
		case m.Step != "" && m.State == "done" && !known:
			err = askPlanned(ctx, q, m)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

func (h *Holding) askStep(ctx context.Context, q *query.Queries, m ledger.Made, known bool) error {
	one, err := q.Hold(ctx, m.Hold)
	if err != nil {
		return ledger.Found(err)
	}
	kept, err := gate.From(one)
	if err != nil {
		return err
	}
	then, err := gate.AsThen(ctx, q, kept)
	if err != nil {
		return err
	}
	_, waited := ledger.KnownTo(ctx)
	if stood := then[0].ReleaseID == m.Release || !waited && known && one.Released.String == m.Release; one.Done == 1 || m.Release == "" || !stood {
		return ledger.Problems{"": hold.NotReleased(one.Name, one.EndedWhy)}
	}
	if known {
		return nil
	}
	frozen, err := gate.FrozenHold(ctx, q, m.Hold)
	if len(frozen) > 0 {
		return ledger.Problems{"": "it " + frozen[0].Says()}
	}
	return err
}

// askPlanned refuses that a step of the order is done while the steps of the holds that it is tied
// to are not.
func askPlanned(ctx context.Context, q *query.Queries, m ledger.Made) error {
	s, err := q.PlanStep(ctx, m.Step)
	if err != nil {
		return ledger.Found(err)
	}
	if m.Ties == "" {
		m.Ties = s.TiedTo
	}
	var ids []string
	if err := json.Unmarshal([]byte(m.Ties), &ids); err != nil {
		return fmt.Errorf("reading the step %s: %w", s.Name, err)
	}
	if len(ids) == 0 {
		return nil
	}
	holds, err := q.HoldsByID(ctx, ids)
	if err != nil {
		return err
	}
	for _, h := range holds {
		if h.Done == 1 || h.Withdrawn != "" {
			continue
		}
		if h.Released.Valid && h.Ended == 0 {
			return ledger.Problems{"": fmt.Sprintf("%s is done when “%s” is recorded: it is released", s.Name, h.Name)}
		}
		return ledger.Problems{"": s.Name + ": " + hold.NotReleased(h.Name, h.EndedWhy)}
	}
	return nil
}

func askHoles(ctx context.Context, q *query.Queries, m ledger.Made, known bool) error {
	holds, err := gate.OfRow(ctx, q, m.Row)
	if err != nil {
		return err
	}
	steps := permanent[row.Operation(m.What)]
	holds = slices.DeleteFunc(holds, func(g gate.RowGate) bool { return !slices.Contains(steps, g.Step) })
	pins := slices.ContainsFunc(holds, func(g gate.RowGate) bool { return g.Pins })
	sizes := slices.ContainsFunc(holds, func(g gate.RowGate) bool { return g.Step == "drill to size" })
	open := func(g gate.RowGate) bool { return g.Open || known && g.Recorded }
	if pins { // which of its holes are pin holes the row knows, and asked
		if slices.ContainsFunc(holds, open) {
			return nil
		}
	}
	for _, g := range holds {
		if g.Step == "ream" && sizes || open(g) || known {
			continue
		}
		return ledger.Problems{"": hold.NotReleased(g.Name, g.Ended)}
	}
	return nil
}

// Reckon makes anew what is known of releases where other rules reckoned it, or nobody did: the
// journal is replayed aside, and each signature and what came after it is judged at its own entry.
func (h *Holding) Reckon(ctx context.Context) error {
	due := int64(0)
	err := h.ledger.View(ctx, func(q *query.Queries) (err error) {
		due, err = q.ReleasesToReckon(ctx, Rules)
		return err
	})
	if err != nil || due == 0 {
		return err
	}
	var ends []query.GateEnd
	err = h.ledger.Replayed(ctx, func(q *query.Queries) (err error) {
		ends, err = q.GateEnds(ctx)
		return err
	})
	if err != nil {
		return fmt.Errorf("reckoning which releases stand: %w", err)
	}
	return h.ledger.Derive(ctx, func(q *query.Queries) error {
		for _, e := range ends {
			if err := gate.PutEnd(ctx, q, query.SetGateEndParams(e)); err != nil {
				return err
			}
		}
		return nil
	})
}
