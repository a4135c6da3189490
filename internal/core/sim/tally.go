package sim

import (
	"gonum.org/v1/gonum/stat/distuv"
)

// Tally counts what came of builds.
type Tally struct {
	Builds, Outside                                int
	coverage                                       map[string]hits
	planted, detectable, found, foundAny, alarms   int
	marginal, foundMarginal                        int
	wrong, needless, deserving, released, readings int
	good, goodReleased                             int
}

type hits struct{ hits, n int }

// Run makes the builds from one number up to, but without, another. The same seed
// gives the same builds, however they are shared out.
func Run(seed uint64, from, to int, rules Rules) *Tally {
	t := &Tally{coverage: map[string]hits{}}
	for i := from; i < to; i++ {
		newBuild(seed, uint64(i), &rules).run(t)
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
	t.marginal += o.marginal
	t.foundMarginal += o.foundMarginal
	t.good += o.good
	t.goodReleased += o.goodReleased
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
	Marginal    Share   `json:"marginal"`  // found, of those between once and twice the smallest that would be found
	Overall     Share   `json:"overall"`   // found, of all planted
	PerBuild    float64 `json:"false_alarms_per_build"`
	FalseAlarms int     `json:"false_alarms"`
	Share       float64 `json:"share"` // of the detectable that were found
	Low         float64 `json:"low"`
	High        float64 `json:"high"`
}

// Wrong are the releases of builds that lie outside a limit, of all builds and of those
// that were released.
type Wrong struct {
	Share
	PerReleased Share `json:"per_released"`
}

// Report is what is said of a run.
type Report struct {
	World            string           `json:"world"`
	Builds           int              `json:"builds"`
	Seed             uint64           `json:"seed"`
	Errors           string           `json:"errors"`
	Outside          Share            `json:"outside"` // truly outside some limit
	Released         Share            `json:"released"`
	Coverage         map[string]Share `json:"coverage"`
	Blunders         Blunders         `json:"blunders"`
	WrongReleases    Wrong            `json:"wrong_releases"`
	GoodReleased     Share            `json:"good_released"` // of the builds that are truly inside every limit
	NeedlessRefusals Share            `json:"needless_refusals"`
	ReadingsPerBuild float64          `json:"readings_per_build"`
}

// Report works the tally out. Wrong releases are of all builds; needless refusals of
// those that lie inside every limit by more than 2U.
func (t *Tally) Report(seed uint64, rules Rules) Report {
	r := Report{World: rules.World.Name, Builds: t.Builds, Seed: seed, Errors: map[Errors]string{Normal: "normal", Rectangular: "rectangular"}[rules.Errors], Coverage: map[string]Share{}}
	r.Outside, r.Released = shareOf(t.Outside, t.Builds), shareOf(t.released, t.Builds)
	for name, h := range t.coverage {
		r.Coverage[name] = shareOf(h.hits, h.n)
	}
	found := shareOf(t.found, t.detectable)
	r.Blunders = Blunders{Planted: t.planted, Detectable: t.detectable, Found: t.found, FoundAny: t.foundAny, FalseAlarms: t.alarms,
		Marginal: shareOf(t.foundMarginal, t.marginal), Overall: shareOf(t.foundAny, t.planted), Share: found.Share, Low: found.Low, High: found.High}
	r.WrongReleases = Wrong{shareOf(t.wrong, t.Builds), shareOf(t.wrong, t.released)}
	r.GoodReleased, r.NeedlessRefusals = shareOf(t.goodReleased, t.good), shareOf(t.needless, t.deserving)
	if t.Builds > 0 {
		r.Blunders.PerBuild = float64(t.alarms) / float64(t.Builds)
		r.ReadingsPerBuild = float64(t.readings) / float64(t.Builds)
	}
	return r
}
