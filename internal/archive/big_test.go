package archive_test

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"runtime"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"orpine/internal/archive"
	"orpine/internal/core/journal"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
	"orpine/test/loft"
)

// big is a workshop with so many readings and photos: those of the small one again and again.
func big(b *testing.B, readings, photos int) *loft.Loft {
	b.Helper()
	l, ctx := loft.Small(b), b.Context()
	var reading, photo, last journal.Entry
	var sums []string
	require.NoError(b, l.Ledger.Read(ctx, func(db query.DBTX) (err error) {
		if err := ledger.Entries(ctx, db, func(e journal.Entry) error {
			switch last = e; e.Kind {
			case "reading":
				reading = e
			case "photo":
				photo = e
			}
			return nil
		}); err != nil {
			return err
		}
		sums, err = query.New(db).FilesCarried(ctx)
		return err
	}))
	require.NotEmpty(b, sums)
	noise := rand.NewChaCha8([32]byte{1})
	require.NoError(b, l.Ledger.Whole(ctx, func(q *query.Queries, each func(e journal.Entry) error) error {
		next := func(like journal.Entry, name, content string) error {
			last = journal.Next(&last, journal.Entry{ID: loft.ID(name), At: last.At.Add(time.Second), Kind: like.Kind, By: like.By, Content: content})
			return each(last)
		}
		for i := range readings {
			if err := next(reading, fmt.Sprint("reading ", i), reading.Content); err != nil {
				return err
			}
		}
		for i := range photos {
			content := photo.Content
			for k, sum := range sums {
				if !strings.Contains(content, sum) {
					continue
				}
				data := make([]byte, 20_000+k%2*280_000)
				_, _ = noise.Read(data)
				copy(data, "\xff\xd8\xff\xe0")
				is := sha256.Sum256(data)
				name := hex.EncodeToString(is[:])
				if err := ledger.Keep(ctx, q, ledger.File{SHA256: name, Content: data}); err != nil {
					return err
				}
				content = strings.ReplaceAll(content, sum, name)
			}
			if err := next(photo, fmt.Sprint("photo ", i), content); err != nil {
				return err
			}
		}
		return nil
	}))
	return l
}

// An archive of 100,000 readings and 1,000 photos goes out and in; what is held in memory
// beyond the database's own pages is told.
func BenchmarkHundredThousandReadingsAndAThousandPhotos(b *testing.B) {
	from := big(b, 100_000, 1_000)
	dir := b.TempDir()
	for b.Loop() {
		path := filepath.Join(dir, "big.zip")
		for _, aircraft := range []string{"", loft.BenchFrame} {
			name := map[string]string{"": "whole"}[aircraft]
			if name == "" {
				name = "aircraft"
			}
			most := watch()
			start := time.Now()
			file, err := os.Create(path)
			require.NoError(b, err)
			_, err = archive.Write(b.Context(), from.Ledger, aircraft, file)
			require.NoError(b, err)
			b.ReportMetric(time.Since(start).Seconds(), name+"-out-s")
			info, err := file.Stat()
			require.NoError(b, err)
			b.ReportMetric(float64(info.Size())/1e6, name+"-MB")

			start = time.Now()
			to := loft.Empty(b)
			a, err := archive.Open(file, info.Size())
			require.NoError(b, err)
			_, err = archive.Take(b.Context(), to.Ledger, a, archive.Taking{Form: to.Form(), Archive: a.SHA256})
			require.NoError(b, err)
			b.ReportMetric(time.Since(start).Seconds(), name+"-in-s")
			b.ReportMetric(most(), name+"-heap-MB")
			require.NoError(b, file.Close())
		}
	}
}

// watch tells the largest heap since it was called, in MB.
func watch() func() float64 {
	stop, most := make(chan struct{}), make(chan float64)
	go func() {
		highest := uint64(0)
		for {
			select {
			case <-stop:
				most <- float64(highest) / 1e6
				return
			case <-time.After(20 * time.Millisecond):
				var m runtime.MemStats
				runtime.ReadMemStats(&m)
				highest = max(highest, m.HeapInuse)
			}
		}
	}()
	return func() float64 { close(stop); return <-most }
}
