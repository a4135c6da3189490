package demo_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"orpine/cmd/wiring"
	"orpine/internal/demo"
	"orpine/internal/store"
)

func TestTheDemoIsFilledAndItsRecordHolds(t *testing.T) {
	t.Parallel()
	s, err := store.Open(t.Context(), t.TempDir())
	require.NoError(t, err)
	defer s.Close()
	clock := new(demo.Clock)
	w, err := wiring.Open(t.Context(), s, clock.Now, time.UTC)
	require.NoError(t, err)
	require.NoError(t, demo.Fill(t.Context(), w, clock, time.Date(2026, 5, 4, 10, 0, 0, 0, time.UTC)))
	report, err := w.Ledger.Verify(t.Context())
	require.NoError(t, err)
	t.Log(report.Entries)
}
