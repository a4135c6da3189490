package builders

import (
	"cmp"
	"fmt"
	"maps"
	"math/rand/v2"
	"strconv"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"orpine/internal/amending"
	"orpine/internal/asking"
	"orpine/internal/closing"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/part"
	"orpine/internal/core/row"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/overview"
	"orpine/internal/photo"
	"orpine/internal/riveting"
	"orpine/internal/stores"
	"orpine/test/loft"
)

// hand is a builder in the wider world: one boom with a row under two holds before drilling and one
// before riveting, in a bay that a second row may close.
type hand struct {
	*loft.Loft
	*model
	rnd     *rand.Rand
	one     string // the other hold before drilling
	two     string
	lid     string
	closes  bool // it closes the bay
	did     []string
	filled  map[string]map[int]bool // holes with a rivet in, by row
	sized   map[int]bool
	late    int64        // what the entry at hand knew, 0 for all
	facts   bool         // it is a fact
	undoes  bool         // it takes something back
	ever    map[int]bool // holes that had a rivet once
	refused int64
	events  []string
}

// beginWide lays the world: by the seed a kit that was half built before, and a row that closes the bay.
func beginWide(t *testing.T, seed uint64) *hand {
	t.Helper()
	h := &hand{Loft: loft.Bench(t, 5), rnd: rand.New(rand.NewPCG(seed, 77)), one: loft.ID("one"), two: loft.ID("two"), lid: loft.ID("lid"),
		model: &model{holds: map[string]*held{}, asked: map[string]string{}, notices: map[string]bool{}, taken: map[string]bool{}, kept: map[int]bool{}, then: map[int64]map[string]bool{}}}
	ctx := h.Ctx()
	stand := func(id, name, same string) {
		require.NoError(t, h.Holding.StandBefore(ctx, holding.NewStand{Form: loft.Named(id), Assembly: loft.BenchBoom, Name: name, Step: "drill to size", Permanent: "the row", Why: "w", Setup: loft.BenchSetup, Same: same}))
	}
	stand("one", "Drill the ends", "")
	stand("two", "Drill the rest", holding.Others)
	require.NoError(t, h.Riveting.Lay(ctx, riveting.NewRow{Form: loft.Named("lid"), Assembly: loft.BenchBoom, Name: "lid", OptOut: "its own", Values: loft.With(loft.RowOf(2), "sizing", "final size as supplied")}))
	if seed%2 == 0 {
		h.closes = true
		require.NoError(t, h.Closing.Place(ctx, closing.Placed{Form: h.Form(), Bay: loft.BenchBay, Closes: []string{h.lid}, By: "builder"}))
	}
	if seed%3 == 0 {
		require.NoError(t, h.Riveting.TellFact(ctx, riveting.HolesFact{Form: h.Form(), Row: loft.BenchRow, Seen: h.RowOf(loft.BenchRow).Revised, Numbers: []int{5}, What: row.Rivet, How: gate.DoneBefore, By: "who had it before"}))
	}
	require.NoError(t, h.Do(h.lid, row.Through, 1, 2))
	require.NoError(t, h.Do(h.lid, row.Clean, 1, 2))
	require.NoError(t, h.Stores.AddPart(ctx, stores.NewPart{Form: loft.Named("part"), Airframe: loft.BenchFrame, Number: "S2-54-9", Name: "clip", Lot: "77", Assembly: loft.BenchBoom, Row: loft.BenchRow}))
	require.NoError(t, h.Measuring.AddCheck(ctx, measuring.AddedCheck{Form: h.Form(), Setup: loft.BenchSetup, Kind: "level", Name: "Level", Filled: measuring.Filled{Take: true, Values: map[string]string{"span": "500"}}}))
	for _, id := range []string{h.one, h.two, loft.BenchRivet} {
		h.holds[id] = &held{needs: true}
	}
	h.holds[loft.BenchClose] = &held{closes: true}
	h.placings = []*placing{{setup: loft.BenchSetup, check: loft.BenchCheck, widest: 3}}
	h.filled = map[string]map[int]bool{loft.BenchRow: h.set(loft.BenchRow), h.lid: h.set(h.lid)}
	h.sized, h.ever = h.drilled(), h.set(loft.BenchRow)
	h.follow(h.Ledger.Seq(), "")
	return h
}

