package slip

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestALessonIsShownWhereItWouldBeMadeAgain(t *testing.T) {
	t.Parallel()
	s := Slip{Assembly: "Aileron, left", Step: "rivet", Lesson: "lay rib and twin on one another"}
	for _, test := range []struct{ assembly, step, why string }{
		{"Aileron, right", "", "learnt on its twin, Aileron, left"},
		{"Aileron, right", "drill to size", "learnt on its twin, Aileron, left"},
		{"Aileron, left", "", "learnt here"},
		{"Aileron, left", "rivet", "learnt here"},
		{"Tail boom", "rivet", "learnt at the same kind of step (rivet) on Aileron, left"},
		{"Tail boom", "close", ""},
		{"Tail boom", "", ""},
		{"Aileron, left", "close", ""},
	} {
		why, ok := s.Applies(test.assembly, test.step)
		assert.Equal(t, test.why, why, "%+v", test)
		assert.Equal(t, test.why != "", ok)
	}
	_, ok := Slip{Assembly: "Aileron, left", Step: "rivet"}.Applies("Aileron, left", "rivet")
	assert.False(t, ok, "nothing was learnt")
	why, _ := Slip{Step: "rivet", Lesson: "x"}.Applies("Fin", "rivet")
	assert.Contains(t, why, "another part")
}
