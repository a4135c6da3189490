package part

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestWhatANoticeNames(t *testing.T) {
	n := Notice{Numbers: []string{"S2-53-12"}, Lots: []string{"2118", "2119"}}
	for _, test := range []struct {
		part Part
		want Answer
	}{
		{Part{Number: "s2-53-12 ", Lot: "2118"}, Affected},
		{Part{Number: "S2-53-12", Lot: "2120"}, NotAffected},
		{Part{Number: "S2-53-12"}, Unknown},
		{Part{Number: "S2-53-13", Lot: "2118"}, NotAffected},
		{Part{Number: "S2-53-13"}, NotAffected},
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

func TestHowDeepAPartLies(t *testing.T) {
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
	for name, want := range map[string]string{"Aileron, left": "Aileron, right", "Left wing": "Right wing", "rib 3 R": "rib 3 L", "Tail boom": "", "Leftover bin": "", "Landing gear": ""} {
		assert.Equal(t, want, Twin(name), name)
	}
	assert.True(t, Handed("left"))
	assert.False(t, Handed("either"))
}