func (h *hand) set(id string) map[int]bool {
	out := map[int]bool{}
	for _, at := range h.RowOf(id).Holes {
		if at.Filled() {
			out[at.Number] = true
		}
	}
	return out
}

func (h *hand) drilled() map[int]bool {
	out := map[int]bool{}
	for _, at := range h.RowOf(loft.BenchRow).Holes {
		if at.State != row.Pilot && at.State != row.Open {
			out[at.Number] = true
		}
	}
	return out
}

// read takes a reading, in place of what is there; one that is asked about is as measured.
func (h *hand) read(p *placing, i int, text string) (string, error) {
	n := measuring.NewReading{Form: h.Form(), Check: p.check, Text: text, Instrument: loft.BenchRule}
	if p.values[i] != nil {
		n.InPlace = "misread"
	}
	s := h.SetupOf(p.setup)
	if c, ok := s.Check(p.check); !ok || len(c.Spots) < 3 {
		return "", ledger.ErrNotFound
	}
	n = h.At(p.setup, i+1, n)
	err := h.Measuring.Take(h.Ctx(), n)
	if err != nil {
		n.Form, n.AsMeasured = h.Form(), true
		err = h.Measuring.Take(h.Ctx(), n)
	}
	if err == nil {
		h.taken[p.ids[i]] = p.ids[i] != ""
		v, _ := strconv.ParseFloat(text, 64)
		p.values[i], p.ids[i] = &v, n.ID
	}
	return n.ID, err
}

// happens lets something happen to a placing, and to all that is one with it.
func (h *hand) happens(p *placing, without *placing) {
	for _, one := range p.group() {
		if one != without {
			one.values, one.ids = [3]*float64{}, [3]string{}
		}
	}
}

// anew sets the boom once more: for the hold before riveting, or for all that it has.
func (h *hand) anew() error {
	n := measuring.NewSetup{Form: h.Form(), Assembly: loft.BenchBoom, Name: fmt.Sprint("placing ", len(h.placings)), Checks: []measuring.NewCheck{loft.Bow()}}
	p := &placing{setup: n.ID, check: ledger.Child(n.ID, "check 0"), widest: 3}
	if h.rnd.IntN(2) == 0 { // it is of the row's holes, and so of all holds that guard them
		n.Hold = &gate.NewHold{Name: "Rivet it", Step: "rivet", Permanent: "the row", Why: "w"}
	}
	err := h.Measuring.Begin(h.Ctx(), n)
	if err == nil {
		h.placings = append(h.placings, p)
	}
	return err
}

// lies says whether the newest placing is as another.
func (h *hand) lies() error {
	p := h.placings[len(h.placings)-1]
	other := h.placings[h.rnd.IntN(len(h.placings))]
	if p == other {
		return ledger.ErrNotFound
	}
	answer := []string{measuring.LiesStill, measuring.LiesNot}[h.rnd.IntN(2)]
	err := h.Measuring.SayHowItLies(h.Ctx(), measuring.LiesAs{Form: h.Form(), Setup: p.setup, Other: other.setup, Lies: answer})
	switch {
	case err != nil:
	case answer == measuring.LiesStill:
		p.with, other.with = append(p.with, other), append(other.with, p)
	default:
		drop := func(of, one *placing) {
			for i, w := range of.with {
				if w == one {
					of.with = append(of.with[:i:i], of.with[i+1:]...)
					return
				}
			}
		}
		drop(p, other)
		drop(other, p)
		for _, one := range other.group() {
			if one != p {
				one.values, one.ids = [3]*float64{}, [3]string{}
			}
		}
	}
	return err
}

