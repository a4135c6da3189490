package app

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"hash/crc32"
	"image"
	"image/color"
	"image/jpeg"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/part"
	"orpine/internal/core/row"
	"orpine/internal/store/query"
)

func (l *loft) rowNamed(id string) Row {
	l.t.Helper()
	r, err := l.Row(l.ctx(), id)
	require.NoError(l.t, err)
	return r
}

func (l *loft) do(id string, what row.Deed, numbers ...int) error {
	return l.DoHoles(l.ctx(), HoleDeed{ID: l.id(), Row: id, Numbers: numbers, What: what, Cause: "tipped", Crew: "solo"})
}

// The scenario: rows 3 to 6 half set, two bad rivets, one row kept open.
func TestTheDemosBoom(t *testing.T) {
	l := openLoft(t)
	for id, says := range map[string]string{
		"boom-row-3": "41 set · 1 open · 1 bad · 41 cleaned", "boom-row-4": "41 set · 1 bad · 14 pinned · 28 cleaned",
		"boom-row-5": "24 set · 24 cleaned", "boom-row-6": "12 set · 12 open",
	} {
		assert.Equal(t, says, l.rowNamed(id).CountsSay(), id)
	}
	assert.Contains(t, problems(t, l.do("boom-row-3", row.Rivet, 77))[""], "hole 77 stays open for fin fairing (fit the fin fairing)")
	require.NoError(t, l.do("boom-row-3", row.Rivet, 43))
	h, err := l.Hold(l.ctx(), boomRivets)
	require.NoError(t, err)
	first, left := h.Left()
	assert.Equal(t, "row 3, left stringer", first.Name)
	assert.Equal(t, 108, left)
	assert.Contains(t, problems(t, l.RecordStep(l.ctx(), NewStep{l.id(), boomRivets, "builder", ""}))[""], "row 3, left stringer is not done: 41 holes 17, 44–76, 78–84")

	records, err := l.RowRecords(l.ctx(), boomID)
	require.NoError(t, err)
	require.Len(t, records[0].SetBy, 2, "by the builder with a bucker; the one just now by nobody named, solo")
	assert.Equal(t, []any{"builder", "with a bucker", 42}, []any{records[0].SetBy[0].By, records[0].SetBy[0].Crew, records[0].SetBy[0].Rivets})
	assert.Equal(t, []int{17}, records[0].Replaced)

	s, err := l.Stores(l.ctx(), samphireID)
	require.NoError(t, err)
	stand := map[string]StockLine{}
	for _, line := range s.Stock {
		stand[line.Name] = line
	}
	quarter := stand["solid 1/8 × 1/4 in"]
	assert.Equal(t, []int{180, 95, 2, 109}, []int{quarter.Counted, quarter.Set, quarter.Spoilt, quarter.ToSet}, "36 + 36 + 24 − 2 bad + the one just set")
	assert.Equal(t, 83, quarter.OnHand())
	assert.Equal(t, 12, stand["solid 1/8 × 5/16 in"].Set)
	require.Len(t, s.ByCause, 2)
	require.Len(t, s.ByRow, 4)
	assert.Equal(t, []any{"row 4, right stringer", 41, 1}, []any{s.ByRow[0].Name, s.ByRow[0].Good, s.ByRow[0].Bad}, "the worst first")
	require.Len(t, s.Notices, 1)
	var affected []string
	for _, p := range s.Notices[0].Affected {
		affected = append(affected, fmt.Sprint(p.Name, ", ", p.Depth, ", ", p.Certain))
	}
	assert.Equal(t, []string{"boom stringer, left, riveted, true", "boom stringer, spare, on the shelf, false"}, affected, "the deepest first")
	for _, p := range s.Parts {
		if p.ID == "part-rib-right" {
			assert.Equal(t, part.Fitted, p.Depth)
		}
	}
}

