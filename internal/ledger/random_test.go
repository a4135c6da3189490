package ledger_test

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"strconv"
	"strings"
	"sync"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/closing"
	"orpine/internal/core/row"
	"orpine/internal/holding"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/riveting"
	"orpine/internal/stores"
	"orpine/test/loft"
)

// submission is a form as a page made it: it can be sent, sent again, and sent with
// something else in it.
type submission struct {
	id            string
	send, changed func(ctx context.Context) error
}

// page prepares one form of many on what it sees now; it is sent later, so that what it
// was made on may have changed by then.
func page(l *loft.Loft, random *rand.Rand) submission {
	form := ledger.Form{ID: uuid.NewString()}
	s := submission{id: form.ID}
	switch n := random.IntN(20); {
	case n < 6:
		r := l.RowOf(loft.BenchRow)
		what := []row.Operation{row.Drill, row.Clean, row.Pin, row.Unpin, row.Mark, row.Rivet}[random.IntN(6)]
		op := riveting.HoleOperation{Form: form, Row: r.ID, Seen: r.Revised, Numbers: []int{1 + random.IntN(len(r.Holes))}, What: what, Keep: row.Keep{Part: "fairing", Step: "later"}, Crew: "solo"}
		s.send = func(ctx context.Context) error { return l.Riveting.Operate(ctx, op) }
		s.changed = func(ctx context.Context) error {
			op := op
			op.Crew = "with a bucker"
			return l.Riveting.Operate(ctx, op)
		}
	case n < 8:
		sheet, err := l.Row(l.Ctx(), loft.BenchRow)
		require.NoError(l.T, err)
		undo := riveting.UndoOf{Form: form, Row: loft.BenchRow, By: "builder"}
		if len(sheet.Undo) > 0 {
			undo.Undoes = sheet.Undo[0].ID
		}
		s.send = func(ctx context.Context) error { return l.Riveting.Undo(ctx, undo) }
		s.changed = func(ctx context.Context) error {
			undo := undo
			undo.By = "helper"
			return l.Riveting.Undo(ctx, undo)
		}
	case n < 12:
		reading := l.At(loft.BenchSetup, 1+random.IntN(3), measuring.NewReading{Form: form, Check: loft.BenchCheck, Text: fmt.Sprint(10 + random.IntN(2)), Instrument: loft.BenchRule, InPlace: []string{"", "misread"}[random.IntN(2)]})
		s.send = func(ctx context.Context) error { return l.Measuring.Take(ctx, reading) }
		s.changed = func(ctx context.Context) error {
			reading := reading
			reading.Text += ".5"
			return l.Measuring.Take(ctx, reading)
		}
	case n < 13:
		moved := measuring.SomethingMoved{Form: form, Setup: loft.BenchSetup, State: l.SetupOf(loft.BenchSetup).State, What: "knocked"}
		s.send = func(ctx context.Context) error { return l.Measuring.SomethingMoved(ctx, moved) }
		s.changed = func(ctx context.Context) error {
			moved := moved
			moved.What = "moved"
			return l.Measuring.SomethingMoved(ctx, moved)
		}
	case n < 15:
		release := holding.NewRelease{Form: form, Hold: loft.BenchRivet, Shown: l.HoldOf(loft.BenchRivet).Judgement.Digest(), By: "builder", Reason: "seen"}
		s.send = func(ctx context.Context) error { return l.Holding.Release(ctx, release) }
		s.changed = func(ctx context.Context) error {
			release := release
			release.By = "helper"
			return l.Holding.Release(ctx, release)
		}
	case n < 16:
		withdrawal := holding.Withdrawal{Form: form, Hold: loft.BenchRivet, Release: l.HoldOf(loft.BenchRivet).ReleaseID, What: "knocked", By: "helper"}
		s.send = func(ctx context.Context) error { return l.Holding.Withdraw(ctx, withdrawal) }
		s.changed = func(ctx context.Context) error {
			withdrawal := withdrawal
			withdrawal.By = "builder"
			return l.Holding.Withdraw(ctx, withdrawal)
		}
	case n < 18:
		count := closing.NewCount{Form: form, Bay: loft.BenchBay, Thing: "cleco", Number: 1 + random.IntN(5), By: "helper"}
		s.send = func(ctx context.Context) error { return l.Closing.Count(ctx, count) }
		s.changed = func(ctx context.Context) error {
			count := count
			count.Number++
			return l.Closing.Count(ctx, count)
		}
	default:
		stock := stores.NewStock{Form: form, Airframe: loft.BenchFrame, Sort: "rivet", Name: "solid 1/8 × 1/4 in", Number: 1 + random.IntN(50)}
		s.send = func(ctx context.Context) error { return l.Stores.CountStock(ctx, stock) }
		s.changed = func(ctx context.Context) error {
			stock := stock
			stock.Number++
			return l.Stores.CountStock(ctx, stock)
		}
	}
	return s
}

