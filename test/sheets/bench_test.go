package sheets_test

import (
	"crypto/sha256"
	"database/sql"
	"fmt"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/quantity"
	"orpine/internal/core/row"
	"orpine/internal/demo"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/test/loft"
	"orpine/test/site"
)

var (
	largeSetup = "/setups/" + loft.ID("large setup")
	largeCheck = ledger.Child(loft.ID("large setup"), "check 1")
)

// large is the setup of a surface of so many stations, each read on the part and on the
// rails under it.
func large(t testing.TB, stations int) *site.Site {
	t.Helper()
	v := site.Demo(t)
	frame := measuring.OnRails{Lies: "held", ByLevel: true, Supports: []string{"0", "3000"}, Apart: quantity.Length(700), Low: "-0.1", High: "0.1", Level: demo.ID("level 2"), Survey: demo.ID("laser")}
	for i := range stations {
		frame.Stations = append(frame.Stations, measuring.Station{Name: fmt.Sprintf("station %d", i), Y: fmt.Sprint(12 * i)})
	}
	require.NoError(t, v.Measuring.Begin(v.Ctx(), measuring.NewSetup{Form: loft.Named("large setup"), Assembly: demo.ID("fin"), Name: "on the rails", Checks: frame.Checks(), Hold: measuring.EndHoles("fin")}))
	for i, spot := range v.SetupOf(loft.ID("large setup")).Checks[1].Spots {
		n := measuring.NewReading{Form: v.Loft.Form(), Check: largeCheck, Spot: spot.Key(), State: 1, Text: fmt.Sprintf("0.%02d up", i%50), Instrument: demo.ID("level 2")}
		require.NoError(t, v.Measuring.Take(v.Ctx(), n))
	}
	return v
}

func TestThePageOf200ReadingsIsSmall(t *testing.T) {
	t.Parallel()
	assert.Less(t, large(t, 100).Get(largeSetup+"?check="+largeCheck+"&spot=3").Body.Len(), 120_000)
}

// entries takes one reading after the other at a check, each in place of the last at the
// next spot, as htmx sends them.
func entries(b *testing.B, v *site.Site, path, setup, check string, tool string, texts ...string) {
	b.Helper()
	c, ok := v.SetupOf(setup).Check(check)
	require.True(b, ok)
	last := make([]string, len(c.Spots))
	for i := range last {
		last[i] = loft.LastAt(c, i+1)
	}
	form := v.Form(path, "check", check, "number", "1", "text", texts[0], "instrument", tool, "in_place", "misread", "stay", "yes")
	for n := 0; b.Loop(); n++ {
		i := n % len(last)
		form.Set("id", uuid.NewString())
		form.Set("number", fmt.Sprint(i+1))
		form.Set("list", c.Spots[i].List)
		form.Set("point", c.Spots[i].Point)
		form.Set("field", c.Spots[i].Field)
		form.Set("last", last[i])
		form.Set("text", texts[n%len(texts)])
		if w := v.Post(path, form, true); w.Code != http.StatusOK {
			b.Fatal(w.Code, site.Said(w.Body.String()))
		}
		last[i] = form.Get("id")
	}
}

// BenchmarkEntryAt200Readings is what a builder waits for at 200 readings: one is kept,
// and the sheet comes back with the answer worked out anew.
func BenchmarkEntryAt200Readings(b *testing.B) {
	entries(b, large(b, 100), largeSetup+"/readings", loft.ID("large setup"), largeCheck, demo.ID("level 2"), "0.04 up", "0.05 up", "0.06 up")
}

// BenchmarkEntryStoredAt200Readings is the entry alone, judged, hashed and durable, without
// the sheet after it.
func BenchmarkEntryStoredAt200Readings(b *testing.B) {
	v := large(b, 100)
	c, _ := v.SetupOf(loft.ID("large setup")).Check(largeCheck)
	last := make([]string, len(c.Spots))
	for i := range last {
		last[i] = loft.LastAt(c, i+1)
	}
	for n := 0; b.Loop(); n++ {
		i := n % len(last)
		r := measuring.NewReading{Form: ledger.Form{ID: uuid.NewString()}, Check: c.ID, Spot: c.Spots[i].Key(), State: 1, Last: last[i], Text: "0.04 up", Instrument: demo.ID("level 2"), InPlace: "misread"}
		if err := v.Measuring.Take(v.Ctx(), r); err != nil {
			b.Fatal(err)
		}
		last[i] = r.ID
	}
}

// BenchmarkRivetKey pins a hole in a row of 84 and takes the pin out again; each is one
// key, with the map that comes back.
func BenchmarkRivetKey(b *testing.B) {
	v := site.Demo(b)
	form := v.Form(row3+"/holes", "do", "set", "number", "43", "by", "builder", "crew", "solo")
	for n := 0; b.Loop(); n++ {
		do := []string{"pin", "unpin"}[n%2]
		form.Set("do", do)
		form.Set("number", "44")
		form.Set("id", uuid.NewString())
		form.Set("seen", "1000000000")
		if w := v.Post(row3+"/holes", form, true); w.Code != http.StatusOK {
			b.Fatal(w.Code, do, site.Said(w.Body.String()))
		}
	}
}