// A release of a hold that has no setup ends too when something moves.
func TestAReleaseIsWithdrawnWhereNoSetupIsThereToSaySo(t *testing.T) {
	l := openLoft(t)
	require.NoError(t, l.do("boom-row-3", row.Rivet, 43))
	assert.Contains(t, problems(t, l.Withdraw(l.ctx(), Withdrawal{ID: l.id(), Hold: boomRivets, What: "sneezed", By: "helper"})), "what")
	assert.Contains(t, problems(t, l.Withdraw(l.ctx(), Withdrawal{ID: l.id(), Hold: boomRivets, What: measure.Knocked})), "by")
	n := Withdrawal{ID: l.id(), Hold: boomRivets, What: measure.Knocked, By: "helper"}
	require.NoError(t, l.Withdraw(l.ctx(), n))
	require.NoError(t, l.Withdraw(l.ctx(), n), "sent twice")
	assert.Contains(t, problems(t, l.do("boom-row-3", row.Rivet, 44))[""], "the hold “Rivet boom rows 3 to 6” is not released")
	assert.Contains(t, problems(t, l.Withdraw(l.ctx(), Withdrawal{ID: l.id(), Hold: boomRivets, What: measure.Moved, By: "helper"})), "")
	h, err := l.Hold(l.ctx(), boomRivets)
	require.NoError(t, err)
	assert.Equal(t, "knocked, seen by helper", h.Releases[0].Withdrawn)
	_, err = l.Verify(l.ctx())
	require.NoError(t, err)
}

func TestOneHoleThatSticksMakesTheRowMatchDrilled(t *testing.T) {
	l := openBench(t)
	l.t = t
	values := with(rowOf(6), "sizing", "final size as supplied", "sample", "3")
	require.NoError(t, l.AddRow(l.ctx(), NewRow{ID: "row-of-final-size", Assembly: "boom-under-test", Name: "supplied", Values: values}))
	r := l.rowNamed("row-of-final-size")
	assert.Equal(t, []int{1, 4, 6}, r.Untried(r.Holes))
	require.NoError(t, l.do(r.ID, row.Clean, 1, 2, 3))
	require.NoError(t, l.do(r.ID, row.Falls, 1))
	h, err := l.Hold(l.ctx(), r.ID+"-hold")
	require.NoError(t, err)
	assert.Equal(t, "Rivet supplied", h.Name)
	assert.Contains(t, fmt.Sprint(h.Judgement.Lines), "the drop-through test wants 2 holes more")
	require.NoError(t, l.do(r.ID, row.Stuck, 4))
	r = l.rowNamed(r.ID)
	assert.False(t, r.Final)
	assert.Len(t, holesIn(r, row.Pilot), 6)
	assert.Contains(t, problems(t, l.Undo(l.ctx(), UndoLast{ID: l.id(), Row: r.ID}))[""], "nothing to undo", "nothing from before it was found out")
	_, err = l.Verify(l.ctx())
	require.NoError(t, err)
}

