package closing_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/amending"
	"orpine/internal/closing"
	"orpine/internal/core/hold"
	"orpine/internal/core/row"
	"orpine/internal/demo"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/photo"
	"orpine/internal/riveting"
	"orpine/test/loft"
)

func TestABayIsClosedWhenNothingIsLeft(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 2)
	bay := loft.BenchBay
	release := func() error {
		return l.Release(loft.BenchClose, holding.NewRelease{By: "builder"})
	}
	require.NoError(t, l.Closing.Count(l.Ctx(), closing.NewCount{Form: l.Form(), Bay: bay, Thing: "cleco 1/8", Number: 40, By: "helper"}))
	require.NoError(t, l.Closing.Count(l.Ctx(), closing.NewCount{Form: l.Form(), Bay: bay, Thing: "cleco 1/8", Number: -39, By: "helper"}))
	require.NoError(t, l.Closing.FinishTask(l.Ctx(), closing.TaskDone{Form: l.Form(), Bay: bay, Task: loft.BenchTask, By: "builder"}))
	require.NoError(t, l.Photos.Add(l.Ctx(), photo.NewPhoto{Form: l.Form(), Of: bay, Data: loft.PNG(t, 40, 30), Caption: "before"}))
	require.NoError(t, l.Look(gate.LookAt{Need: hold.Inside, Of: bay, By: "builder", Note: "a hatch at frame 3"}))
	assert.Contains(t, release().Error(), "holes are neither set nor kept open in row: 1, 2")
	require.NoError(t, l.Operate(riveting.HoleOperation{Row: loft.BenchRow, Numbers: []int{1, 2}, What: row.Mark, Keep: row.Keep{Part: "fairing", Step: "later"}}))
	assert.Contains(t, release().Error(), "inside or outside? the check “Bow”, in its stands; the hold “Rivet it”")
	l.Settle(bay)
	assert.Contains(t, release().Error(), "cleco 1/8: 40 counted in, 39 out, 1 still inside")
	require.NoError(t, l.Closing.Count(l.Ctx(), closing.NewCount{Form: l.Form(), Bay: bay, Thing: "cleco 1/8", Number: -1, By: "helper"}))
	assert.Contains(t, loft.Problems(t, l.Closing.FinishTask(l.Ctx(), closing.TaskDone{Form: l.Form(), Bay: bay, Task: loft.BenchTask, By: "helper"}))[""], "was done already, by builder")
	require.NoError(t, release())
	require.NoError(t, l.Riveting.Lay(l.Ctx(), riveting.NewRow{Form: loft.Named("row-laid-out-late"), Assembly: loft.BenchBoom, Name: "one more row", Values: loft.With(loft.RowOf(1), "keep", "1; fairing; later"), Bay: bay}))
	again := l.HoldOf(loft.BenchClose)
	assert.Equal(t, "one more row was laid out inside since", again.Releases[0].Withdrawn)
	assert.Contains(t, release().Error(), "can they be reached once it is closed? one more row: 1 for fairing (later)")
	l.Settle(bay)
	require.NoError(t, release())
	require.NoError(t, l.Closing.AddTask(l.Ctx(), closing.NewTask{Form: l.Form(), Bay: bay, What: "one more wire"}))
	h := l.HoldOf(loft.BenchClose)
	assert.Empty(t, h.Released)
	assert.Contains(t, h.Releases[1].Withdrawn, "one more wire")
	b, err := l.Bay(l.Ctx(), bay)
	require.NoError(t, err)
	assert.Equal(t, 1, b.Ahead, "the riveting comes before it")
	require.NoError(t, l.Closing.FinishTask(l.Ctx(), closing.TaskDone{Form: l.Form(), Bay: bay, Task: b.Tasks[1].ID, By: "builder", Note: "left out"}))
	require.NoError(t, release())
	require.NoError(t, l.Step(loft.BenchClose, "builder", ""))
	late := riveting.NewRow{Form: l.Form(), Assembly: loft.BenchBoom, Name: "too late", Values: loft.RowOf(2), Bay: bay}
	assert.Contains(t, loft.Problems(t, l.Riveting.Lay(l.Ctx(), late)), "bay")
	for _, err := range []error{l.Closing.AddTask(l.Ctx(), closing.NewTask{Form: l.Form(), Bay: bay, What: "too late"}), l.Closing.Count(l.Ctx(), closing.NewCount{Form: l.Form(), Bay: bay, Thing: "tool", Number: 1, By: "x"}), l.Do(loft.BenchRow, row.Drill, 1)} {
		assert.Contains(t, loft.Problems(t, err)[""], "is closed")
	}
	for field, err := range map[string]error{
		"task": l.Closing.AddTask(l.Ctx(), closing.NewTask{Form: l.Form(), Bay: bay, What: " "}), "number": l.Closing.Count(l.Ctx(), closing.NewCount{Form: l.Form(), Bay: bay, Thing: "tool", Number: 0, By: "x"}), "thing": l.Closing.Count(l.Ctx(), closing.NewCount{Form: l.Form(), Bay: bay, Thing: "", Number: 1, By: "x"}),
		"by": l.Closing.FinishTask(l.Ctx(), closing.TaskDone{Form: l.Form(), Bay: bay, Task: "x"}), "note": l.Look(gate.LookAt{Need: hold.Inside, Of: bay, By: "x"}), "second": l.Look(gate.LookAt{Need: hold.Handed, Of: bay, By: "x", Second: "X"}),
		"what": l.Look(gate.LookAt{Need: hold.Prepared, Of: loft.BenchRow, By: "x"}), "": l.Look(gate.LookAt{Need: "guessed", Of: loft.BenchRow, By: "x"}),
	} {
		assert.Contains(t, loft.Problems(t, err), field)
	}
	opens := closing.OpenAgain{Form: l.Form(), Bay: bay, Reason: "a wire is missing", Drilled: "one more row, hole 2", By: "builder"}
	assert.Contains(t, loft.Problems(t, l.Closing.OpenAgain(l.Ctx(), closing.OpenAgain{Form: l.Form(), Bay: bay, By: "builder"})), "reason")
	require.NoError(t, l.Closing.OpenAgain(l.Ctx(), opens))
	require.NoError(t, l.Closing.OpenAgain(l.Ctx(), opens), "sent twice, opened once")
	opens.Form = l.Form()
	assert.Contains(t, loft.Problems(t, l.Closing.OpenAgain(l.Ctx(), opens))[""], "is open")
	b, err = l.Bay(l.Ctx(), bay)
	require.NoError(t, err)
	require.Len(t, b.Opened, 1)
	assert.Empty(t, b.State.Things, "what was counted before is settled")
	opened := l.HoldOf(loft.BenchClose)
	assert.False(t, opened.Spent())
	assert.Contains(t, loft.Problems(t, l.Right("bay", bay, amending.Withdraw, nil))["how"], "opened again")
	require.NoError(t, l.Right("hold", loft.BenchClose, amending.Correct, map[string]string{"name": "Close it", "permanent": "the bay, for good", "why": "w"}))
	for _, r := range l.HoldOf(loft.BenchClose).Releases {
		assert.Empty(t, r.Wrong, "a correction that makes no line worse marks nothing")
	}
	require.NoError(t, l.Closing.AddTask(l.Ctx(), closing.NewTask{Form: l.Form(), Bay: bay, What: "the missing wire"}))
	assert.Contains(t, release().Error(), "the missing wire")
	b, err = l.Bay(l.Ctx(), bay)
	require.NoError(t, err)
	require.NoError(t, l.Closing.Tick(l.Ctx(), closing.Ticked{Form: l.Form(), Bay: bay, Tasks: []string{b.Tasks[2].ID}, Empty: true, By: "builder"}))
	assert.Contains(t, release().Error(), "nobody can look again afterwards", "a picture of before it was opened shows what was there then")
	require.NoError(t, l.Photos.Add(l.Ctx(), photo.NewPhoto{Form: l.Form(), Of: bay, Data: loft.PNG(t, 40, 30), Caption: "the wire"}))
	require.NoError(t, release())
	require.NoError(t, l.Step(loft.BenchClose, "builder", ""))
	l.Verify()
	record, err := l.Record(l.Ctx(), loft.BenchBoom, 1)
	require.NoError(t, err)
	assert.Len(t, record.BayRecords[0].Photos, 2)
	assert.Len(t, record.RowRecords, 2)
}

