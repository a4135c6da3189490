package main

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"log"
	"maps"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/google/uuid"

	"orpine/cmd/wiring"
	"orpine/internal/ledger"
	"orpine/internal/store"
	"orpine/test/loft"
)

// every is how often each phone enters something, whether the last was answered or not.
const every = 2 * time.Second

// pages are opened meanwhile, each again and again.
var pages = map[string]string{
	"airframe": "/", "setups": "/setups", "holds": "/holds", "joins": "/joins", "rows": "/rows", "stores": "/stores", "log": "/log", "slips": "/slips", "instruments": "/instruments", "order": "/order",
	"setup with 2,000 readings": "/setups/" + loft.ID("setup 0"), "an assembly": "/assemblies/" + loft.ID("assembly 1"), "row of 1,000": "/rows/" + loft.ID("row 0"), "row": "/rows/" + loft.ID("row 7"), "questions": "/questions", "hours": "/hours",
}

// shop lets phones enter things into a copy of a big workshop (test/big), served by the program
// itself, each phone in a setup of its own whose changes it watches, in open loop: an entry
// is due when it is due, and its time counts from then.
func shop(program, from string, phones int, lasting time.Duration) (err error) {
	dir, err := os.MkdirTemp("", "orpine-shop-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	if err := copied(filepath.Join(from, store.FileName), filepath.Join(dir, store.FileName)); err != nil {
		return err
	}
	floor, err := floor(filepath.Join(dir, "bare.db"))
	if err != nil {
		return err
	}
	report("bare insert and hash, in open loop", open(phones, 20*time.Second, func(int) func() error { return func() error { return insert(floor) } }))
	if err := floor.Close(); err != nil {
		return err
	}
	cmd, at, err := serve(program, dir)
	if err != nil {
		return err
	}
	client := &http.Client{Transport: &http.Transport{MaxIdleConnsPerHost: 2 * phones}, Timeout: time.Minute}
	ctx, stop := context.WithCancel(context.Background())
	var beside sync.WaitGroup
	opened := map[string][]time.Duration{}
	for path := range maps.Values(pages) { // what is worked out once is worked out
		_, _ = client.Get(at + path)
	}
	beside.Go(func() { opened = browse(ctx, client, at) })
	for phone := range phones {
		beside.Go(func() { watch(ctx, at, phone) })
	}
	times := open(phones, lasting, func(phone int) func() error { return entries(client, at, phone) })
	stop()
	report("entries with their sheet, in open loop", times)
	beside.Wait()
	for _, name := range slices.Sorted(maps.Keys(opened)) {
		report("  "+name, opened[name])
	}
	most, now := memory(cmd.Process.Pid)
	fmt.Printf("memory: %s, at most %s\n", now, most)
	if err := errors.Join(cmd.Process.Signal(os.Interrupt), cmd.Wait()); err != nil {
		return err
	}
	return whole(dir, len(times))
}

func copied(from, to string) error {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := os.Create(to)
	if err != nil {
		return err
	}
	_, err = io.Copy(out, in)
	return errors.Join(err, out.Close())
}

func serve(program, dir string) (cmd *exec.Cmd, at string, err error) {
	cmd = exec.Command(program, "serve", "--data", dir, "--addr", "127.0.0.1:0")
	out, err := cmd.StdoutPipe()
	if err != nil {
		return nil, "", err
	}
	if err := cmd.Start(); err != nil {
		return nil, "", err
	}
	said, err := bufio.NewReader(out).ReadString('\n')
	_, at, _ = strings.Cut(said, "http://")
	at, _, _ = strings.Cut(at, " ")
	return cmd, "http://" + at, err
}

// open has each phone do a piece every so often, and returns how long each took from when it was
// due.
func open(phones int, lasting time.Duration, begin func(phone int) func() error) (all []time.Duration) {
	var mu sync.Mutex
	var wait sync.WaitGroup
	start := time.Now()
	for phone := range phones {
		wait.Go(func() {
			work := begin(phone)
			due := start.Add(every * time.Duration(phone) / time.Duration(phones))
			for ; due.Before(start.Add(lasting)); due = due.Add(every) {
				time.Sleep(time.Until(due))
				if err := work(); err != nil {
					log.Println("phone", phone, err)
					return
				}
				mu.Lock()
				all = append(all, time.Since(due))
				mu.Unlock()
			}
		})
	}
	wait.Wait()
	fmt.Printf("%d phones, %.1f a second", phones, float64(len(all))/lasting.Seconds())
	return all
}

