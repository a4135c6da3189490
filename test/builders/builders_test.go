// Package builders lets random builders work at two aircraft, by two hands, and looks after each
// entry with a slow model of its own whether anything became permanent that was not shown. The model
// imports nothing of the rules that it holds to account: it knows figures, points and times only.
package builders

import (
	"fmt"
	"math/rand/v2"
	"os"
	"strconv"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/require"

	"orpine/internal/airframe"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/row"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/planning"
	"orpine/internal/riveting"
	"orpine/test/loft"
)

// How many builders there are, and how much each enters.
const (
	usual   = 16
	wide    = 10 // in the wider world
	entries = 60
)

// builders is how many there are: those of ORPINE_BUILDERS, where that says it.
func builders(t *testing.T, usual int) int {
	t.Helper()
	text := os.Getenv("ORPINE_BUILDERS")
	if text == "" {
		return usual
	}
	n, err := strconv.Atoi(text)
	require.NoError(t, err)
	return n
}

// reading is one figure at a point, as the model has it.
type reading struct {
	id    string
	value float64
}

// joint is a row with the three points that its hold asks for, as the model has it.
type joint struct {
	row, hold, setup, check string
	points                  [3][]reading // that count: the last one replaces what was misread
	instead                 [3][]reading // what each replaced, to come back
	signed                  bool         // somebody signed while it was shown
	facts                   map[int]bool // holes said to be done without release
}

// shown is the rule of the bow, by hand: at three points 500 apart, the middle off the line of the
// ends by at most 3; the points' own doubt is far below the half that the figures keep off it.
func (j *joint) shown() bool {
	var v [3]float64
	for i, p := range j.points {
		if len(p) == 0 {
			return false
		}
		sum := 0.0
		for _, r := range p {
			sum += r.value
		}
		v[i] = sum / float64(len(p))
	}
	bow := v[1] - (v[0]+v[2])/2
	return bow > -3 && bow < 3
}

type builder struct {
	*loft.Loft
	rnd    *rand.Rand
	joints [2]*joint
	did    []string
}

func begin(t *testing.T, seed uint64) *builder {
	t.Helper()
	b := &builder{Loft: loft.Bench(t, 5), rnd: rand.New(rand.NewPCG(seed, 23))}
	ctx := b.Ctx()
	b.joints[0] = &joint{row: loft.BenchRow, hold: loft.BenchRivet, setup: loft.BenchSetup, check: loft.BenchCheck, facts: map[int]bool{}}
	require.NoError(t, b.Airframes.Add(ctx, airframe.NewAirframe{Form: loft.Named("second"), Name: "Tansy T3", Unit: "mm"}))
	require.NoError(t, b.Airframes.AddAssembly(ctx, airframe.NewAssembly{Form: loft.Named("fin"), Airframe: loft.ID("second"), Name: "Fin", Shape: airframe.Shape{Form: "fin", X: 5000, Z: 400, Chord: 620, Tip: 500, Rise: 1000}}))
	require.NoError(t, b.Measuring.Begin(ctx, measuring.NewSetup{Form: loft.Named("fin setup"), Assembly: loft.ID("fin"), Name: "on the bench", Checks: []measuring.NewCheck{loft.Bow()}}))
	require.NoError(t, b.Holding.StandBefore(ctx, holding.NewStand{Form: loft.Named("fin hold"), Assembly: loft.ID("fin"), Name: "Rivet the fin", Step: "rivet", Permanent: "its row", Why: "w", Setup: loft.ID("fin setup")}))
	require.NoError(t, b.Riveting.Lay(ctx, riveting.NewRow{Form: loft.Named("fin row"), Assembly: loft.ID("fin"), Name: "fin row", Rivets: loft.ID("fin hold"), Values: loft.RowOf(5)}))
	b.joints[1] = &joint{row: loft.ID("fin row"), hold: loft.ID("fin hold"), setup: loft.ID("fin setup"), check: ledger.Child(loft.ID("fin setup"), "check 0"), facts: map[int]bool{}}
	for _, j := range b.joints {
		for _, need := range []gate.LookAt{{Need: hold.Marked}, {Need: hold.Prepared, What: hold.Preparations}} {
			need.Of, need.By = j.row, "builder"
			require.NoError(t, b.Look(need))
		}
		require.NoError(t, b.Do(j.row, row.Drill, 1, 2, 3, 4, 5))
		require.NoError(t, b.Do(j.row, row.Clean, 1, 2, 3, 4, 5))
	}
	require.NoError(t, b.AddStep(ctx, planning.NewStep{Form: loft.Named("order"), Airframe: loft.BenchFrame, Assembly: loft.BenchBoom, Line: "rivet it, 2 h"}))
	return b
}

// values keep off the limit: what is bad is bad by far, what is good by far good.
var values = []string{"10", "10", "10", "10.5", "10", "20", "10"}