func TestARowsFormIsRefusedAtItsFields(t *testing.T) {
	l := openBench(t)
	l.t = t
	for field, change := range map[string][]string{
		"layers": {"layers", "cheese; 1"}, "size": {"size", "thick"}, "callouts": {"callouts", "1-4; long"}, "grips": {"sort", "blind"}, "count": {"count", "many"}, "pitch": {"pitch", "0"},
		"csv": {"csv", "along\nfar\n"}, "poses": {"poses", "9-4; upside down"}, "keep": {"keep", "40; fairing; fit it"}, "edge": {"edge", "-3"}, "from": {"from", "aft; left"}, "sort": {"sort", "glue"}, "reach": {"reach", strings.Repeat("x", 90)},
	} {
		err := l.AddRow(l.ctx(), NewRow{ID: l.id(), Assembly: "boom-under-test", Name: "row", Values: with(rowOf(8), change...)})
		assert.Contains(t, problems(t, err), field, "%v", change)
	}
	for field, n := range map[string]NewRow{"name": {}, "rivets": {Name: "r", Rivets: benchClose}, "drills": {Name: "r", Drills: []string{benchRivet}}, "bay": {Name: "r", Bay: "none"}} {
		n.ID, n.Assembly, n.Values = l.id(), "boom-under-test", rowOf(8)
		assert.Contains(t, problems(t, l.AddRow(l.ctx(), n)), field)
	}
	require.NoError(t, l.AddRow(l.ctx(), NewRow{ID: "row-in-fractions", Assembly: "boom-under-test", Name: "fractions", Values: with(rowOf(2), "size", "1/8 in", "callouts", "1; 1/4\n2; 5 mm")}))
	fractions := l.rowNamed("row-in-fractions")
	assert.Equal(t, Line{"above", [2]float64{2350, 0}, [2]float64{2390, 0}}, fractions.Line, "drawn from the near end where nobody says")
	assert.Equal(t, Line{"left", [2]float64{5070, 420}, [2]float64{5070, 460}}, Shape{Form: "fin", X: 4790, Z: 420, Chord: 560}.line(fractions.Holes))
	assert.Equal(t, Line{"above", [2]float64{310, -450}, [2]float64{310, -490}}, Shape{Form: "surface", Inner: -450, Outer: -6200, Chord: 620}.line(fractions.Holes))
	assert.Equal(t, "1/8", fractions.Fastener.Size)
	assert.Equal(t, "solid 1/8 × 1/4 in", fractions.FastenerAt(fractions.Holes[0]), "a bare fraction is of an inch")
	assert.Equal(t, "solid 1/8 × 5 mm", fractions.FastenerAt(fractions.Holes[1]))
	csv := with(rowOf(8), "csv", "along,keep for,keep until\n10,,\n40,rudder stop,Close it\n", "grips", "")
	require.NoError(t, l.AddRow(l.ctx(), NewRow{ID: "row-from-csv", Assembly: "boom-under-test", Name: "from a file", Values: csv}))
	r := l.rowNamed("row-from-csv")
	assert.Len(t, r.Holes, 2)
	assert.Equal(t, benchClose, r.Holes[1].Keep.Hold, "the later step has a hold of that name")
	assert.Contains(t, problems(t, l.do(r.ID, row.Lift, 2)), "reason", "that step has not come")
}

func TestTheDrawnPlanOfARowComesBackAsItWasTyped(t *testing.T) {
	l := openLoft(t)
	for _, id := range []string{"boom-row-3", "boom-row-4", "boom-row-5", "boom-row-6"} {
		before := l.rowNamed(id)
		require.NoError(t, l.ChangeRow(l.ctx(), RowChange{ID: l.id(), Row: id, Name: before.Name, Values: before.Texts()}))
		after := l.rowNamed(id)
		before.Final, after.Final = false, false // not of the plan
		assert.Equal(t, before.Row, after.Row, id)
		assert.Equal(t, before.Line, after.Line, id)
		assert.Equal(t, before.Holes, after.Holes, id)
	}
	for _, f := range PlanFields() {
		assert.NotContains(t, laidOut, f.Key)
	}
}

func TestAChangedPlanEndsTheRelease(t *testing.T) {
	l := openLoft(t)
	before := l.rowNamed("boom-row-3")
	n := RowChange{ID: l.id(), Row: "boom-row-3", Name: "row 3", Values: with(before.Texts(), "callouts", "1-84; 5/16")}
	require.NoError(t, l.ChangeRow(l.ctx(), n))
	require.NoError(t, l.ChangeRow(l.ctx(), n), "sent twice")
	h, err := l.Hold(l.ctx(), boomRivets)
	require.NoError(t, err)
	assert.False(t, h.Released())
	assert.Equal(t, "the plan of row 3 was changed", h.Releases[0].Withdrawn)
	assert.Equal(t, hold.Unsure, h.Judgement.Standing)
	assert.Contains(t, h.Judgement.Worst().Why, "holes 17, 43–84: too long: it tends to tip over")
	for field, change := range map[string][]string{"layers": {"layers", ""}, "callouts": {"callouts", "1-4; thick"}, "pin": {"pin", "often"}} {
		assert.Contains(t, problems(t, l.ChangeRow(l.ctx(), RowChange{ID: l.id(), Row: "boom-row-4", Name: "row 4", Values: with(before.Texts(), change...)})), field)
	}
	assert.Contains(t, problems(t, l.ChangeRow(l.ctx(), RowChange{ID: l.id(), Row: "boom-row-4", Values: before.Texts()})), "name")
	_, err = l.Verify(l.ctx())
	require.NoError(t, err)
}