// back takes the last event of a placing back: what it took is read anew, for the model keeps no more
// than what counts.
func (h *hand) back(p *placing) error {
	s := h.SetupOf(p.setup)
	err := h.Measuring.TakeEventBack(h.Ctx(), measuring.EventMistaken{Form: h.Form(), Setup: p.setup, State: s.State, Reason: "the wrong button", By: "helper"})
	if err != nil {
		return err
	}
	for _, id := range h.events {
		h.taken[id] = true
	}
	for _, one := range h.placings {
		s := h.SetupOf(one.setup)
		c, ok := s.Check(one.check)
		for i := 0; ok && i < 3; i++ {
			if one.values[i], one.ids[i] = nil, ""; len(c.Spots[i].Counting()) > 0 {
				r := c.Spots[i].Counting()[0]
				one.values[i], one.ids[i] = &r.Value, r.ID
			}
		}
	}
	return nil
}

// ready reads the first placing, well, and looks at what must be looked at.
func (h *hand) ready() (wrong string) {
	for i := range 3 {
		wrong = cmp.Or(wrong, h.try("made ready", func() (string, error) { return h.read(h.placings[0], i, "10") }))
	}
	for _, n := range []gate.LookAt{{Need: hold.Marked}, {Need: hold.Prepared, What: hold.Preparations}} {
		n.Of, n.By = loft.BenchRow, "builder"
		wrong = cmp.Or(wrong, h.try("looked", func() (string, error) { return "", h.Look(n) }))
	}
	return wrong
}

// through goes on with the work as far as it is let: signs, drills, cleans and sets.
func (h *hand) through(by string) (wrong string) {
	key := func(what row.Operation, hole int) {
		wrong = cmp.Or(wrong, h.try(fmt.Sprint(what, " ", hole), func() (string, error) { return "", h.key(what, hole) }))
	}
	for _, id := range []string{h.one, h.two} {
		wrong = cmp.Or(wrong, h.sign(id, by))
	}
	for hole := range 5 {
		key(row.Drill, hole+1)
		key(row.Clean, hole+1)
	}
	wrong = cmp.Or(wrong, h.ready(), h.sign(loft.BenchRivet, by))
	for hole := range h.rnd.IntN(6) {
		key(row.Rivet, hole+1)
	}
	return wrong
}

// finish answers what is asked, does all of the row, records the steps, and closes the bay, as far as
// it is let.
func (h *hand) finish(by string) (wrong string) {
	for range len(h.asked) {
		wrong = cmp.Or(wrong, h.try("answered", func() (string, error) { return "", h.answer() }))
	}
	for range len(h.notices) {
		wrong = cmp.Or(wrong, h.try("inspected", func() (string, error) { return "", h.inspect() }))
	}
	wrong = cmp.Or(wrong, h.ready(), h.through(by))
	for hole := range 5 {
		wrong = cmp.Or(wrong, h.try(fmt.Sprint("set ", hole+1), func() (string, error) { return "", h.key(row.Rivet, hole+1) }))
	}
	for _, id := range []string{h.one, h.two, loft.BenchRivet} {
		wrong = cmp.Or(wrong, h.try("step "+id[:4], func() (string, error) { return "", h.Step(id, by, "") }))
	}
	return cmp.Or(wrong, h.close(by))
}

// beside sets the part once more as it lies, lets something happen there, and goes on as if that were
// nothing to what was read before.
func (h *hand) beside(by string) (wrong string) {
	wrong = h.ready()
	if len(h.placings) < 4 {
		wrong = cmp.Or(wrong, h.try("set anew", func() (string, error) { return "", h.anew() }))
	}
	newest, first := h.placings[len(h.placings)-1], h.placings[0]
	if newest == first {
		return wrong
	}
	wrong = cmp.Or(wrong, h.try("lies as at first", func() (string, error) {
		err := h.Measuring.SayHowItLies(h.Ctx(), measuring.LiesAs{Form: h.Form(), Setup: newest.setup, Other: first.setup, Lies: measuring.LiesStill})
		if err == nil {
			newest.with, first.with = append(newest.with, first), append(first.with, newest)
		}
		return "", err
	}))
	n := measuring.SomethingMoved{Form: h.Form(), Setup: newest.setup, State: h.SetupOf(newest.setup).State, What: measure.Knocked}
	wrong = cmp.Or(wrong, h.try("knocked there", func() (string, error) {
		err := h.Measuring.SomethingMoved(h.Ctx(), n)
		if err == nil {
			h.happens(newest, nil)
			h.events = append(h.events, n.ID)
		}
		return n.ID, err
	}))
	return cmp.Or(wrong, h.sign(h.one, by), h.sign(loft.BenchRivet, by))
}

