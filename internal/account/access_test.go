package account_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/account"
)

// A code lets one in once, and not after its time.
func TestACodeIsSpentAndExpires(t *testing.T) {
	t.Parallel()
	now := time.Date(2026, 5, 4, 10, 0, 0, 0, time.UTC)
	a, err := account.OpenAccess(t.Context(), t.TempDir(), func() time.Time { return now })
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, a.Close()) })
	draw := func() string {
		code, err := a.Code(t.Context(), "someone")
		require.NoError(t, err)
		return code
	}
	code := draw()
	now = now.Add(account.CodeLasts)
	who, err := a.Whose(t.Context(), code)
	require.NoError(t, err, "to the last second")
	assert.Equal(t, "someone", who)
	_, err = a.UseCode(t.Context(), code[:4]+" "+code[4:])
	require.NoError(t, err)
	_, err = a.UseCode(t.Context(), code)
	require.ErrorIs(t, err, account.ErrCode, "it is spent")
	code = draw()
	now = now.Add(account.CodeLasts + 2*time.Second)
	_, err = a.Whose(t.Context(), code)
	require.ErrorIs(t, err, account.ErrCode, "it is too old")
	_, err = a.UseCode(t.Context(), code)
	require.ErrorIs(t, err, account.ErrCode)
	first, second := draw(), draw()
	_, err = a.UseCode(t.Context(), first)
	require.ErrorIs(t, err, account.ErrCode, "another was drawn since")
	_, err = a.UseCode(t.Context(), second)
	require.NoError(t, err)
}