// BenchmarkMovingAnswer is what a figure in the field is answered by, on the demo's tailplane: read as, figure and ±.
func BenchmarkMovingAnswer(b *testing.B) {
	v := site.Demo(b)
	v.Done(rails+"/moved", "what", "knocked")
	check := demo.Check("tailplane on rails", 1)
	for number := 1; number <= 9; number++ {
		v.Done(rails+"/readings", "check", check, "number", fmt.Sprint(number), "text", "0.1 up", "instrument", demo.ID("level 2"))
	}
	for n := 0; b.Loop(); n++ {
		w := v.Get(fmt.Sprintf("%s/as-if?check=%s&number=10&text=0.%04d&instrument=%s", rails, check, n%9999, demo.ID("level 2")))
		if !strings.Contains(w.Body.String(), "Not kept") {
			b.Fatal(w.Body.String())
		}
	}
}

// BenchmarkBareEntry is the floor: the same durable insert and hash, without Orpine.
func BenchmarkBareEntry(b *testing.B) {
	db, err := sql.Open("sqlite", "file:"+filepath.Join(b.TempDir(), "bare.db")+"?_pragma=journal_mode(WAL)&_pragma=synchronous(FULL)&_txlock=immediate")
	require.NoError(b, err)
	defer db.Close()
	db.SetMaxOpenConns(1)
	_, err = db.Exec("CREATE TABLE journal (seq INTEGER PRIMARY KEY, id TEXT NOT NULL UNIQUE, content TEXT NOT NULL, hash TEXT NOT NULL)")
	require.NoError(b, err)
	content, hash := strings.Repeat("x", 900), ""
	for n := 0; b.Loop(); n++ {
		hash = fmt.Sprintf("%x", sha256.Sum256([]byte(hash+content)))
		tx, err := db.Begin()
		require.NoError(b, err)
		_, err = tx.Exec("INSERT INTO journal VALUES (?, ?, ?, ?)", n+1, uuid.NewString(), content, hash)
		require.NoError(b, err)
		require.NoError(b, tx.Commit())
	}
}

// big is the workshop that `make big` made, in the directory that ORPINE_BIG names.
func big(b *testing.B) *site.Site {
	dir := os.Getenv("ORPINE_BIG")
	if dir == "" {
		b.Skip("ORPINE_BIG names no workshop; make one with make big")
	}
	return site.Of(loft.In(b, dir), "")
}

// BenchmarkBigPages opens each page of the big workshop; what is kept of standings is
// there already, as it is in use.
func BenchmarkBigPages(b *testing.B) {
	v := big(b)
	setup, assembly, longRow := "/setups/"+loft.ID("setup 0"), "/assemblies/"+loft.ID("assembly 0"), "/rows/"+loft.ID("row 0")
	hold := "/holds/" + ledger.Child(loft.ID("setup 0"), "hold")
	for _, path := range []string{"/", "/setups", "/holds", "/joins", "/rows", "/stores", "/log", "/slips", "/instruments", setup, setup + "?check=" + ledger.Child(loft.ID("setup 0"), "check 9") + "&spot=100", hold, assembly, assembly + "/record", assembly + "/rows", longRow, longRow + "?hole=700", longRow + "/plan", assembly + "/rows/new"} {
		b.Run(path, func(b *testing.B) {
			var w *httptest.ResponseRecorder
			for b.Loop() {
				if w = v.Get(path); w.Code != http.StatusOK {
					b.Fatal(w.Code)
				}
			}
			b.ReportMetric(float64(w.Body.Len())/1024, "KB")
		})
	}
}

// BenchmarkBigKeys takes a reading at 200 readings and works a hole of the big workshop.
func BenchmarkBigKeys(b *testing.B) {
	v := big(b)
	b.Run("reading", func(b *testing.B) {
		entries(b, v, "/setups/"+loft.ID("setup 0")+"/readings", loft.ID("setup 0"), ledger.Child(loft.ID("setup 0"), "check 9"), loft.ID("rule"), "10", "11", "12")
	})
	b.Run("rivet", func(b *testing.B) {
		path := "/rows/" + loft.ID("row 1") + "/holes"
		form := v.Form(path, "do", "pin", "number", "2", "by", "builder")
		form.Set("seen", "1000000000")
		n := 0
		if h, _ := v.RowOf(loft.ID("row 1")).Hole(2); h.State == row.Pinned {
			n = 1
		}
		for ; b.Loop(); n++ {
			form.Set("id", uuid.NewString())
			form.Set("do", []string{"pin", "unpin"}[n%2])
			if w := v.Post(path, form, true); w.Code != http.StatusOK {
				b.Fatal(w.Code, site.Said(w.Body.String()))
			}
		}
	})
}
