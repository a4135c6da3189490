package overview

import (
	"errors"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/airframe"
	"orpine/internal/ledger"
	"orpine/internal/planning"
	"orpine/internal/store"
)

// What is kept is read once, until one of the capabilities that it is of writes; an error is not
// kept, and neither is what was read while somebody wrote.
func TestWhatIsKeptIsReadAnewOnceSomebodyWrites(t *testing.T) {
	t.Parallel()
	s, err := store.Open(t.Context(), t.TempDir())
	require.NoError(t, err)
	defer s.Close()
	l, err := ledger.Open(t.Context(), s, time.Now, time.UTC, airframe.Capability, planning.Capability)
	require.NoError(t, err)
	frame := airframe.NewAirframe{Form: ledger.Form{ID: "0192f0c1-0000-4000-8000-000000000001"}, Name: "Tansy T3", Unit: "in"}
	require.NoError(t, airframe.New(l).Add(t.Context(), frame))
	count := 1
	add := func() {
		count++
		n := planning.NewStep{Form: ledger.Form{ID: fmt.Sprintf("0192f0c1-0000-4000-8000-%012d", count)}, Airframe: frame.ID, Line: fmt.Sprint("step ", count, ", 1 h")}
		require.NoError(t, planning.New(l).AddStep(t.Context(), n))
	}
	k, reads := kept[int]{}, 0
	read := func() (int, error) { reads++; return reads, nil }
	of := func(key string, capabilities ...string) int {
		v, err := k.of(l, key, read, capabilities...)
		require.NoError(t, err)
		return v
	}
	assert.Equal(t, []int{1, 1, 2, 2}, []int{of("a", "planning"), of("a", "planning"), of("b", "planning"), of("b", "planning")})
	add()
	assert.Equal(t, []int{3, 3, 4}, []int{of("a", "planning"), of("a", "planning"), of("b", "planning")})
	require.NoError(t, airframe.New(l).Add(t.Context(), airframe.NewAirframe{Form: ledger.Form{ID: "0192f0c1-0000-4000-8000-100000000000"}, Name: "another", Unit: "mm"}))
	assert.Equal(t, 3, of("a", "planning"), "what others write does not matter to it")
	assert.Equal(t, int64(2), l.Writes("airframe"))
	assert.Equal(t, int64(3), l.Writes("airframe", "planning"))
	assert.Zero(t, l.Writes("nobody"))

	_, err = k.of(l, "wrong", func() (int, error) { return 0, errors.New("no") }, "planning")
	require.Error(t, err)
	assert.Equal(t, 5, of("wrong", "planning"), "read anew")
	v, err := k.of(l, "meanwhile", func() (int, error) { add(); return 99, nil }, "planning")
	require.NoError(t, err)
	assert.Equal(t, 99, v)
	assert.Equal(t, 6, of("meanwhile", "planning"), "what was read while somebody wrote is read once more")
	for i := range mostKept + 10 {
		of(fmt.Sprint("many ", i), "planning")
	}
	assert.LessOrEqual(t, len(k.by), mostKept+1, "it does not grow without end")
}
