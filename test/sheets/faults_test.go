package sheets_test

import (
	"context"
	"database/sql"
	"errors"
	"io/fs"
	"log/slog"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/cmd/wiring"
	"orpine/internal/ledger"
	"orpine/internal/logbook"
	"orpine/internal/store"
	"orpine/internal/store/query"
	"orpine/test/loft"
	"orpine/test/site"
)

// disk is a small disk of its own, with a bench on it. Where none can be mounted the test is left
// out.
func disk(t *testing.T, size string) (dir string) {
	t.Helper()
	dir = t.TempDir()
	if err := syscall.Mount("tmpfs", dir, "tmpfs", 0, "size="+size); err != nil {
		t.Skip("no disk can be mounted here:", err)
	}
	t.Cleanup(func() { assert.NoError(t, syscall.Unmount(dir, syscall.MNT_DETACH)) })
	return dir
}

// benchOn is the bench on a disk.
func benchOn(t *testing.T, dir string) *site.Site {
	t.Helper()
	from := loft.Bench(t, 3)
	require.NoError(t, from.Ledger.Settle(t.Context()))
	data, err := os.ReadFile(from.Data.Path())
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(dir, store.FileName), data, 0o600))
	return site.Of(loft.In(t, dir), "")
}

// ask sends a question, which has a long text, and tells status and page.
func ask(v *site.Site, text string) (int, string) {
	form := url.Values{"id": {loft.ID("question " + text)}, "sort": {"question"}, "text": {text}, "whom": {"the kit maker"}}
	w := v.Post("/airframes/"+loft.BenchFrame+"/questions", form, false)
	return w.Code, w.Body.String()
}

func TestAFullDiskLosesNothingAndSaysSo(t *testing.T) {
	t.Parallel()
	dir := disk(t, "8m")
	v := benchOn(t, dir)
	status, _ := ask(v, "before")
	require.Equal(t, http.StatusSeeOther, status)
	filler := filepath.Join(dir, "filler")
	f, err := os.Create(filler)
	require.NoError(t, err)
	for block := make([]byte, 64<<10); err == nil; {
		_, err = f.Write(block)
	}
	require.ErrorIs(t, err, syscall.ENOSPC)
	require.NoError(t, f.Close())
	long := strings.Repeat("may the flange stay as it is? ", 10)
	status, page := ask(v, long)
	assert.Equal(t, http.StatusServiceUnavailable, status)
	assert.Contains(t, page, "the disk is full")
	assert.Contains(t, page, strings.TrimSpace(long), "what was typed stays")
	assert.Equal(t, http.StatusOK, v.Get("/questions").Code, "reading goes on")
	require.NoError(t, os.Remove(filler))
	status, _ = ask(v, long)
	assert.Equal(t, http.StatusSeeOther, status, "sent once more, it is taken")
	v.Verify()
}

func TestADiskThatCanOnlyBeReadIsReadFrom(t *testing.T) {
	t.Parallel()
	dir := disk(t, "16m")
	v := benchOn(t, dir)
	status, _ := ask(v, "before")
	require.Equal(t, http.StatusSeeOther, status)
	copied := t.TempDir() // as it would lie on a stick
	c, err := v.Ledger.Copy(t.Context(), copied, 0)
	require.NoError(t, err)
	stick := disk(t, "16m")
	data, err := os.ReadFile(c.Path)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(stick, store.FileName), data, 0o600))
	require.NoError(t, syscall.Mount("tmpfs", stick, "tmpfs", syscall.MS_REMOUNT|syscall.MS_RDONLY, ""))
	_, err = store.Open(t.Context(), stick)
	require.ErrorContains(t, err, "can only be read")
	s, err := store.Inspect(t.Context(), stick) // as orpine verify does
	require.NoError(t, err)
	_, err = ledger.Verify(t.Context(), s, wiring.Capabilities(wiring.Parts)...)
	require.NoError(t, errors.Join(err, s.Close()))
}