func TestHolesAreNamedAsPeopleDo(t *testing.T) {
	for text, want := range map[string][]int{"4": {4}, "9-12, 4": {4, 9, 10, 11, 12}, "4, 4, 3–5": {3, 4, 5}} {
		numbers, err := HoleNumbers(text)
		require.NoError(t, err)
		assert.Equal(t, want, numbers, text)
	}
	for _, text := range []string{"", "x", "0", "5-3", "1-5000", "-4", "4-", "1,,2", strings.Repeat("1-900,", 3) + "1"} {
		_, err := HoleNumbers(text)
		assert.Error(t, err, text)
	}
	l := openBench(t)
	l.t = t
	assert.Contains(t, problems(t, l.do(benchRow, row.Drill, 1, 1))[""], "named twice")
	assert.Contains(t, problems(t, l.do(benchRow, row.Drill))[""], "which hole?")
}

// Whatever is typed into a row's form is read or refused, and what is read can be advised
// on.
func FuzzRowForm(f *testing.F) {
	f.Add("aluminium; 0.8 mm; dimpled\naluminium; 1; plain; 1; 6", "1-6; 5/16\n7-84; 1/4 in", "77; fairing; fit it", "79-84; on its back", "1/8", "solid", "84")
	f.Add("steel; 1/32 in", "1; B3", "", "", "3.2 mm", "blind", "2")
	f.Add(";;;;;;", "–", "1;;", ";", "in", "", "-1")
	f.Fuzz(func(t *testing.T, layers, callouts, keep, poses, size, sort, count string) {
		form := rowReader{values: with(rowOf(4), "layers", layers, "callouts", callouts, "keep", keep, "poses", poses, "size", size, "sort", sort, "count", count, "grips", "B3; 1; 3"), wrong: Problems{}}
		plan := form.plan()
		holes := form.holes(false)
		for _, h := range holes[:min(len(holes), 20)] {
			_ = plan.Advise(h, holes).Says()
		}
		_ = Row{Row: plan, Holes: holes}.Texts()
	})
}

// In two holds: the pin holes, measured again, then all.
func TestPinHolesThenAllHoles(t *testing.T) {
	l := openLoft(t)
	n := NewSetup{ID: "setup-in-two", Assembly: boomID, Name: "in its stands", Pins: true, Checks: []NewCheck{{Name: "Bow", Instrument: "rule-demo-600", Definition: map[string]any{"kind": "straightness",
		"points": []any{map[string]any{"name": "a", "x": 0}, map[string]any{"name": "b", "x": 500}, map[string]any{"name": "c", "x": 1000}}, "limits": map[string]any{"bow": map[string]any{"low": "-3", "high": "3"}}}}},
		Hold: &NewHold{Name: "Drill the frame", Step: "drill to size", Permanent: "its holes", Why: "w", Required: []hold.Requirement{{Need: hold.Shown, Check: "0"}}}}
	require.NoError(t, l.BeginSetup(l.ctx(), n))
	pins, all := n.ID+"-hold", n.ID+"-hold-all"
	require.NoError(t, l.AddRow(l.ctx(), NewRow{ID: "row-of-frame", Assembly: boomID, Name: "frame", Values: rowOf(5), Drills: []string{pins, all}}))
	require.Contains(t, problems(t, l.do("row-of-frame", row.Drill, 1))[""], "is not released")
	measure := func(check string) {
		for i := range 3 {
			require.NoError(t, l.read(check, i+1, "10", "rule-demo-600", ""))
		}
	}
	measure(n.ID + "-check-0")
	require.NoError(t, l.Release(l.ctx(), NewRelease{ID: l.id(), Hold: pins, By: "builder"}))
	assert.Contains(t, problems(t, l.do("row-of-frame", row.Drill, 3))[""], "hole 3 is not one of the pin holes")
	assert.Contains(t, problems(t, l.RecordStep(l.ctx(), NewStep{l.id(), pins, "builder", ""}))[""], "frame is not done: 2 holes 1, 5")
	require.NoError(t, l.do("row-of-frame", row.Drill, 1, 5))
	require.NoError(t, l.RecordStep(l.ctx(), NewStep{l.id(), pins, "builder", ""}))
	h, err := l.Hold(l.ctx(), all)
	require.NoError(t, err)
	assert.Equal(t, "Bow, once more", h.Judgement.Worst().What)
	require.NoError(t, l.BeginAfter(l.ctx(), BeginAfter{l.id(), pins}))
	measure(n.ID + "-check-1")
	require.NoError(t, l.Release(l.ctx(), NewRelease{ID: l.id(), Hold: all, By: "builder"}))
	require.NoError(t, l.do("row-of-frame", row.Drill, 2, 3, 4))
	require.NoError(t, l.RecordStep(l.ctx(), NewStep{l.id(), all, "builder", ""}))
	_, err = l.Verify(l.ctx())
	require.NoError(t, err)
}

