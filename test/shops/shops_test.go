// Package shops holds small workshops as builds before left them: each later build opens,
// verifies and shows them all.
package shops

import (
	"database/sql"
	"flag"
	"fmt"
	"html"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/store"
	"orpine/internal/store/query"
	"orpine/test/loft"
	"orpine/test/site"
)

// keep is the folder under testdata that a small workshop of this build is written to.
var keep = flag.String("keep", "", "folder under testdata to keep a workshop of this build in")

func TestEveryWorkshopOfBeforeIsOpenedVerifiedAndShown(t *testing.T) {
	if *keep != "" {
		write(t, filepath.Join("testdata", *keep))
	}
	files, err := filepath.Glob("testdata/*/" + store.FileName)
	require.NoError(t, err)
	require.NotEmpty(t, files)
	for _, file := range files {
		t.Run(filepath.Base(filepath.Dir(file)), func(t *testing.T) {
			t.Parallel()
			dir := t.TempDir()
			data, err := os.ReadFile(file)
			require.NoError(t, err)
			require.NoError(t, os.WriteFile(filepath.Join(dir, store.FileName), data, 0o600))
			v := site.Of(loft.In(t, dir), "")
			assert.Positive(t, v.Verify())
			for _, one := range byHand(t, filepath.Base(filepath.Dir(file))) {
				assert.Contains(t, standing(t, v.Loft), one)
			}
			assert.Len(t, standing(t, v.Loft), len(byHand(t, filepath.Base(filepath.Dir(file)))), "testdata/stands.txt")
			shown := walk(t, v, "/")
			assert.Greater(t, shown, 60, "pages")
			v.Done("/slips", "cause", "tool slipped", "back", "/slips")
			v.Verify()
		})
	}
}

// byHand is what stands in a kept shop, as testdata/stands.txt says it: a hold, how it stands, and how
// often it was released.
func byHand(t *testing.T, shop string) (out []string) {
	t.Helper()
	data, err := os.ReadFile(filepath.Join("testdata", "stands.txt"))
	require.NoError(t, err)
	for line := range strings.Lines(string(data)) {
		line = strings.TrimSpace(line)
		if as, ok := strings.CutPrefix(line, shop+" as "); ok {
			return byHand(t, as)
		}
		if one, ok := strings.CutPrefix(line, shop+"; "); ok {
			out = append(out, one)
		}
	}
	require.NotEmpty(t, out, "say in testdata/stands.txt, by hand, what stands in it")
	return out
}

// standing is what this build says of the holds of all aircraft.
func standing(t *testing.T, l *loft.Loft) (out []string) {
	t.Helper()
	frames, err := l.Airframes.List(l.Ctx())
	require.NoError(t, err)
	for _, f := range frames {
		var ids []string
		require.NoError(t, l.Ledger.View(l.Ctx(), func(q *query.Queries) error {
			holds, err := q.Holds(l.Ctx(), f.ID)
			for _, h := range holds {
				ids = append(ids, h.ID)
			}
			return err
		}))
		for _, id := range ids {
			h, how := l.HoldOf(id), "not released"
			switch {
			case h.Done:
				how = strings.TrimSpace("done " + h.Fact)
			case h.Waiting():
				how = "released"
			case h.Ended != "":
				how, _, _ = strings.Cut("ended: "+h.Ended, "”: ")
				how += "”"
			}
			out = append(out, fmt.Sprintf("%s; %s; %d", h.Name, how, len(h.Releases)))
		}
	}
	return out
}

// write keeps a small workshop as one file.
func write(t *testing.T, dir string) {
	t.Helper()
	l := loft.Small(t)
	require.NoError(t, os.MkdirAll(dir, 0o700))
	to := filepath.Join(dir, store.FileName)
	require.NoError(t, os.RemoveAll(to))
	db, err := sql.Open("sqlite", l.Data.Path())
	require.NoError(t, err)
	defer db.Close()
	_, err = db.Exec("VACUUM INTO ?", to)
	require.NoError(t, err)
}

var id = regexp.MustCompile(`[0-9a-f]{8}-[0-9a-f-]{27}|\d+`)

// links are the addresses of this program that a page leads to or shows.
func links(page string) (out []string) {
	for _, attribute := range []string{`href="`, `src="`} {
		for rest := page; ; {
			_, after, found := strings.Cut(rest, attribute)
			if !found {
				break
			}
			to, _, _ := strings.Cut(after, `"`)
			rest = after
			if to, _, _ = strings.Cut(to, "#"); strings.HasPrefix(to, "/") {
				out = append(out, html.UnescapeString(to))
			}
		}
	}
	return out
}

// sorts is how many pages of one sort, alike but for what they are of, are opened of a shop each day; beyond it a
// sixth of them is, another one each day.
const sorts = 8

// walk opens the pages that can be reached from one by links, and counts them: with ORPINE_ALL all
// of them, else see sorts.
func walk(t *testing.T, v *site.Site, from string) int {
	t.Helper()
	all := os.Getenv("ORPINE_ALL") != ""
	seen, waiting, alike := map[string]bool{from: true}, []string{from}, map[string]int{}
	for len(waiting) > 0 {
		path := waiting[0]
		waiting = waiting[1:]
		sort := id.ReplaceAllString(path, "-")
		if i := strings.Index(sort, "?"); i > 0 {
			sort = sort[:i]
		}
		if alike[sort]++; alike[sort] > sorts && alike[sort]%6 != time.Now().YearDay()%6 && !all {
			continue
		}
		w := v.Get(path)
		if !assert.Equal(t, http.StatusOK, w.Code, path) {
			continue
		}
		for _, to := range links(w.Body.String()) {
			if !seen[to] {
				seen[to] = true
				waiting = append(waiting, to)
			}
		}
	}
	return len(seen)
}
