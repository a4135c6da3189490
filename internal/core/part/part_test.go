package part

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestWhatANoticeNames(t *testing.T) {
	t.Parallel()
	n := Notice{Numbers: []string{"S2-53-12"}, Lots: []string{"2118", "2119"}}
	for _, test := range []struct {
		part Part
		want Answer
	}{
		{Part{Number: "s2-53-12 ", Lot: "2118"}, Affected},
		{Part{Number: "S2-53-12", Lot: "2120"}, NotAffected},
		{Part{Number: "S2-53-12"}, Unknown},
		{Part{Number: "S2-53-13", Lot: "2118"}, Unknown},
		{Part{Number: "S2-53-13"}, Unknown},
		{Part{Number: "S2-61-40", Lot: "2118"}, NotAffected},
		{Part{Lot: "2118"}, Unknown},
		{Part{}, Unknown},
	} {
		assert.Equal(t, test.want, n.Of(test.part), "%+v", test.part)
	}
	assert.Equal(t, Affected, Notice{Processes: []string{"Solution treated"}}.Of(Part{Number: "x", Process: "solution  treated"}))
	assert.Equal(t, Unknown, Notice{Lots: []string{"2118"}}.Of(Part{Number: "x"}), "what has no lot written down is never not affected")
	assert.Equal(t, NotAffected, Notice{}.Of(Part{Number: "x"}))
	assert.True(t, Notice{}.Empty())
}

// What is written on a part is read as people write it: a list, a range, a word before the number, a
// leading zero, a letter behind. Only what is plainly another is not affected.
func TestOnlyWhatIsPlainlyAnotherIsNotAffected(t *testing.T) {
	t.Parallel()
	for lot, want := range map[string]Answer{
		"2300": Affected, " 23-00": Affected, "2300 and 2301": Affected, "2299, 2300": Affected, "2298 to 2304": Affected, "2290-2310": Affected,
		"Lot 2300": Unknown, "2300-A": Unknown, "02300": Unknown, "230": Unknown, "2301": Unknown, "2330": Unknown, "3200": Unknown, "": Unknown, "  ": Unknown,
		"2417": NotAffected, "A 77": NotAffected, "2417-2420": NotAffected,
	} {
		assert.Equal(t, want, Notice{Lots: []string{"2300"}}.Of(Part{Number: "x", Lot: lot}), "lot %q", lot)
	}
	ranges := Notice{Lots: []string{"2290 to 2310; 2400–2402"}}
	assert.Equal(t, Affected, ranges.Of(Part{Lot: "2300"}))
	assert.Equal(t, Affected, ranges.Of(Part{Lot: "2401"}))
	assert.Equal(t, NotAffected, ranges.Of(Part{Lot: "2355"}))
	assert.Equal(t, Unknown, ranges.Of(Part{Lot: "2308-2330"}), "it may be one of them")
	assert.Equal(t, Affected, Notice{Numbers: []string{"S2.53.12"}}.Of(Part{Number: "S2-53-12"}))
	assert.True(t, Notice{Numbers: []string{"S2-53-12"}}.Number("part S2-53-12"))
	assert.False(t, Notice{Lots: []string{"2300"}}.Number("x"))
}

func TestHowDeepAPartLies(t *testing.T) {
	t.Parallel()
	for _, test := range []struct {
		lies Lies
		want Depth
		says string
	}{
		{Lies{}, Shelf, "on the shelf"},
		{Lies{Assembly: true}, Fitted, "fitted loose"},
		{Lies{Assembly: true, Pinned: true}, Pinned, "pinned"},
		{Lies{Assembly: true, Pinned: true, Set: true}, Riveted, "riveted"},
		{Lies{Assembly: true, Permanent: true}, Riveted, "riveted"},
		{Lies{Assembly: true, Set: true, AfterClosed: true}, ClosedIn, "closed in"},
	} {
		assert.Equal(t, test.want, test.lies.Depth())
		assert.Equal(t, test.says, test.want.String())
		assert.NotEmpty(t, test.want.Reach())
	}
}

func TestTheTwinOfAName(t *testing.T) {
	t.Parallel()
	for name, want := range map[string]string{"Aileron, left": "Aileron, right", "Left wing": "Right wing", "rib 3 R": "rib 3 L", "Tail boom": "", "Leftover bin": "", "Landing gear": ""} {
		assert.Equal(t, want, Twin(name), name)
	}
	assert.True(t, Handed("left"))
	assert.False(t, Handed("either"))
}