func TestABayIsClosedWhenNothingIsLeft(t *testing.T) {
	l := openBenchOf(t, 2)
	l.t = t
	bay := benchClose + "-bay"
	closing := func() error { return l.Release(l.ctx(), NewRelease{ID: l.id(), Hold: benchClose, By: "builder"}) }
	require.NoError(t, l.Count(l.ctx(), NewCount{l.id(), bay, "cleco 1/8", 40, "helper"}))
	require.NoError(t, l.Count(l.ctx(), NewCount{l.id(), bay, "cleco 1/8", -39, "helper"}))
	require.NoError(t, l.FinishTask(l.ctx(), TaskDone{ID: l.id(), Bay: bay, Task: benchClose + "-task-0", By: "builder"}))
	require.NoError(t, l.AddPhoto(l.ctx(), NewPhoto{ID: l.id(), Of: bay, Data: pngOf(t, 40, 30), Caption: "before"}))
	require.NoError(t, l.Look(l.ctx(), LookAt{ID: l.id(), Need: hold.Inside, Of: bay, By: "builder", Note: "a hatch at frame 3"}))
	assert.Contains(t, closing().Error(), "holes are neither set nor kept open in row: 1, 2")
	require.NoError(t, l.DoHoles(l.ctx(), HoleDeed{ID: l.id(), Row: benchRow, Numbers: []int{1, 2}, What: row.Mark, Keep: row.Keep{Part: "fairing", Step: "later"}}))
	assert.Contains(t, closing().Error(), "cleco 1/8: 40 counted in, 39 out, 1 still inside")
	require.NoError(t, l.Count(l.ctx(), NewCount{l.id(), bay, "cleco 1/8", -1, "helper"}))
	assert.Contains(t, problems(t, l.FinishTask(l.ctx(), TaskDone{ID: l.id(), Bay: bay, Task: benchClose + "-task-0", By: "helper"}))[""], "was done already, by builder")
	require.NoError(t, closing())
	require.NoError(t, l.AddRow(l.ctx(), NewRow{ID: "row-laid-out-late", Assembly: "boom-under-test", Name: "one more row", Values: with(rowOf(1), "keep", "1; fairing; later"), Bay: bay}))
	again, err := l.Hold(l.ctx(), benchClose)
	require.NoError(t, err)
	assert.Equal(t, "one more row was laid out inside since", again.Releases[0].Withdrawn)
	require.NoError(t, closing())
	require.NoError(t, l.AddTask(l.ctx(), NewTask{l.id(), bay, "one more wire"}))
	h, err := l.Hold(l.ctx(), benchClose)
	require.NoError(t, err)
	assert.False(t, h.Released())
	assert.Contains(t, h.Releases[1].Withdrawn, "one more wire")
	b, err := l.Bay(l.ctx(), bay)
	require.NoError(t, err)
	assert.Equal(t, 1, b.Ahead, "the riveting comes before it")
	require.NoError(t, l.FinishTask(l.ctx(), TaskDone{ID: l.id(), Bay: bay, Task: b.Tasks[1].ID, By: "builder", Note: "left out"}))
	require.NoError(t, closing())
	require.NoError(t, l.RecordStep(l.ctx(), NewStep{l.id(), benchClose, "builder", ""}))
	late := NewRow{ID: l.id(), Assembly: "boom-under-test", Name: "too late", Values: rowOf(2), Bay: bay}
	assert.Contains(t, problems(t, l.AddRow(l.ctx(), late)), "bay")
	for _, err := range []error{l.AddTask(l.ctx(), NewTask{l.id(), bay, "too late"}), l.Count(l.ctx(), NewCount{l.id(), bay, "tool", 1, "x"}), l.do(benchRow, row.Drill, 1)} {
		assert.Contains(t, problems(t, err)[""], "is closed")
	}
	for field, err := range map[string]error{
		"task": l.AddTask(l.ctx(), NewTask{l.id(), bay, " "}), "number": l.Count(l.ctx(), NewCount{l.id(), bay, "tool", 0, "x"}), "thing": l.Count(l.ctx(), NewCount{l.id(), bay, "", 1, "x"}),
		"by": l.FinishTask(l.ctx(), TaskDone{ID: l.id(), Bay: bay, Task: "x"}), "note": l.Look(l.ctx(), LookAt{ID: l.id(), Need: hold.Inside, Of: bay, By: "x"}), "second": l.Look(l.ctx(), LookAt{ID: l.id(), Need: hold.Handed, Of: bay, By: "x", Second: "X"}),
		"what": l.Look(l.ctx(), LookAt{ID: l.id(), Need: hold.Prepared, Of: benchRow, By: "x"}), "": l.Look(l.ctx(), LookAt{ID: l.id(), Need: "guessed", Of: benchRow, By: "x"}),
	} {
		assert.Contains(t, problems(t, err), field)
	}
	record, err := l.Record(l.ctx(), "boom-under-test")
	require.NoError(t, err)
	assert.Len(t, record.Bays[0].Photos, 1)
	assert.Len(t, record.Rows, 2)
}