// close does what is left to do in the bay, and closes it as far as it is let.
func (h *hand) close(by string) (wrong string) {
	for _, what := range []int{0, 1, 3, 4, 5} {
		if what == 3 && h.inside.clecos <= 0 {
			continue
		}
		wrong = cmp.Or(wrong, h.try("in the bay", func() (string, error) { return "", h.inBay(what) }))
	}
	wrong = cmp.Or(wrong, h.sign(loft.BenchClose, by))
	if h.rnd.IntN(2) == 0 {
		return cmp.Or(wrong, h.try("closed", func() (string, error) { return "", h.Step(loft.BenchClose, by, "") }))
	}
	for _, n := range []gate.LookAt{{Need: hold.Marked}, {Need: hold.Prepared, What: hold.Preparations}} {
		n.Of, n.By = h.lid, by
		_ = h.Look(n)
	}
	_ = h.Loft.Release(h.RowOf(h.lid).Rivets.ID, holding.NewRelease{By: by, Reason: "seen"})
	return cmp.Or(wrong, h.try("lid", func() (string, error) { return "", h.Do(h.lid, row.Rivet, 1) }))
}

// try makes one entry, and says what the model finds wrong with what it made permanent.
func (h *hand) try(name string, f func() (cause string, err error)) (wrong string) {
	h.late, h.facts, h.undoes = 0, false, false
	cause, err := f()
	says := "ok"
	if err != nil {
		h.refused++
		says = err.Error()
	}
	if h.late > 0 {
		name += fmt.Sprintf(" (knew %d)", h.late)
	}
	h.did = append(h.did, fmt.Sprintf("%d %s: %s", h.Ledger.Seq(), name, says))
	if err != nil {
		return ""
	}
	return h.look(cause)
}

// sign releases a hold; what is unsure is signed with a reason.
func (h *hand) sign(id, by string) (wrong string) {
	return cmp.Or(h.try("release "+id[:4], func() (string, error) {
		err := h.Loft.Release(id, holding.NewRelease{By: by, Reason: "seen"})
		if err == nil && !h.evidence(id) {
			wrong = "signed without evidence"
		}
		if err == nil {
			h.holds[id].signed, h.holds[id].ended, h.holds[id].cause = true, false, ""
		}
		return "", err
	}), wrong)
}

// inBay does something inside the bay.
func (h *hand) inBay(what int) (err error) {
	n := &h.inside
	switch what {
	case 0:
		if err = h.Closing.FinishTask(h.Ctx(), closing.TaskDone{Form: h.Form(), Bay: loft.BenchBay, Task: loft.BenchTask, By: "builder"}); err == nil {
			n.task = true
		}
	case 1:
		if err = h.Photos.Add(h.Ctx(), photo.NewPhoto{Form: h.Form(), Of: loft.BenchBay, Caption: "aft", Data: loft.PNG(h.T, 8, 6)}); err == nil {
			n.photo = true
		}
	case 2, 3:
		out := []int{1, -1}[what-2]
		if err = h.Closing.Count(h.Ctx(), closing.NewCount{Form: h.Form(), Bay: loft.BenchBay, Thing: "cleco 1/8", Number: out, By: "helper"}); err == nil {
			n.clecos += out
		}
	default:
		var b overview.BaySheet
		if b, err = h.Bay(h.Ctx(), loft.BenchBay); err != nil {
			return err
		}
		tick := closing.Ticked{Form: h.Form(), Bay: loft.BenchBay, By: "builder", Access: "through the hatch", Empty: n.clecos == 0}
		for _, near := range b.State.Undecided() {
			tick.Outside = append(tick.Outside, near.ID)
		}
		for _, k := range b.State.Unreached() {
			tick.Reachable = append(tick.Reachable, k.ID)
		}
		if b.State.Asks {
			_ = h.Closing.Place(h.Ctx(), closing.Placed{Form: h.Form(), Bay: loft.BenchBay, Also: b.Also, Within: b.Within, Closes: b.Closes, By: "builder"})
		}
		if err = h.Closing.Tick(h.Ctx(), tick); err == nil {
			n.outside = true
		}
	}
	return err
}