func TestBaysNestAndBelongToSeveralAssemblies(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	inner := holding.NewStand{Form: loft.Named("close the box"), Assembly: demo.ID("tail boom"), Name: "Close the box", Step: "close", Permanent: "the box", Why: "w", Bay: "the box", Tasks: []string{"a wire"}}
	require.NoError(t, l.Holding.StandBefore(l.Ctx(), inner))
	box, boom := closing.BayOf(inner.ID), demo.Bay()
	place := func(bay, within string, also ...string) error {
		return l.Closing.Place(l.Ctx(), closing.Placed{Form: l.Form(), Bay: bay, Within: within, Also: also, By: "builder"})
	}
	assert.Contains(t, loft.Problems(t, place(box, "none")), "within")
	assert.Contains(t, loft.Problems(t, place(box, box)), "within")
	assert.Contains(t, loft.Problems(t, place(box, "", demo.ID("foreplane"))), "also", "of another aircraft")
	require.NoError(t, place(box, boom, demo.ID("fin")))
	assert.Contains(t, loft.Problems(t, place(boom, box))["within"], "lies within this one")
	b, err := l.Bay(l.Ctx(), box)
	require.NoError(t, err)
	assert.Equal(t, []any{"the boom bay", []string{"Fin"}}, []any{b.Outer, b.Names})
	outside := map[string]bool{}
	for _, near := range b.State.Undecided() {
		outside[near.What] = true
	}
	assert.True(t, outside["the hold “Drill to size: the bolt holes of the fin's spar”"], "%v", outside)
	assert.True(t, outside["row 5, top skin lap (25–48 to be set)"], "%v", outside)

	outer, err := l.Bay(l.Ctx(), boom)
	require.NoError(t, err)
	assert.Contains(t, fmt.Sprint(outer.Judged), "still open within: the box")
	assert.Equal(t, "the box", outer.Nested[0].Name)
	l.Settle(box)
	b, err = l.Bay(l.Ctx(), box)
	require.NoError(t, err)
	assert.Empty(t, b.State.Undecided())
	count := len(b.Outside)
	require.NoError(t, l.Closing.Tick(l.Ctx(), closing.Ticked{Form: l.Form(), Bay: box, Inside: []string{b.Outside[0].ID}, By: "builder"}))
	b, err = l.Bay(l.Ctx(), box)
	require.NoError(t, err)
	assert.Len(t, b.Outside, count-1, "it is inside after all")
	assert.Contains(t, loft.Problems(t, l.Closing.Tick(l.Ctx(), closing.Ticked{Form: l.Form(), Bay: box, Outside: []string{"row:none"}, By: "builder"})), "")
	require.NoError(t, l.Closing.Tick(l.Ctx(), closing.Ticked{Form: l.Form(), Bay: box, Outside: []string{"task:" + b.Tasks[0].ID}, By: "builder"}))
	b, err = l.Bay(l.Ctx(), box)
	require.NoError(t, err)
	assert.Empty(t, b.State.Tasks, "a task may lie outside too")
	l.Verify()
}