// A photograph as a telephone writes it: turned by its Exif orientation (6: a quarter
// turn), and with a place in it.
func photograph(t *testing.T) []byte {
	t.Helper()
	picture := image.NewRGBA(image.Rect(0, 0, 60, 20))
	for x := range 60 {
		picture.Set(x, 3, color.RGBA{200, 30, 30, 255})
	}
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, picture, nil))
	exif := []byte("Exif\x00\x00MM\x00\x2a\x00\x00\x00\x08\x00\x01\x01\x12\x00\x03\x00\x00\x00\x01\x00\x06\x00\x00\x00\x00\x00\x00GPSLatitude 54 19 N")
	segment := append([]byte{0xff, 0xe1}, binary.BigEndian.AppendUint16(nil, uint16(len(exif)+2))...) //nolint:gosec // short
	return append(append(append([]byte{}, b.Bytes()[:2]...), append(segment, exif...)...), b.Bytes()[2:]...)
}

func TestOnlyThePictureOfAPhotoIsKept(t *testing.T) {
	l := openBench(t)
	l.t = t
	bay := benchClose + "-bay"
	data := photograph(t)
	require.Contains(t, string(data), "GPSLatitude")
	id := l.id()
	require.NoError(t, l.AddPhoto(l.ctx(), NewPhoto{ID: id, Of: bay, Caption: "the bay", Data: data}))
	require.NoError(t, l.AddPhoto(l.ctx(), NewPhoto{ID: id, Of: bay, Caption: "the bay", Data: data}), "sent twice")
	kind, kept, err := l.PhotoContent(l.ctx(), id, false)
	require.NoError(t, err)
	assert.Equal(t, "image/jpeg", kind)
	assert.NotContains(t, string(kept), "GPS")
	assert.NotContains(t, string(kept), "Exif")
	size, _, err := image.DecodeConfig(bytes.NewReader(kept))
	require.NoError(t, err)
	assert.Equal(t, []int{20, 60}, []int{size.Width, size.Height}, "turned upright")
	_, thumb, err := l.PhotoContent(l.ctx(), id, true)
	require.NoError(t, err)
	assert.NotEmpty(t, thumb)
	for says, data := range map[string][]byte{
		"choose a picture": nil, "neither a JPEG nor a PNG": []byte("<svg onload=alert(1)>"), "damaged": append([]byte("\x89PNG\r\n\x1a\n"), 1, 2, 3), "larger than 15 MB": make([]byte, MaxPhoto+1),
		"million points": bigHeader(),
	} {
		assert.Contains(t, problems(t, l.AddPhoto(l.ctx(), NewPhoto{ID: l.id(), Of: bay, Data: data}))["photo"], says)
	}
	assert.ErrorIs(t, l.AddPhoto(l.ctx(), NewPhoto{ID: l.id(), Of: "nothing", Data: data}), ErrNotFound)
}

