// Command load lets many clients take readings in one setup at once, back to back, over
// HTTP, each waiting for the sheet that comes back; and the bare floor beside it: the same
// insert and hash, without Orpine, from as many at once.
package main

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"errors"
	"flag"
	"fmt"
	"io"
	"log"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"runtime/pprof"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/google/uuid"

	"orpine/cmd/wiring"
	"orpine/internal/airframe"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/store"
	"orpine/test/loft"
)

func main() {
	clients := flag.Int("clients", 50, "how many at once")
	lasting := flag.Duration("for", 15*time.Second, "how long")
	big := flag.String("shop", "", "a big workshop (make big): phones enter things into a copy of it, in open loop")
	program := flag.String("program", "bin/orpine", "that serves it")
	profile := flag.String("profile", "", "file for a profile of the processor's time")
	flag.Parse()
	if *profile != "" {
		f, err := os.Create(*profile)
		if err != nil {
			log.Fatal(err)
		}
		defer f.Close()
		if err := pprof.StartCPUProfile(f); err != nil {
			log.Fatal(err)
		}
		defer pprof.StopCPUProfile()
	}
	if *big != "" {
		if err := shop(*program, *big, *clients, *lasting); err != nil {
			log.Fatal(err)
		}
		return
	}
	if err := run(*clients, *lasting); err != nil {
		log.Fatal(err)
	}
}

func run(clients int, lasting time.Duration) (err error) {
	dir, err := os.MkdirTemp("", "orpine-load-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	bare, err := floor(filepath.Join(dir, "bare.db"))
	if err != nil {
		return err
	}
	defer bare.Close()
	report("bare insert and hash", measured(clients, lasting/3, func(int) func() error { return func() error { return insert(bare) } }))

	ctx := context.Background()
	s, err := store.Open(ctx, dir)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	w, err := wiring.Open(ctx, s, time.Now, time.Local)
	if err != nil {
		return err
	}
	setup := measuring.NewSetup{Form: loft.Named("setup"), Assembly: loft.ID("wing"), Name: "on the bench"}
	for c := range (clients + 9) / 10 {
		setup.Checks = append(setup.Checks, tenPoints(fmt.Sprint("Bow ", c)))
	}
	err = errors.Join(
		w.Instruments.Add(ctx, instrument.NewInstrument{Form: loft.Named("rule"), Name: "600 mm rule", Sort: "rule", Resolution: "0.5 mm", Offset: "0.1 mm", Spread: "0.1 mm"}),
		w.Airframes.Add(ctx, airframe.NewAirframe{Form: loft.Named("airframe"), Name: "Samphire S2", Unit: "mm"}),
		w.Airframes.AddAssembly(ctx, airframe.NewAssembly{Form: loft.Named("wing"), Airframe: loft.ID("airframe"), Name: "Wing", Shape: airframe.Shape{Form: "surface", Inner: 450, Outer: 6200, Chord: 400, Tip: 300}}),
		w.Measuring.Begin(ctx, setup),
	)
	if err != nil {
		return err
	}
	h, err := wiring.Handler(w, slog.New(slog.NewTextHandler(io.Discard, nil)), "load", "")
	if err != nil {
		return err
	}
	server := httptest.NewServer(h)
	defer server.Close()
	server.Client().Transport.(*http.Transport).MaxIdleConnsPerHost = clients
	times := measured(clients, lasting, func(client int) func() error {
		form := url.Values{"check": {ledger.Child(setup.ID, fmt.Sprint("check ", client/10))}, "list": {"points"}, "point": {fmt.Sprint("p ", client%10)}, "field": {"offset"}, "number": {fmt.Sprint(client%10 + 1)}, "state": {"1"}, "instrument": {loft.ID("rule")}, "condition": {"clamped"}, "stay": {"yes"}}
		n := 0
		return func() error {
			n++
			form.Set("id", uuid.NewString())
			form.Set("text", fmt.Sprint(10+n%3))
			if err := post(server.Client(), server.URL+"/setups/"+setup.ID+"/readings", form); err != nil {
				return err
			}
			form.Set("last", form.Get("id"))
			form.Set("in_place", "misread")
			return nil
		}
	})
	report("entries with their sheet", times)
	_, err = w.Ledger.Verify(ctx)
	return err
}

// tenPoints is a check of straightness at ten points.
func tenPoints(title string) measuring.NewCheck {
	points := make([]any, 10)
	for i := range points {
		points[i] = map[string]any{"name": fmt.Sprint("p ", i), "x": 100 * i}
	}
	return measuring.NewCheck{Name: title, Instrument: loft.ID("rule"), Definition: map[string]any{"kind": "straightness", "points": points, "limits": map[string]any{"bow": map[string]any{"low": "-3", "high": "3"}}}}
}

func post(client *http.Client, to string, form url.Values) error {
	r, err := http.NewRequest(http.MethodPost, to, strings.NewReader(form.Encode()))
	if err != nil {
		return err
	}
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	r.Header.Set("HX-Request", "true")
	answer, err := client.Do(r)
	if err != nil {
		return err
	}
	defer answer.Body.Close()
	_, err = io.Copy(io.Discard, answer.Body)
	if err == nil && answer.StatusCode != http.StatusOK {
		err = errors.New(answer.Status)
	}
	return err
}

func floor(path string) (*sql.DB, error) {
	db, err := sql.Open("sqlite", "file:"+path+"?_pragma=journal_mode(WAL)&_pragma=synchronous(FULL)&_txlock=immediate")
	if err != nil {
		return nil, err
	}
	db.SetMaxOpenConns(1)
	_, err = db.Exec("CREATE TABLE journal (seq INTEGER PRIMARY KEY, id TEXT NOT NULL UNIQUE, content TEXT NOT NULL, hash TEXT NOT NULL)")
	return db, err
}

func insert(db *sql.DB) error {
	content := strings.Repeat("x", 900)
	tx, err := db.Begin()
	if err != nil {
		return err
	}
	defer tx.Rollback() //nolint:errcheck // after a commit it does nothing
	if _, err := tx.Exec("INSERT INTO journal (id, content, hash) VALUES (?, ?, ?)", uuid.NewString(), content, fmt.Sprintf("%x", sha256.Sum256([]byte(content)))); err != nil {
		return err
	}
	return tx.Commit()
}

// measured lets clients work for a while, and returns how long each piece took.
func measured(clients int, lasting time.Duration, begin func(client int) func() error) []time.Duration {
	var mu sync.Mutex
	var all []time.Duration
	var wait sync.WaitGroup
	until := time.Now().Add(lasting)
	for client := range clients {
		wait.Go(func() {
			work := begin(client)
			var mine []time.Duration
			for time.Now().Before(until) {
				start := time.Now()
				if err := work(); err != nil {
					log.Println("client", client, err)
					return
				}
				mine = append(mine, time.Since(start))
			}
			mu.Lock()
			defer mu.Unlock()
			all = append(all, mine...)
		})
	}
	wait.Wait()
	fmt.Printf("%d clients, %.0f a second", clients, float64(len(all))/lasting.Seconds())
	return all
}

func report(what string, times []time.Duration) {
	slices.Sort(times)
	at := func(share float64) time.Duration {
		return times[int(share*float64(len(times)-1))].Round(100 * time.Microsecond)
	}
	fmt.Printf(": %s; half within %s, 99 of 100 within %s, the longest %s\n", what, at(0.5), at(0.99), at(1))
}
