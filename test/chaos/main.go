// Command chaos kills a workshop's server at random moments while people enter things, again and
// again, and then looks whether everything that was answered for is there, once, and the record
// is what its journal says.
package main

import (
	"bufio"
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"log"
	"math/rand/v2"
	"net/http"
	"net/url"
	"os"
	"os/exec"
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
	"orpine/internal/store/query"
	"orpine/test/loft"
)

func main() {
	program := flag.String("program", "bin/orpine", "the program")
	kills := flag.Int("kills", 1000, "how often it is killed")
	seed := flag.Uint64("seed", uint64(time.Now().UnixNano()), "of the moments")
	flag.Parse()
	dir, err := os.MkdirTemp("", "orpine-chaos-")
	if err != nil {
		log.Fatal(err)
	}
	start := time.Now()
	says, err := Run(context.Background(), *program, dir, *kills, *seed, func(n int) {
		if n%100 == 0 {
			log.Printf("%d kills in %s", n, time.Since(start).Round(time.Second))
		}
	})
	if err != nil {
		log.Fatalf("seed %d, in %s: %v", *seed, dir, err)
	}
	fmt.Printf("seed %d: %s; %s\n", *seed, says, time.Since(start).Round(time.Second))
	if err := os.RemoveAll(dir); err != nil {
		log.Fatal(err)
	}
}

// writers are how many enter things at once; every other one reads, the others log slips.
const writers = 8

// writer enters one thing after another, and sends again what it had no answer for.
type writer struct {
	n       int
	check   string
	pending url.Values // what has no answer yet
	last    string     // the reading that counts at its point
	taken   []string   // ids that were answered for
}

// Run kills the program so often, at moments drawn from a seed, over a workshop that it makes in
// dir, and says what was found. An entry that was answered for and is missing, or is there twice,
// is an error, and so is a record that does not hold.
func Run(ctx context.Context, program, dir string, kills int, seed uint64, progress func(n int)) (says string, err error) {
	check, err := fill(ctx, dir)
	if err != nil {
		return "", err
	}
	dice := rand.New(rand.NewPCG(seed, seed))
	all := make([]*writer, writers)
	for i := range all {
		all[i] = &writer{n: i, check: check}
	}
	for n := range kills {
		moment := time.Duration(5+dice.IntN(250)) * time.Millisecond
		if err := killed(ctx, program, dir, moment, all); err != nil {
			return "", fmt.Errorf("kill %d: %w", n+1, err)
		}
		progress(n + 1)
	}
	return look(ctx, dir, all)
}