func TestALockedFileIsNamed(t *testing.T) {
	t.Parallel()
	v := benchOn(t, t.TempDir())
	other, err := sql.Open("sqlite", v.Data.Path())
	require.NoError(t, err)
	defer other.Close()
	conn, err := other.Conn(t.Context())
	require.NoError(t, err)
	_, err = conn.ExecContext(t.Context(), "BEGIN IMMEDIATE")
	require.NoError(t, err)
	status, page := ask(v, "who holds it?")
	assert.Equal(t, http.StatusServiceUnavailable, status)
	assert.Contains(t, page, "another program holds the workshop")
	assert.Contains(t, page, "who holds it?")
	_, err = conn.ExecContext(t.Context(), "ROLLBACK")
	require.NoError(t, err)
	status, _ = ask(v, "who holds it?")
	assert.Equal(t, http.StatusSeeOther, status)
}

func TestAFileThatIsTakenAwayOrReplacedStopsWriting(t *testing.T) {
	t.Parallel()
	for name, happens := range map[string]func(path string) error{
		"taken away": os.Remove,
		"another file was put": func(path string) error {
			data, err := os.ReadFile(path)
			if err == nil {
				err = os.WriteFile(path+".new", data, 0o600)
			}
			if err == nil {
				err = os.Rename(path+".new", path)
			}
			return err
		},
	} {
		v := benchOn(t, t.TempDir())
		status, _ := ask(v, "before")
		require.Equal(t, http.StatusSeeOther, status)
		require.NoError(t, happens(v.Data.Path()))
		status, page := ask(v, "after")
		assert.Equal(t, http.StatusServiceUnavailable, status, name)
		assert.Contains(t, page, name)
		w := v.Get("/questions")
		assert.Equal(t, http.StatusOK, w.Code, name)
		assert.Contains(t, w.Body.String(), "before", "reading goes on")
		assert.Contains(t, w.Body.String(), "Nothing can be entered", "on every sheet")
		assert.Equal(t, http.StatusOK, v.Get("/files/workshop.zip").Code, "as the sheet says, it goes out whole")
		c, err := v.Ledger.Copy(t.Context(), t.TempDir(), 0) // and what is read can still be copied
		require.NoError(t, err, name)
		assert.Equal(t, v.Log(1)[0].Seq, c.Report.Entries)
	}
}

// Damage that SQLite's quick look passes over is found by the replay of the nightly round, and
// stops writing; no copy of it is made over a good one.
func TestDamageIsFoundByTheRoundAndStopsWriting(t *testing.T) {
	t.Parallel()
	v := benchOn(t, t.TempDir())
	copies := t.TempDir()
	ctx, stop := context.WithCancel(t.Context())
	stop() // so that Keep only takes the directory, and no round of its own
	v.Workshop.Keeper.Keep(ctx, copies, slog.New(slog.DiscardHandler))
	v.Workshop.Keeper.Round(t.Context(), slog.New(slog.DiscardHandler))
	_, good, err := v.Workshop.Keeper.Copies()
	require.NoError(t, err)
	assert.False(t, good.IsZero(), "a copy was made")
	require.NoError(t, v.Data.WriteTables(t.Context(), func(db query.DBTX) error {
		_, err := db.ExecContext(t.Context(), "UPDATE holes SET state = 'set'")
		return err
	}))
	require.NoError(t, v.Ledger.CheckStart(t.Context()), "the quick look does not see it")
	v.Now = v.Now.Add(24 * time.Hour)
	v.Workshop.Keeper.Round(t.Context(), slog.New(slog.DiscardHandler))
	status, page := ask(v, "after")
	assert.Equal(t, http.StatusServiceUnavailable, status)
	assert.Contains(t, page, "does not hold")
	assert.Contains(t, v.Get("/").Body.String(), "Nothing can be entered")
	_, last, _ := v.Workshop.Keeper.Copies()
	assert.Equal(t, good, last, "no copy of what is damaged")
	entries, err := os.ReadDir(copies)
	require.NoError(t, err)
	assert.Len(t, entries, 1)
}

func TestACopyThatIsOldIsSaid(t *testing.T) {
	t.Parallel()
	v := benchOn(t, t.TempDir())
	ctx, stop := context.WithCancel(t.Context())
	stop()
	v.Workshop.Keeper.Keep(ctx, t.TempDir(), slog.New(slog.DiscardHandler))
	_, err := v.Workshop.Keeper.Copy(t.Context())
	require.NoError(t, err)
	assert.NotContains(t, v.Get("/").Body.String(), "last good copy")
	v.Now = v.Now.Add(9 * 24 * time.Hour)
	assert.Contains(t, v.Get("/").Body.String(), "The last good copy of this workshop is 9 days old")
}