// enter does one thing at random; it is refused as often as not.
func (b *builder) enter() error {
	j := b.joints[b.rnd.IntN(2)]
	by := []string{"builder", "helper"}[b.rnd.IntN(2)]
	name, err := "", error(nil)
	switch n := b.rnd.IntN(100); {
	case n < 24:
		name, err = b.read(j)
	case n < 26:
		name = "moved"
		if err = b.try(func() error {
			return b.Measuring.SomethingMoved(b.Ctx(), measuring.SomethingMoved{Form: b.Form(), Setup: j.setup, State: b.SetupOf(j.setup).State, What: measure.Moved})
		}); err == nil {
			j.points, j.instead = [3][]reading{}, [3][]reading{}
		}
	case n < 30:
		name, err = b.back(j)
	case n < 54:
		name = "release"
		if err = b.Loft.Release(j.hold, holding.NewRelease{By: by}); err == nil {
			j.signed = true
		}
	case n < 56:
		name, err = "step", b.Step(j.hold, by, "")
	case n < 60:
		name, err = "undo", b.Undo(j.row)
	case n < 62:
		name = "fact"
		hole := 1 + b.rnd.IntN(5)
		err = b.Riveting.TellFact(b.Ctx(), riveting.HolesFact{Form: b.Form(), Row: j.row, Seen: b.RowOf(j.row).Revised, Numbers: []int{hole}, What: row.Rivet, How: gate.Unreleased, By: by, Reason: "it was late"})
		if err == nil {
			j.facts[hole] = true
		}
	case n < 64:
		name = "order"
		err = b.MoveStep(b.Ctx(), planning.StepMoved{Form: b.Form(), Step: loft.ID("order"), Seen: "open", State: "done", Ties: []string{loft.BenchRivet}, By: by})
	default:
		name = "rivet"
		err = b.Do(j.row, row.Rivet, 1+b.rnd.IntN(5))
	}
	says := "ok"
	if err != nil {
		says = err.Error()
	}
	b.did = append(b.did, fmt.Sprintf("%s %s: %s", map[bool]string{true: "boom", false: "fin"}[j == b.joints[0]], name, says))
	return err
}

func (b *builder) try(f func() error) error { return f() }

// read takes a reading; one that is asked about is taken for a misreading of the one before.
func (b *builder) read(j *joint) (name string, err error) {
	i, text := b.rnd.IntN(3), values[b.rnd.IntN(len(values))]
	n := measuring.NewReading{Form: b.Form(), Check: j.check, Text: text, Instrument: loft.BenchRule}
	if len(j.points[i]) > 0 {
		n.InPlace = "misread"
	}
	err = b.Loft.Take(j.setup, i+1, n)
	if err != nil { // a slip is asked: it is so
		n = b.At(j.setup, i+1, n)
		n.Form, n.AsMeasured = b.Form(), true
		err = b.Measuring.Take(b.Ctx(), n)
	}
	if err == nil {
		v, _ := strconv.ParseFloat(text, 64)
		j.instead[i] = append(j.instead[i], j.points[i]...)
		j.points[i] = []reading{{n.ID, v}}
	}
	return fmt.Sprintf("point %d reads %s", i+1, text), err
}

// back takes the last reading of a point back.
func (b *builder) back(j *joint) (name string, err error) {
	i := b.rnd.IntN(3)
	id := ""
	for _, spot := range b.SetupOf(j.setup).Checks[0].Spots {
		if spot.Number == i+1 && len(spot.Counting()) > 0 {
			id = spot.Counting()[len(spot.Counting())-1].ID
		}
	}
	if id == "" {
		return "nothing to take back", nil
	}
	if err = b.TakeBack(j.check, id, "wrong mark"); err == nil {
		j.points[i] = nil
	}
	return fmt.Sprintf("point %d taken back", i+1), err
}

// filled are the holes of a row with a rivet in.
func (b *builder) filled(j *joint) map[int]bool {
	out := map[int]bool{}
	for _, h := range b.RowOf(j.row).Holes {
		if h.Filled() {
			out[h.Number] = true
		}
	}
	return out
}

// Nothing becomes permanent without evidence that stands then, unless it is marked so.
func TestRandomBuilders(t *testing.T) {
	n := builders(t, usual)
	var set, refused atomic.Int64
	t.Run("all", func(t *testing.T) {
		for k := range 4 {
			t.Run(fmt.Sprint(k), func(t *testing.T) {
				t.Parallel()
				for seed := k; seed < n; seed += 4 {
					s, r := work(t, uint64(seed))
					set.Add(s)
					refused.Add(r)
				}
			})
		}
	})
	t.Logf("%d builders, %d rivets, %d entries refused", n, set.Load(), refused.Load())
	require.Positive(t, set.Load(), "some of it is allowed")
}

// work lets one builder make all their entries, and looks after each that may have made something
// permanent.
func work(t *testing.T, seed uint64) (set, refused int64) {
	t.Helper()
	b := begin(t, seed)
	var before [2]map[int]bool
	var done [2]bool
	for k, j := range b.joints {
		before[k] = b.filled(j)
	}
	for range entries {
		err := b.enter()
		if err != nil {
			refused++
			continue // it stored nothing: what it might have made is seen with the next that is taken
		}
		for k, j := range b.joints {
			now := b.filled(j)
			for hole := range now {
				if before[k][hole] || j.facts[hole] {
					continue
				}
				set++
				if !j.signed || !j.shown() && !done[k] {
					t.Fatalf("seed %d: a rivet at hole %d without evidence that stands\n%s", seed, hole, say(b.did))
				}
			}
			before[k] = now
			if is := b.HoldOf(j.hold).Done; is && !done[k] {
				done[k] = true
				if len(j.facts) == 0 && (!j.signed || !j.shown()) {
					t.Fatalf("seed %d: a step recorded without evidence that stands\n%s", seed, say(b.did))
				}
			}
		}
	}
	b.Verify()
	return set, refused
}

func say(did []string) (out string) {
	for i, line := range did {
		out += fmt.Sprintf("%3d %s\n", i+1, line)
	}
	return out
}