// bigHeader is a PNG that says it has 100,000 by 100,000 points.
func bigHeader() []byte {
	chunk := []byte("IHDR\x00\x01\x86\xa0\x00\x01\x86\xa0\x08\x00\x00\x00\x00")
	out := append([]byte("\x89PNG\r\n\x1a\n\x00\x00\x00\r"), chunk...)
	return binary.BigEndian.AppendUint32(out, crc32.ChecksumIEEE(chunk))
}

func TestASlipIsLoggedByItsCauseAndTeaches(t *testing.T) {
	l := openLoft(t)
	n := NewSlip{ID: l.id(), Assembly: "aileron-left", Step: "drill to size", Place: "rib 3", Cause: "plans misread"}
	require.NoError(t, l.LogSlip(l.ctx(), n))
	require.NoError(t, l.TellSlip(l.ctx(), SlipCost{ID: l.id(), Slip: n.ID, What: "drilled the other hand's", Minutes: "40", Money: "7,5", Lesson: "Read the view's arrow first."}))
	lessons, err := l.Lessons(l.ctx(), samphireID, "Aileron, right", "")
	require.NoError(t, err)
	assert.Contains(t, lessons, Lesson{"Read the view's arrow first.", "learnt on its twin, Aileron, left"})
	lessons, err = l.Lessons(l.ctx(), samphireID, "Fin", "drill to size")
	require.NoError(t, err)
	assert.Len(t, lessons, 1)
	slips, err := l.Slips(l.ctx(), "")
	require.NoError(t, err)
	assert.Equal(t, "7.50 EUR", slips[0].Cost())
	assert.Equal(t, "7.50", slips[0].Amount())
	assert.Contains(t, problems(t, l.LogSlip(l.ctx(), NewSlip{ID: l.id(), Cause: "gravity"})), "cause")
	for field, cost := range map[string]SlipCost{"minutes": {Minutes: "long"}, "money": {Money: "1.234"}} {
		cost.ID, cost.Slip = l.id(), n.ID
		assert.Contains(t, problems(t, l.TellSlip(l.ctx(), cost)), field)
	}
	assert.ErrorIs(t, l.TellSlip(l.ctx(), SlipCost{ID: l.id(), Slip: "none"}), ErrNotFound)
}