// key does something at a hole of the row, now or out of a phone that had seen less.
func (h *hand) key(what row.Operation, hole int) error {
	n := riveting.HoleOperation{Form: h.Form(), Row: loft.BenchRow, Seen: h.RowOf(loft.BenchRow).Revised, Numbers: []int{hole}, What: what, Crew: "solo", Cause: "tipped"}
	ctx := h.Ctx()
	if h.rnd.IntN(5) == 0 {
		h.late = 1 + h.rnd.Int64N(h.Ledger.Seq())
		ctx = ledger.Knowing(ledger.TakenAt(ctx, h.Ledger.Now().Add(-time.Hour)), h.late)
	}
	return h.Riveting.Operate(ctx, n)
}

// fact says that holes were worked without a release.
func (h *hand) fact(what row.Operation, hole int, by string) error {
	h.facts = true
	err := h.Riveting.TellFact(h.Ctx(), riveting.HolesFact{Form: h.Form(), Row: loft.BenchRow, Seen: h.RowOf(loft.BenchRow).Revised, Numbers: []int{hole}, What: what, How: gate.Unreleased, By: by, Reason: "it was late"})
	if err != nil {
		return err
	}
	passed := []string{}
	for _, id := range []string{h.one, h.two, loft.BenchRivet} {
		if !h.open(id) && (what == row.Rivet || id != loft.BenchRivet) {
			passed = append(passed, id)
		}
	}
	for _, id := range passed {
		for _, other := range []string{h.one, h.two, loft.BenchRivet} {
			if other != id {
				h.end(other, "") // it has a line that is unsure
			}
		}
	}
	return nil
}