// entries takes a reading in place of the last one that this phone took.
func entries(client *http.Client, at string, phone int) func() error {
	setup := loft.ID(fmt.Sprintf("setup %d", 1+phone%59))
	form := url.Values{"check": {ledger.Child(setup, "check 0")}, "list": {"points"}, "point": {fmt.Sprintf("p %d", phone%10)}, "field": {"offset"}, "number": {fmt.Sprint(phone%10 + 1)}, "state": {"1"}, "instrument": {loft.ID("rule")}, "condition": {"clamped"}, "stay": {"yes"}, "in_place": {"misread"}}
	last := lastAt(client, at, setup, form)
	n := 0
	return func() error {
		n++
		form.Set("id", uuid.NewString())
		form.Set("last", last)
		form.Set("text", fmt.Sprint(10+n%3))
		last = form.Get("id")
		return post(client, at+"/setups/"+setup+"/readings", form)
	}
}

// lastAt is the reading that counts where a phone reads, as its page says.
func lastAt(client *http.Client, at, setup string, form url.Values) string {
	answer, err := client.Get(at + "/setups/" + setup + "?check=" + form.Get("check") + "&spot=" + form.Get("number"))
	if err != nil {
		return ""
	}
	defer answer.Body.Close()
	page, err := io.ReadAll(answer.Body)
	_, last, _ := strings.Cut(string(page), `name="last" value="`)
	last, _, _ = strings.Cut(last, `"`)
	if err != nil {
		return ""
	}
	return last
}

// watch holds the line on which a phone is told what others do.
func watch(ctx context.Context, at string, phone int) {
	setup := loft.ID(fmt.Sprintf("setup %d", 1+phone%59))
	r, err := http.NewRequestWithContext(ctx, http.MethodGet, at+"/setups/"+setup+"/live?check="+ledger.Child(setup, "check 0")+"&spot="+fmt.Sprint(phone%10+1), nil)
	if err != nil {
		return
	}
	answer, err := http.DefaultClient.Do(r)
	if err != nil {
		return
	}
	defer answer.Body.Close()
	_, _ = io.Copy(io.Discard, answer.Body) // until it ends
}

// browse opens page after page.
func browse(ctx context.Context, client *http.Client, at string) map[string][]time.Duration {
	out := map[string][]time.Duration{}
	for ctx.Err() == nil {
		for name, path := range pages {
			start := time.Now()
			answer, err := client.Get(at + path)
			if err != nil {
				continue
			}
			_, err = io.Copy(io.Discard, answer.Body)
			answer.Body.Close()
			if err != nil || answer.StatusCode != http.StatusOK {
				log.Println(name, answer.Status, err)
				continue
			}
			out[name] = append(out[name], time.Since(start))
			time.Sleep(100 * time.Millisecond)
		}
	}
	for name := range out {
		fmt.Printf("%d times", len(out[name]))
		break
	}
	return out
}

// memory is what a process takes, now and at most.
func memory(pid int) (most, now string) {
	data, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", pid))
	if err != nil {
		return "unknown", "unknown"
	}
	for line := range strings.Lines(string(data)) {
		if text, ok := strings.CutPrefix(line, "VmHWM:"); ok {
			most = strings.TrimSpace(text)
		}
		if text, ok := strings.CutPrefix(line, "VmRSS:"); ok {
			now = strings.TrimSpace(text)
		}
	}
	return most, now
}

// whole verifies the workshop, and that none of so many entries is lost.
func whole(dir string, entries int) error {
	s, err := store.Open(context.Background(), dir)
	if err != nil {
		return err
	}
	defer s.Close()
	report, err := ledger.Verify(context.Background(), s, wiring.Capabilities(wiring.Parts)...)
	fmt.Printf("%d entries hold, %d of them new\n", report.Entries, entries)
	return err
}
