package gate

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"orpine/internal/ledger"
)

// Two holds are of one joint where a hole is in both, or where somebody said so: not because each is of one
// joint with a third.
func TestSamenessIsNotPassedOn(t *testing.T) {
	t.Parallel()
	a, b, c := jointOf{ID: "a", RowsOf: "row1 row2"}, jointOf{ID: "b", RowsOf: "row2 row3"}, jointOf{ID: "c", RowsOf: "row3"}
	assert.True(t, a.same(b) && b.same(a), "row 2 is in both")
	assert.True(t, b.same(c))
	assert.False(t, a.same(c) || c.same(a), "b is between them")
	said := jointOf{ID: "d", Joint: "a"}
	assert.True(t, said.same(a) && a.same(said), "somebody said so")
	assert.True(t, said.same(jointOf{ID: "e", Joint: "a"}), "of the same")
	assert.False(t, said.same(b))
	assert.False(t, jointOf{ID: "f"}.same(jointOf{ID: "g"}), "no rows are not the same rows")
	assert.True(t, a.same(a))
}

func TestAQuestionFreezesTheHolesThatItNames(t *testing.T) {
	t.Parallel()
	f := Frozen{Text: "too near the edge?", Whom: "the kit maker", Holes: "12-14, 20"}
	assert.Equal(t, "waits for the answer to “too near the edge?” (asked of the kit maker)", f.Says())
	for number, held := range map[int]bool{11: false, 12: true, 14: true, 15: false, 20: true} {
		assert.Equal(t, held, f.Holds(number), "%d", number)
	}
	assert.True(t, Frozen{}.Holds(3), "all, where none is named")
	assert.True(t, Frozen{Holes: "some"}.Holds(3), "all, where they cannot be read: what is not known does not let through")
	assert.Equal(t, "waits for the answer to “why?”", Frozen{Text: "why?"}.Says())
	assert.Equal(t, `%"ab"%`, Naming("a%_b"), "no pattern comes in by an id")
}

func TestWhatIsToldOfMetalIsRead(t *testing.T) {
	t.Parallel()
	now := time.Date(2026, 4, 30, 20, 0, 0, 0, time.UTC)
	told := func(how, by, day, reason string) (time.Time, ledger.Problems) {
		wrong := ledger.Problems{}
		return Told{&how, &by, &day, &reason}.Read(now, wrong), wrong
	}
	day, wrong := told(DoneBefore, "builder", " 2026-04-29 ", "")
	assert.Empty(t, wrong)
	assert.Equal(t, time.Date(2026, 4, 29, 0, 0, 0, 0, time.UTC), day)
	day, wrong = told(Unreleased, "helper", "", "the evening was long")
	assert.Empty(t, wrong)
	assert.True(t, day.IsZero(), "on which day is not known")
	for field, w := range map[string][4]string{"how": {"somehow", "a", "", "r"}, "by": {DoneBefore, " ", "", ""}, "reason": {Unreleased, "a", "", ""}, "day": {DoneBefore, "a", "2026-05-01", ""}} {
		_, wrong := told(w[0], w[1], w[2], w[3])
		assert.Contains(t, wrong, field)
		assert.Len(t, wrong, 1, field)
	}
	day, wrong = told(DoneBefore, "a", "yesterday", "")
	assert.Empty(t, wrong)
	assert.Equal(t, now.AddDate(0, 0, -1).YearDay(), day.YearDay())
	_, wrong = told(DoneBefore, "a", "some evening", "")
	assert.Contains(t, wrong, "day")
}