// enter does one thing at random, or goes on with the work, and says what the model finds wrong.
func (h *hand) enter() (wrong string) {
	holds := []string{h.one, h.two, loft.BenchRivet, loft.BenchRivet, loft.BenchClose}
	p, i, hole := h.placings[h.rnd.IntN(len(h.placings))], h.rnd.IntN(3), 1+h.rnd.IntN(5)
	id, by := holds[h.rnd.IntN(len(holds))], []string{"builder", "helper"}[h.rnd.IntN(2)]
	plain := func(name string, f func() error) string {
		return h.try(name, func() (string, error) { return "", f() })
	}
	switch n := h.rnd.IntN(100); {
	case n < 12:
		text := values[h.rnd.IntN(len(values))]
		return h.try(fmt.Sprintf("%s point %d reads %s", p.setup[:4], i+1, text), func() (string, error) { return h.read(p, i, text) })
	case n < 18:
		return h.ready()
	case n < 22:
		return h.through(by)
	case n < 23:
		return h.beside(by)
	case n < 25:
		return []func(string) string{h.close, h.finish}[h.rnd.IntN(2)](by)
	case n < 27:
		what := []measure.Event{measure.Moved, measure.TurnedOver, measure.Knocked}[h.rnd.IntN(3)]
		n := measuring.SomethingMoved{Form: h.Form(), Setup: p.setup, State: h.SetupOf(p.setup).State, What: what}
		return h.try(p.setup[:4]+" "+string(what), func() (string, error) {
			err := h.Measuring.SomethingMoved(h.Ctx(), n)
			if err == nil {
				h.happens(p, nil)
				h.events = append(h.events, n.ID)
			}
			return n.ID, err
		})
	case n < 29:
		return plain("event taken back in "+p.setup[:4], func() error { return h.back(p) })
	case n < 32 && len(h.placings) < 4:
		wrong := plain("set anew", h.anew)
		newest, middle := h.placings[len(h.placings)-1], []string{"10", "20"}[h.rnd.IntN(2)]
		for i, text := range []string{"10", middle, "10"} {
			wrong = cmp.Or(wrong, h.try(fmt.Sprintf("%s point %d reads %s", newest.setup[:4], i+1, text), func() (string, error) { return h.read(newest, i, text) }))
		}
		if h.rnd.IntN(2) == 0 {
			wrong = cmp.Or(wrong, plain("lies", h.lies))
		}
		return wrong
	case n < 34:
		return plain("lies", h.lies)
	case n < 36:
		what := []string{"hold:" + id, "row:" + loft.BenchRow}[h.rnd.IntN(2)]
		q := asking.NewQuestion{Form: h.Form(), Airframe: loft.BenchFrame, Sort: asking.Question, Text: "is it so?", What: []string{what}}
		return plain("asked about "+what, func() error {
			err := h.Asking.Ask(h.Ctx(), q)
			if err == nil {
				h.asked[q.ID] = what
			}
			return err
		})
	case n < 41:
		return plain("answered", h.answer)
	case n < 42:
		q := stores.NewNotice{Form: h.Form(), Airframe: loft.BenchFrame, Title: "Clips", Names: part.Notice{Lots: []string{"77"}}}
		return h.try("notice", func() (string, error) {
			h.notices[q.ID] = true
			return q.ID, h.Stores.AddNotice(h.Ctx(), q)
		})
	case n < 46:
		return plain("inspected", h.inspect)
	case n < 47:
		return plain("check of "+p.setup[:4]+" withdrawn", func() error { return h.withdraw(p) })
	case n < 57:
		return h.sign(id, by)
	case n < 61:
		return plain("step "+id[:4], func() error { return h.Step(id, by, "") })
	case n < 67:
		return plain("in the bay", func() error { return h.inBay(h.rnd.IntN(6)) })
	case n < 69:
		what := []row.Operation{row.Drill, row.Rivet}[h.rnd.IntN(2)]
		return plain(fmt.Sprintf("fact: %s %d", what, hole), func() error { return h.fact(what, hole, by) })
	case n < 70:
		return plain(fmt.Sprintf("kept open %d", hole), func() error {
			err := h.Operate(riveting.HoleOperation{Row: loft.BenchRow, Numbers: []int{hole}, What: row.Mark, Keep: row.Keep{Part: "fairing", Step: "the fairing comes"}})
			h.kept[hole] = h.kept[hole] || err == nil
			return err
		})
	case n < 73:
		return plain("opened again", func() error {
			err := h.Closing.OpenAgain(h.Ctx(), closing.OpenAgain{Form: h.Form(), Bay: loft.BenchBay, Reason: "a screw was left", Drilled: "two screws", By: by})
			if err == nil {
				h.holds[loft.BenchClose].signed = false
				h.inside.photo, h.inside.clecos = false, 0
			}
			return err
		})
	case n < 76:
		return plain("undo", func() error { h.undoes = true; return h.Undo(loft.BenchRow) })
	case n < 84:
		return plain(fmt.Sprintf("drill %d", hole), func() error { return h.key(row.Drill, hole) })
	case n < 87:
		return plain(fmt.Sprintf("clean %d", hole), func() error { return h.key(row.Clean, hole) })
	case n < 88:
		return plain(fmt.Sprintf("drilled out %d", hole), func() error { return h.key(row.Spoil, hole) })
	}
	return plain(fmt.Sprintf("rivet %d", hole), func() error { return h.key(row.Rivet, hole) })
}

// answer answers one of the questions.
func (h *hand) answer() error {
	for q := range h.asked {
		err := h.Asking.AnswerIt(h.Ctx(), asking.Answered{Form: h.Form(), Question: q, Answer: "yes", By: "inspector"})
		if err == nil {
			delete(h.asked, q)
		}
		return err
	}
	return ledger.ErrNotFound
}

// inspect finds the part of one of the notices sound.
func (h *hand) inspect() error {
	for q := range h.notices {
		err := h.Stores.Find(h.Ctx(), stores.PartFound{Form: h.Form(), Notice: q, Part: loft.ID("part"), Answer: string(part.NotAffected), Found: "sound", By: "builder"})
		if err == nil {
			delete(h.notices, q)
		}
		return err
	}
	return ledger.ErrNotFound
}

