package sim

import (
	"gonum.org/v1/gonum/stat/distuv"
)

// Tally counts what came of builds.
type Tally struct {
	Builds, Outside                                int
	coverage                                       map[string]hits
	planted, detectable, found, foundAny, alarms   int
	wrong, needless, deserving, released, readings int
}

type hits struct{ hits, n int }

// Run makes the builds from one number up to, but without, another. The same seed
// gives the same builds, however they are shared out.
func Run(seed uint64, from, to int, rules Rules) *Tally {
	t := &Tally{coverage: map[string]hits{}}
	for i := from; i < to; i++ {
		newBuild(seed, uint64(i), rules).run(t)
	}
	return t
}

// Add adds another tally.
func (t *Tally) Add(o *Tally) {
	t.Builds += o.Builds
	t.Outside += o.Outside
	t.planted += o.planted
	t.detectable += o.detectable
	t.found += o.found
	t.foundAny += o.foundAny
	t.alarms += o.alarms
	t.wrong += o.wrong
	t.needless += o.needless
	t.deserving += o.deserving
	t.released += o.released
	t.readings += o.readings
	for name, h := range o.coverage {
		have := t.coverage[name]
		t.coverage[name] = hits{have.hits + h.hits, have.n + h.n}
	}
}

// Share is a proportion with its 95 % bounds after Clopper and Pearson (1934).
type Share struct {
	Count int     `json:"count"`
	Share float64 `json:"share"`
	Low   float64 `json:"low"`
	High  float64 `json:"high"`
}

func shareOf(count, n int) Share {
	s := Share{Count: count, High: 1}
	if n == 0 {
		return s
	}
	s.Share = float64(count) / float64(n)
	if count > 0 {
		s.Low = distuv.Beta{Alpha: float64(count), Beta: float64(n - count + 1)}.Quantile(0.025)
	}
	if count < n {
		s.High = distuv.Beta{Alpha: float64(count + 1), Beta: float64(n - count)}.Quantile(0.975)
	}
	return s
}

// Blunders is what became of the planted ones: those at least twice the smallest
// size that the readings about them would show, and how many of these were found.
type Blunders struct {
	Planted     int     `json:"planted"`
	Detectable  int     `json:"detectable"`
	Found       int     `json:"found"`     // of the detectable
	FoundAny    int     `json:"found_any"` // of all planted
	FalseAlarms int     `json:"false_alarms"`
	Share       float64 `json:"share"` // of the detectable that were found
	Low         float64 `json:"low"`
	High        float64 `json:"high"`
}

// Report is what is said of a run.
type Report struct {
	Builds           int              `json:"builds"`
	Seed             uint64           `json:"seed"`
	Errors           string           `json:"errors"`
	Outside          Share            `json:"outside"` // truly outside some limit
	Released         Share            `json:"released"`
	Coverage         map[string]Share `json:"coverage"`
	Blunders         Blunders         `json:"blunders"`
	WrongReleases    Share            `json:"wrong_releases"`
	NeedlessRefusals Share            `json:"needless_refusals"`
	ReadingsPerBuild float64          `json:"readings_per_build"`
}

// Report works the tally out. Wrong releases are of all builds; needless refusals of
// those that lie inside every limit by more than 2U.
func (t *Tally) Report(seed uint64, rules Rules) Report {
	r := Report{Builds: t.Builds, Seed: seed, Errors: map[Errors]string{Normal: "normal", Rectangular: "rectangular"}[rules.Errors], Coverage: map[string]Share{}}
	r.Outside, r.Released = shareOf(t.Outside, t.Builds), shareOf(t.released, t.Builds)
	for name, h := range t.coverage {
		r.Coverage[name] = shareOf(h.hits, h.n)
	}
	found := shareOf(t.found, t.detectable)
	r.Blunders = Blunders{t.planted, t.detectable, t.found, t.foundAny, t.alarms, found.Share, found.Low, found.High}
	r.WrongReleases, r.NeedlessRefusals = shareOf(t.wrong, t.Builds), shareOf(t.needless, t.deserving)
	if t.Builds > 0 {
		r.ReadingsPerBuild = float64(t.readings) / float64(t.Builds)
	}
	return r
}
