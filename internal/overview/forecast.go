package overview

import (
	"context"
	"crypto/sha256"
	"encoding/json"
	"sync"
	"sync/atomic"
	"time"

	"orpine/internal/core/plan"
)

// Forecast is when an order of work is finished, as it may turn out, or how far it is with playing
// that.
type Forecast struct {
	Band   plan.Band
	Ready  bool
	Done   int    // plays, of which
	Of     int    // there are so many
	Finish string // by the plan alone; "" where that never ends
}

// forecasts are the last ones of each aircraft.
type forecasts struct {
	sync.Mutex
	by map[string]*forecasting
}

// forecasting is a forecast that is being made, or was.
type forecasting struct {
	key      [sha256.Size]byte
	ready    chan struct{}
	done, of atomic.Int64
	band     plan.Band
}

// How often a plan is played: so that all plays go through so many steps, within bounds. Three
// hundred tell the 10 and the 90 % to some five days in a hundred.
const (
	stepsPlayed = 10_000
	mostPlayed  = 300
	leastPlayed = 60
)

// Forecast plays the order of work of a sheet, and waits for it as long as is said; what takes
// longer goes on by itself, and the next who asks is told how far it is. The same order is played
// once an hour at most.
func (w *Workshop) Forecast(ctx context.Context, s OrderSheet, wait time.Duration) Forecast {
	out := Forecast{}
	if s.Answer.Finish != nil {
		out.Finish = *s.Answer.Finish
	}
	f := w.forecasting(s)
	patience := time.NewTimer(wait)
	defer patience.Stop()
	select {
	case <-f.ready:
		out.Band, out.Ready = f.band, true
	case <-patience.C:
	case <-ctx.Done():
	}
	out.Done, out.Of = int(f.done.Load()), int(f.of.Load())
	return out
}

// forecasting is the forecast of just this plan, begun where there is none yet.
func (w *Workshop) forecasting(s OrderSheet) *forecasting {
	key := keyOf(s)
	w.forecasts.Lock()
	defer w.forecasts.Unlock()
	if f, ok := w.forecasts.by[s.Airframe.ID]; ok && f.key == key {
		return f
	}
	f := &forecasting{key: key, ready: make(chan struct{})}
	if w.forecasts.by == nil {
		w.forecasts.by = map[string]*forecasting{}
	}
	w.forecasts.by[s.Airframe.ID] = f
	undone := 0
	for _, step := range s.Plan.Steps {
		if step.State != plan.Done {
			undone++
		}
	}
	n := min(max(stepsPlayed/max(undone, 1), leastPlayed), mostPlayed)
	if w.PlaysAtMost > 0 {
		n = min(n, w.PlaysAtMost)
	}
	go func() {
		defer close(f.ready)
		f.band = s.Plan.Band(s.Way, n, 1, func(done, of int) { f.done.Store(int64(done)); f.of.Store(int64(of)) })
	}()
	return f
}

// keyOf tells two orders of work apart, and not the minutes of an hour.
func keyOf(s OrderSheet) [sha256.Size]byte {
	doc := s.Plan.Document("")
	doc["now"] = s.Now.Format("2006-01-02T15")
	text, err := json.Marshal([]any{doc, s.Way.Order()})
	if err != nil {
		return [sha256.Size]byte{}
	}
	return sha256.Sum256(text)
}
