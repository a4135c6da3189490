package part

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestWhatANoticeNames(t *testing.T) {
	n := Notice{Numbers: []string{"S2-53-12"}, Lots: []string{"2118", "2119"}}
	for _, test := range []struct {
		part              Part
		affected, certain bool
	}{
		{Part{Number: "s2-53-12 ", Lot: "2118"}, true, true},
		{Part{Number: "S2-53-12", Lot: "2120"}, false, false},
		{Part{Number: "S2-53-12"}, true, false},
		{Part{Number: "S2-53-13", Lot: "2118"}, false, false},
		{Part{Lot: "2118"}, false, false},
	} {
		affected, certain := n.Affects(test.part)
		assert.Equal(t, test.affected, affected, "%+v", test.part)
		assert.Equal(t, test.certain, certain, "%+v", test.part)
	}
	affected, certain := Notice{Processes: []string{"Solution treated"}}.Affects(Part{Number: "x", Process: "solution  treated"})
	assert.True(t, affected && certain)
	affected, _ = Notice{Lots: []string{"2118"}}.Affects(Part{Number: "x"})
	assert.False(t, affected, "a lot alone does not name what has none written down")
	affected, _ = Notice{}.Affects(Part{Number: "x"})
	assert.False(t, affected)
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