// killed starts the program, lets all write, and kills it a moment after the first entry could
// be made.
func killed(ctx context.Context, program, dir string, moment time.Duration, all []*writer) error {
	cmd := exec.CommandContext(ctx, program, "serve", "--data", dir, "--addr", "127.0.0.1:0")
	out, err := cmd.StdoutPipe()
	if err != nil {
		return err
	}
	if err := cmd.Start(); err != nil {
		return err
	}
	said, err := bufio.NewReader(out).ReadString('\n')
	_, at, found := strings.Cut(said, "http://")
	if err != nil || !found {
		_ = cmd.Process.Kill()
		return fmt.Errorf("it did not start: %q: %w", said, errors.Join(err, cmd.Wait()))
	}
	at, _, _ = strings.Cut(at, " ")
	client := &http.Client{Timeout: 5 * time.Second, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	var wait sync.WaitGroup
	wrong := make([]error, len(all))
	for i, w := range all {
		wait.Go(func() { wrong[i] = w.write(client, "http://"+at) })
	}
	time.Sleep(moment)
	if err := cmd.Process.Kill(); err != nil {
		return err
	}
	wait.Wait()
	_ = cmd.Wait() // it was killed
	return errors.Join(wrong...)
}

// write enters things until the program is gone.
func (w *writer) write(client *http.Client, at string) error {
	for {
		if w.pending == nil {
			w.pending = w.next()
		}
		path := "/slips"
		if w.n%2 == 0 {
			path = "/setups/" + loft.ID("setup") + "/readings"
		}
		answer, err := client.PostForm(at+path, w.pending)
		if err != nil {
			return nil // it was killed, perhaps with this in hand
		}
		body, err := io.ReadAll(answer.Body)
		answer.Body.Close()
		if err != nil {
			return nil
		}
		if answer.StatusCode != http.StatusSeeOther {
			return fmt.Errorf("writer %d was refused: %s: %s", w.n, answer.Status, problem(string(body)))
		}
		id := w.pending.Get("id")
		w.taken, w.last, w.pending = append(w.taken, id), id, nil
	}
}

func problem(page string) string {
	_, says, _ := strings.Cut(page, `class="problem"`)
	return says[:min(len(says), 300)]
}

func (w *writer) next() url.Values {
	id := uuid.NewString()
	if w.n%2 == 1 {
		return url.Values{"id": {id}, "assembly": {loft.ID("wing")}, "step": {"rivet"}, "place": {id}, "cause": {"tool slipped"}, "back": {"/"}}
	}
	form := url.Values{"id": {id}, "check": {w.check}, "list": {"points"}, "point": {fmt.Sprint("p ", w.n)}, "field": {"offset"}, "number": {fmt.Sprint(w.n + 1)}, "state": {"1"}, "instrument": {loft.ID("rule")}, "condition": {"clamped"}, "stay": {"yes"}, "text": {fmt.Sprint(10 + len(w.taken)%3)}, "last": {w.last}}
	if w.last != "" {
		form.Set("in_place", "misread")
	}
	return form
}

// look reads the journal and compares it with what was answered for.
func look(ctx context.Context, dir string, all []*writer) (string, error) {
	s, err := store.Open(ctx, dir)
	if err != nil {
		return "", err
	}
	defer s.Close()
	seen, after := map[string]int{}, int64(0)
	for {
		var rows []query.Journal
		err := s.View(ctx, func(q *query.Queries) error {
			rows, err = q.Entries(ctx, query.EntriesParams{After: after, Most: 1000})
			return err
		})
		if err != nil {
			return "", err
		}
		if len(rows) == 0 {
			break
		}
		for _, r := range rows {
			seen[r.ID]++
			after = r.Seq
		}
	}
	answered := 0
	for _, w := range all {
		for _, id := range w.taken {
			answered++
			if seen[id] != 1 {
				return "", fmt.Errorf("entry %s of writer %d was answered for and stands in the journal %d times", id, w.n, seen[id])
			}
		}
	}
	report, err := ledger.Verify(ctx, s, wiring.Capabilities(wiring.Parts)...)
	if err != nil {
		return "", err
	}
	return fmt.Sprintf("%d entries were answered for, each is there once; all %d hold, and replayed they are the rows", answered, report.Entries), nil
}

// fill makes a workshop with a wing on a bench, and returns its check.
func fill(ctx context.Context, dir string) (check string, err error) {
	s, err := store.Open(ctx, dir)
	if err != nil {
		return "", err
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	w, err := wiring.Open(ctx, s, time.Now, time.Local)
	if err != nil {
		return "", err
	}
	points := make([]any, 10)
	for i := range points {
		points[i] = map[string]any{"name": fmt.Sprint("p ", i), "x": 100 * i}
	}
	setup := measuring.NewSetup{Form: loft.Named("setup"), Assembly: loft.ID("wing"), Name: "on the bench", Checks: []measuring.NewCheck{{Name: "Bow", Instrument: loft.ID("rule"), Definition: map[string]any{"kind": "straightness", "points": points, "limits": map[string]any{"bow": map[string]any{"low": "-3", "high": "3"}}}}}}
	return ledger.Child(setup.ID, "check 0"), errors.Join(
		w.Instruments.Add(ctx, instrument.NewInstrument{Form: loft.Named("rule"), Name: "600 mm rule", Sort: "rule", Resolution: "0.5 mm", Offset: "0.1 mm", Spread: "0.1 mm"}),
		w.Airframes.Add(ctx, airframe.NewAirframe{Form: loft.Named("airframe"), Name: "Samphire S2", Unit: "mm"}),
		w.Airframes.AddAssembly(ctx, airframe.NewAssembly{Form: loft.Named("wing"), Airframe: loft.ID("airframe"), Name: "Wing", Shape: airframe.Shape{Form: "surface", Inner: 450, Outer: 6200, Chord: 400, Tip: 300}}),
		w.Measuring.Begin(ctx, setup),
	)
}