// A clock that was set back, or that had run ahead, is said on every sheet; entries keep their
// order and their times.
func TestAClockThatRunsBackIsSaid(t *testing.T) {
	t.Parallel()
	v := benchOn(t, t.TempDir())
	require.NoError(t, v.Logbook.Log(t.Context(), logbook.NewSlip{Form: v.Loft.Form(), Assembly: loft.BenchBoom, Step: "rivet", Place: "hole 1", Cause: "tool slipped"}))
	was := v.Now
	v.Now = was.Add(-90 * 24 * time.Hour)
	assert.Contains(t, v.Get("/").Body.String(), "The clock of this machine says")
	status, _ := ask(v, "in the wrong year")
	assert.Equal(t, http.StatusSeeOther, status, "it is taken all the same")
	v.Now = was.Add(time.Hour)
	assert.NotContains(t, v.Get("/").Body.String(), "The clock of this machine says")
	v.Verify()
}

// A copy is one file that holds by itself, whoever writes meanwhile; it is restored only where
// nothing is, and only if it holds.
func TestACopyIsRestored(t *testing.T) {
	t.Parallel()
	v := benchOn(t, t.TempDir())
	for i := range 20 {
		ask(v, "question "+string(rune('a'+i)))
	}
	copies := t.TempDir()
	c, err := v.Ledger.Copy(t.Context(), copies, 0)
	require.NoError(t, err)
	ask(v, "after the copy")
	to := filepath.Join(t.TempDir(), "anew")
	report, err := ledger.Restore(t.Context(), c.Path, to, wiring.Capabilities(wiring.Parts)...)
	require.NoError(t, err)
	assert.Equal(t, c.Report, report)
	anew := loft.In(t, to)
	anew.Verify()
	assert.Equal(t, v.Log(2)[1].Hash, anew.Log(1)[0].Hash)
	_, err = ledger.Restore(t.Context(), c.Path, to, wiring.Capabilities(wiring.Parts)...)
	require.ErrorContains(t, err, "is there already")
	older := filepath.Join(t.TempDir(), "older") // a copy that a build of long ago made
	_, err = ledger.Restore(t.Context(), "../shops/testdata/known/orpine.db", older, wiring.Capabilities(wiring.Parts)...)
	require.NoError(t, err)
	loft.In(t, older).Verify()
	data, err := os.ReadFile(c.Path)
	require.NoError(t, err)
	for _, damage := range []func([]byte) []byte{func(d []byte) []byte { return d[:len(d)/2] }, func(d []byte) []byte { return nil }, func(d []byte) []byte {
		return []byte(strings.ReplaceAll(string(d), "question b", "question X"))
	}} {
		bad := filepath.Join(t.TempDir(), "bad.db")
		require.NoError(t, os.WriteFile(bad, damage(append([]byte{}, data...)), 0o600))
		empty := filepath.Join(t.TempDir(), "empty")
		_, err := ledger.Restore(t.Context(), bad, empty, wiring.Capabilities(wiring.Parts)...)
		require.ErrorContains(t, err, "does not hold")
		_, err = os.Stat(filepath.Join(empty, store.FileName))
		require.ErrorIs(t, err, fs.ErrNotExist, "nothing is left of it")
	}
}

// After a while without an entry the file alone has everything: a copy of it that misses the log
// beside it misses nothing.
func TestTheFileAloneHasEverythingAfterAWhile(t *testing.T) {
	t.Parallel()
	v := benchOn(t, t.TempDir())
	ask(v, "is it in the file?")
	require.NoError(t, v.Ledger.Settle(t.Context()))
	data, err := os.ReadFile(v.Data.Path())
	require.NoError(t, err)
	dir := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(dir, store.FileName), data, 0o600))
	alone := loft.In(t, dir)
	alone.Verify()
	assert.Equal(t, v.Log(1)[0].Hash, alone.Log(1)[0].Hash)
}

// What is too large is answered with a page, or with the form and what was typed in it.
func TestWhatIsTooLargeLosesNothing(t *testing.T) {
	t.Parallel()
	v := benchOn(t, t.TempDir())
	status, page := ask(v, strings.Repeat("x", 100_000))
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, page, "longer than")
	status, page = ask(v, strings.Repeat("x", 2<<20))
	assert.Equal(t, http.StatusRequestEntityTooLarge, status)
	assert.Contains(t, page, "larger than the 1024 kB")
}