// withdraw takes the check of a placing away.
func (h *hand) withdraw(p *placing) error {
	stood := "unsure"
	switch {
	case p.stopped():
		stood = "stop"
	case p.shown():
		stood = "shown"
	}
	if err := h.Right("check", p.check, amending.Withdraw, nil); err != nil {
		return err
	}
	p.withdrawn = true
	if p == h.placings[0] { // the holds ask for it
		for _, id := range []string{h.one, h.two, loft.BenchRivet} {
			if !h.holds[id].done {
				if h.holds[id].less, h.holds[id].needs = stood, false; stood != "shown" {
					h.end(id, "")
				}
			}
		}
	}
	return nil
}

// look compares what became permanent with the model, and lets that follow.
func (h *hand) look(cause string) (wrong string) {
	closed := h.holds[loft.BenchClose].done
	sized, filled, lid := h.drilled(), h.set(loft.BenchRow), h.set(h.lid)
	shut := h.HoldOf(loft.BenchClose).Done
	for hole := range sized {
		if !h.sized[hole] && !h.facts {
			wrong = at("drilled", hole, h.worked(loft.BenchRow, []string{h.one, h.two}, closed, h.late), wrong)
		}
	}
	for hole := range filled {
		if h.filled[loft.BenchRow][hole] || h.facts || h.undoes && h.ever[hole] { // it was never drilled out
			continue
		}
		wrong = at("riveted", hole, h.worked(loft.BenchRow, []string{loft.BenchRivet}, closed, h.late), wrong)
		if h.kept[hole] {
			wrong = at("riveted", hole, "which is kept open", wrong)
		}
	}
	h.inside.row = true
	for hole := range 5 {
		h.inside.row = h.inside.row && (filled[hole+1] || h.kept[hole+1])
	}
	for id, k := range h.holds {
		done := h.HoldOf(id).Done
		if done && !k.done && !h.open(id) {
			wrong = fmt.Sprintf("the step of %s without a release that stands", id)
		}
		if k.done = done; !done && k.signed && h.HoldOf(id).ReleaseID == "" && h.HoldOf(id).Ended == "" {
			k.signed = false // withdrawn, or opened again
		}
	}
	if h.closes && len(lid) > 0 && len(h.filled[h.lid]) == 0 && !h.open(loft.BenchClose) {
		wrong = "a row that closes the bay was begun, and nobody signed for the closing"
	}
	if shut && !closed && !h.evidence(loft.BenchClose) {
		wrong = "closed over what is not done"
	}
	if len(filled) != len(h.filled[loft.BenchRow]) || len(sized) != len(h.sized) {
		h.end(loft.BenchClose, "")
	}
	h.sized, h.filled[loft.BenchRow], h.filled[h.lid] = sized, filled, lid
	maps.Copy(h.ever, filled)
	h.follow(h.Ledger.Seq(), cause)
	return wrong
}

func at(what string, hole int, why, wrong string) string {
	if why == "" {
		return wrong
	}
	return fmt.Sprintf("%s: hole %d %s", what, hole, why)
}

// Nor in the wider world: placings that are one, holds side by side, questions, notices, checks taken
// away, phones out of reach, bays that are closed and opened.
func TestRandomBuildersOfAWiderWorld(t *testing.T) {
	n := builders(t, wide)
	var drilled, set, closed, refused atomic.Int64
	t.Run("all", func(t *testing.T) {
		for k := range 4 {
			t.Run(fmt.Sprint(k), func(t *testing.T) {
				t.Parallel()
				for seed := k; seed < n; seed += 4 {
					h := beginWide(t, uint64(seed))
					for range entries {
						if wrong := h.enter(); wrong != "" {
							t.Fatalf("seed %d: %s\n%s", seed, wrong, say(h.did))
						}
					}
					h.Verify()
					refused.Add(h.refused)
					drilled.Add(int64(len(h.sized)))
					set.Add(int64(len(h.filled[loft.BenchRow])))
					if h.holds[loft.BenchClose].done {
						closed.Add(1)
					}
				}
			})
		}
	})
	t.Logf("%d builders: %d holes drilled, %d set, %d bays closed, %d entries refused", n, drilled.Load(), set.Load(), closed.Load(), refused.Load())
	require.Positive(t, drilled.Load())
	require.Positive(t, set.Load())
}