// hand sends forms in an order of its own: some late, some twice, some changed. It
// returns the ids of those that were acknowledged, and how many were sent.
func hand(l *loft.Loft, seed uint64, forms int) (acknowledged []string, sent int, err error) {
	random := rand.New(rand.NewPCG(seed, 9))
	ctx := context.Background()
	var waiting []submission
	taken := map[string]bool{}
	post := func(s submission, send func(ctx context.Context) error, changed bool) error {
		sent++
		err := send(ctx)
		var refused ledger.Problems
		switch {
		case err == nil && changed && taken[s.id]:
			return fmt.Errorf("another form was acknowledged under the id of %s", s.id)
		case err == nil:
			taken[s.id] = true
		case !errors.As(err, &refused):
			return err
		case taken[s.id] && !changed:
			return fmt.Errorf("a repeat of %s was refused: %w", s.id, err)
		}
		return nil
	}
	for range forms {
		waiting = append(waiting, page(l, random))
		if len(waiting) < 4 {
			continue
		}
		i := random.IntN(len(waiting))
		s := waiting[i]
		if err := post(s, s.send, false); err != nil {
			return nil, sent, err
		}
		switch random.IntN(4) {
		case 0: // its answer was lost: it stays, and is sent again some time
		case 1:
			if err := post(s, s.changed, true); err != nil {
				return nil, sent, err
			}
			fallthrough
		default:
			waiting = append(waiting[:i], waiting[i+1:]...)
		}
	}
	for id := range taken {
		acknowledged = append(acknowledged, id)
	}
	return acknowledged, sent, nil
}

const second = "ORPINE_TEST_SECOND_PROCESS"

// TestTheSecondProcess is no test of its own: it is what the one below starts.
func TestTheSecondProcess(t *testing.T) {
	t.Parallel()
	dir := os.Getenv(second)
	if dir == "" {
		t.Skip("it is started by another test")
	}
	acknowledged, sent, err := hand(loft.In(t, dir), 1000, 700)
	require.NoError(t, err)
	for _, id := range acknowledged {
		fmt.Println("acknowledged", id)
	}
	fmt.Println("sent", sent)
}

// Ten thousand submissions from eight hands and a second process, with repeats, changed
// repeats, forms made on what is no longer so, and in any order: nothing acknowledged is
// missing, nothing is there twice, nothing is there that was not acknowledged, and the
// journal replayed gives the rows.
func TestNothingAcknowledgedIsMissingAndNothingIsThereTwice(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 30)
	begun := l.Log(1)[0].Seq
	var mu sync.Mutex
	total := 0
	acknowledged := map[string]bool{}
	keep := func(ids []string, sent int, err error) {
		mu.Lock()
		defer mu.Unlock()
		assert.NoError(t, err)
		total += sent
		for _, id := range ids {
			acknowledged[id] = true
		}
	}
	var all sync.WaitGroup
	all.Go(func() {
		cmd := exec.Command(os.Args[0], "-test.run=^TestTheSecondProcess$")
		cmd.Env = append(os.Environ(), second+"="+l.Dir)
		out, err := cmd.CombinedOutput()
		var ids []string
		sent := 0
		for lines := bufio.NewScanner(strings.NewReader(string(out))); lines.Scan(); {
			if id, ok := strings.CutPrefix(lines.Text(), "acknowledged "); ok {
				ids = append(ids, id)
			}
			if n, ok := strings.CutPrefix(lines.Text(), "sent "); ok {
				sent, _ = strconv.Atoi(n)
			}
		}
		if err != nil {
			err = fmt.Errorf("%w: %s", err, out)
		}
		assert.Positive(t, sent, "the second process took part")
		keep(ids, sent, err)
	})
	for i := range uint64(8) {
		all.Go(func() { keep(hand(l, i, 930)) })
	}
	all.Wait()
	there := map[string]int{}
	for _, id := range l.EntryIDs(begun) {
		there[id]++
	}
	for id := range acknowledged {
		require.Equal(t, 1, there[id], "acknowledged and not there once")
	}
	require.Len(t, there, len(acknowledged), "there without being acknowledged")
	l.Verify()
	t.Log(total, "sent,", len(acknowledged), "taken")
	assert.GreaterOrEqual(t, total, 10_000)
}