// What was done since the closing, in any assembly that the bay belongs to, is named when it is
// opened again.
func TestABayOfTwoAssembliesNamesWhatWasDoneInBoth(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	box := holding.NewStand{Form: loft.Named("close the box"), Assembly: demo.ID("tail boom"), Name: "Close the box", Step: "close", Permanent: "the box", Why: "w", Bay: "the box"}
	require.NoError(t, l.Holding.StandBefore(l.Ctx(), box))
	bay := closing.BayOf(box.ID)
	require.NoError(t, l.Closing.Place(l.Ctx(), closing.Placed{Form: l.Form(), Bay: bay, Also: []string{demo.ID("fin"), demo.ID("rudder")}, By: "builder"}))
	l.Settle(bay)
	require.NoError(t, l.Closing.Tick(l.Ctx(), closing.Ticked{Form: l.Form(), Bay: bay, Access: "a hatch", Empty: true, By: "builder"}))
	require.NoError(t, l.Photos.Add(l.Ctx(), photo.NewPhoto{Form: l.Form(), Of: bay, Data: loft.PNG(t, 40, 30), Caption: "before"}))
	require.NoError(t, l.Release(box.ID, holding.NewRelease{By: "builder"}))
	require.NoError(t, l.Step(box.ID, "builder", ""))
	for _, of := range []string{"fin", "rudder", "elevator left"} {
		n := holding.NewStand{Form: loft.Named("ream " + of), Assembly: demo.ID(of), Name: "Ream the pins, " + of, Step: "ream", Permanent: "two holes", Why: "w", Second: true}
		require.NoError(t, l.Holding.StandBefore(l.Ctx(), n))
		require.NoError(t, l.Look(gate.LookAt{Need: hold.Seconded, Of: n.ID, By: "builder", Second: "helper"}))
		require.NoError(t, l.Release(n.ID, holding.NewRelease{By: "inspector"}))
		require.NoError(t, l.Step(n.ID, "builder", ""))
	}
	require.NoError(t, l.Closing.OpenAgain(l.Ctx(), closing.OpenAgain{Form: l.Form(), Bay: bay, Reason: "a wire", By: "builder"}))
	b, err := l.Bay(l.Ctx(), bay)
	require.NoError(t, err)
	assert.Equal(t, []string{"Ream the pins, fin", "Ream the pins, rudder"}, b.Opened[0].Unsettled)
	l.Verify()
}