func TestThePartsAndStoresForms(t *testing.T) {
	l := openLoft(t)
	for field, n := range map[string]NewPart{
		"number": {Name: "x", Hand: "left"}, "name": {Number: "x", Hand: "left"}, "hand": {Number: "x", Name: "x", Hand: "both"}, "assembly": {Number: "x", Name: "x", Hand: "none", Assembly: "campion-foreplane"},
		"row": {Number: "x", Name: "x", Hand: "none", Assembly: "fin-demo", Row: "boom-row-3"}, "check": {Number: "x", Name: "x", Hand: "none", Check: "fin-upright-demo-check-0"},
	} {
		n.ID, n.Airframe = l.id(), samphireID
		assert.Contains(t, problems(t, l.AddPart(l.ctx(), n)), field)
	}
	require.NoError(t, l.MovePart(l.ctx(), PartMoved{ID: l.id(), Part: "part-stringer-spare", Place: "on the boom", Assembly: boomID, Row: "boom-row-4"}))
	s, err := l.Stores(l.ctx(), samphireID)
	require.NoError(t, err)
	assert.Equal(t, part.Riveted, s.Parts[3].Depth)
	assert.Contains(t, problems(t, l.AddNotice(l.ctx(), NewNotice{ID: l.id(), Airframe: samphireID, Title: "x"})), "numbers")
	assert.Contains(t, problems(t, l.CountStock(l.ctx(), NewStock{ID: l.id(), Airframe: samphireID, Sort: "rivet", Name: "x", Number: -3})), "note")
	assert.Contains(t, problems(t, l.CountStock(l.ctx(), NewStock{ID: l.id(), Airframe: samphireID, Sort: "glue", Name: "x", Number: 3})), "sort")

	// The rib's geometry is a stop, whatever two people say.
	n := NewStand{ID: "hold-of-rib", Assembly: "aileron-right", Name: "Rivet rib 3", Step: "rivet", Permanent: "rib 3", Why: "w", Parts: []string{"part-rib-right"}, Second: true}
	require.NoError(t, l.StandBefore(l.ctx(), n))
	require.NoError(t, l.Look(l.ctx(), LookAt{ID: l.id(), Need: hold.Handed, Of: "part-rib-right", By: "builder", Second: "helper"}))
	require.NoError(t, l.Look(l.ctx(), LookAt{ID: l.id(), Need: hold.Seconded, Of: n.ID, By: "helper", Note: "held it against the left one"}))
	require.NoError(t, l.Look(l.ctx(), LookAt{ID: l.id(), Need: hold.Prepared, Of: n.ID, By: "builder", What: hold.Preparations}))
	h, err := l.Hold(l.ctx(), n.ID)
	require.NoError(t, err)
	assert.Equal(t, hold.Stop, h.Judgement.Standing)
	assert.Contains(t, h.Judgement.Worst().Why, "geometry says")
	for field, n := range map[string]NewStand{"name": {Step: "rivet"}, "step": {Name: "x", Step: "wash"}, "bay": {Name: "x", Step: "close"}, "setup": {Name: "x", Step: "rivet", Setup: railsID}, "parts": {Name: "x", Step: "rivet", Parts: []string{"none"}}} {
		n.ID, n.Assembly = l.id(), "aileron-right"
		assert.Contains(t, problems(t, l.StandBefore(l.ctx(), n)), field)
	}
	for kind := range HoldTemplates {
		_, ok := TemplateOf(kind)
		assert.True(t, ok, kind)
		_, ok = HoldTemplateOf(kind, 0)
		assert.True(t, ok)
		_, ok = HoldTemplateOf(kind, 99)
		assert.False(t, ok)
	}
}

// 200 rows of 100 holes: the map opens, and a hole is set with a durable write.
func BenchmarkRowsOfTwentyThousandHoles(b *testing.B) {
	l := openBench(b)
	for i := range 200 {
		id := fmt.Sprintf("row-of-many-%03d", i)
		if err := l.AddRow(b.Context(), NewRow{ID: id, Assembly: "boom-under-test", Name: fmt.Sprint("row ", i), Values: rowOf(100), Rivets: benchRivet}); err != nil {
			b.Fatal(err)
		}
	}
	count := 0
	err := l.view(b.Context(), func(q *query.Queries) error {
		holes, err := q.AllHoles(b.Context())
		count = len(holes)
		return err
	})
	if err != nil || count < 20_000 {
		b.Fatal(count, err)
	}
	b.Run("open the map", func(b *testing.B) {
		for b.Loop() {
			if _, err := l.RowSheet(b.Context(), "row-of-many-100"); err != nil {
				b.Fatal(err)
			}
		}
	})
	b.Run("drill and undo a hole", func(b *testing.B) {
		n := 0
		for b.Loop() {
			n++
			if err := l.DoHoles(b.Context(), HoleDeed{ID: fmt.Sprintf("bench-deed-%d", n), Row: "row-of-many-100", Numbers: []int{1 + n%100}, What: row.Drill}); err != nil {
				b.Fatal(err)
			}
			if err := l.Undo(b.Context(), UndoLast{ID: fmt.Sprintf("bench-undo-%d", n), Row: "row-of-many-100"}); err != nil {
				b.Fatal(err)
			}
		}
	})
}
