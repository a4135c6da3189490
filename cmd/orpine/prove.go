package main

import (
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"runtime"
	"runtime/debug"
	"slices"
	"sync"

	"github.com/spf13/cobra"

	"orpine/internal/core/plan"
	"orpine/internal/core/sim"
)

// proveCommand runs the simulated shop.
func proveCommand() *cobra.Command {
	var builds int
	var seed uint64
	var asJSON, rectangular, planned, kinds bool
	var builders int
	var world string
	c := &cobra.Command{
		Use:   "prove",
		Short: "measure simulated builds with a hidden truth, and report how often the program is right",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			if builds < 1 || builds > 10_000_000 {
				return fmt.Errorf("--builds %d: between 1 and 10,000,000", builds)
			}
			if kinds {
				return proveKinds(cmd.OutOrStdout(), builds, seed, asJSON)
			}
			worlds := map[string]sim.World{"ideal": sim.Ideal, "shop": sim.Shop}
			w, known := worlds[world]
			if !known {
				return fmt.Errorf("--world %s: ideal or shop", world)
			}
			rules := sim.Usual(w)
			if rectangular {
				rules.Errors = sim.Rectangular
			}
			if planned {
				return provePlan(cmd.OutOrStdout(), builders, seed, asJSON)
			}
			report := prove(builds, seed, rules)
			if asJSON {
				e := json.NewEncoder(cmd.OutOrStdout())
				e.SetIndent("", "  ")
				return e.Encode(report)
			}
			return writeReport(cmd.OutOrStdout(), report)
		},
	}
	c.Flags().IntVar(&builds, "builds", 1000, "how many builds")
	c.Flags().Uint64Var(&seed, "seed", 1, "the same seed gives the same builds")
	c.Flags().StringVar(&world, "world", "shop", "ideal: as the program assumes; shop: with all that a shop does to readings")
	c.Flags().BoolVar(&planned, "plan", false, "prove the order of work instead: simulated builders with a hidden pace")
	c.Flags().BoolVar(&kinds, "kinds", false, "prove every kind of check by itself, in three worlds, the moves carried out; --builds trials of each")
	c.Flags().IntVar(&builders, "builders", 2000, "with --plan: how many")
	c.Flags().BoolVar(&asJSON, "json", false, "print the report as JSON")
	c.Flags().BoolVar(&rectangular, "rectangular", false, "draw the instruments' constant errors evenly within their bounds")
	return c
}

// proveKinds tries every kind in every world.
func proveKinds(w io.Writer, trials int, seed uint64, asJSON bool) error {
	debug.SetGCPercent(400)
	var all []*sim.Proof
	for i := range sim.Evenings {
		fmt.Fprintf(w, "%s world, %d trials of each kind, seed %d; bounds are 95 %%\n\n", sim.Evenings[i].Name, trials, seed)
		fmt.Fprintf(w, "%-18s %8s %24s %17s %15s %17s %9s %9s\n", "", "possible", "wrong, of those released", "in the margin", "coverage", "of the possible", "moved", "readings")
		together := &sim.Proof{Kind: "together", World: sim.Evenings[i].Name}
		for _, k := range sim.Kinds {
			p := proveKind(k, &sim.Evenings[i], seed, trials)
			together.Add(p)
			all = append(all, p.Worked())
			proofLine(w, p)
		}
		proofLine(w, together.Worked())
		fmt.Fprintln(w)
	}
	if asJSON {
		return json.NewEncoder(w).Encode(all)
	}
	return nil
}

func proofLine(w io.Writer, p *sim.Proof) {
	percent := func(s sim.Share, n int) string {
		if n == 0 {
			return "–"
		}
		return fmt.Sprintf("%.1f (%.1f to %.1f)", 100*s.Share, 100*s.Low, 100*s.High)
	}
	released, margin, carried := p.Counts()
	fmt.Fprintf(w, "%-18s %6.1f %% %5d of %5d %s %s %s %s %s %6.1f\n", p.Kind, 100*p.Possible, p.Wrong.Count, released, percent(p.Wrong, released), percent(p.Marginal, margin), percent(p.Coverage, 1), percent(p.Good, 1), percent(p.Converged, carried), p.Readings)
}

// proveKind shares the trials out among the processors.
func proveKind(k sim.Kind, world *sim.Evening, seed uint64, trials int) *sim.Proof {
	workers := runtime.NumCPU()
	parts := make([]*sim.Proof, workers)
	var all sync.WaitGroup
	for i := range workers {
		all.Go(func() { parts[i] = sim.ProveKind(k, world, seed, trials*i/workers, trials*(i+1)/workers) })
	}
	all.Wait()
	for _, p := range parts[1:] {
		parts[0].Add(p)
	}
	return parts[0]
}

// smallPlans is of how many the best order is searched.
const smallPlans = 500

func provePlan(w io.Writer, builders int, seed uint64, asJSON bool) error {
	if builders < 1 || builders > 1_000_000 {
		return fmt.Errorf("--builders %d: between 1 and 1,000,000", builders)
	}
	t := plan.Try(builders, min(smallPlans, builders), seed)
	if asJSON {
		e := json.NewEncoder(w)
		e.SetIndent("", "  ")
		return e.Encode(t)
	}
	fmt.Fprintf(w, "%d builders, seed %d; bounds are 95 %%\n\n", t.Builders, t.Seed)
	percent := func(s plan.Share) string {
		return fmt.Sprintf("%.1f %% (%.1f to %.1f)", 100*s.Share, 100*s.Low, 100*s.High)
	}
	fmt.Fprintf(w, "%-34s %-24s %-24s %-24s %s\n", "", "between 10 and 90 %", "earlier than 10 %", "first driver is it", "width")
	for _, one := range []struct {
		name string
		plan.Holding
	}{{"with a year of record", t.Year}, {"without a record", t.New}, {"a fifth slower, with a year", t.SlowYear}, {"a fifth slower, without a record", t.SlowNew}} {
		fmt.Fprintf(w, "%-34s %-24s %-24s %-24s %.2f\n", one.name, percent(one.Band), percent(one.Early), percent(one.Drivers), one.Width)
	}
	fmt.Fprintf(w, "\nhelpers stand idle for %d min in all plans, by the rule for %d\n", t.Idle, t.IdleRule)
	fmt.Fprintf(w, "finished later than the best order that a search found, of %d small plans:\n", t.Orders)
	for _, one := range []struct {
		name string
		plan.Loss
	}{{"as advised", t.Ours}, {"by the rule of the format", t.Rule}, {"in the document's order", t.Document}, {"the longest first", t.Longest}} {
		if _, err := fmt.Fprintf(w, "  %-24s %5.1f %% on the mean, %5.1f %% at worst, never better %d times\n", one.name, 100*one.Mean, 100*one.Worst, one.Best); err != nil {
			return err
		}
	}
	return nil
}

// prove shares the builds out among the processors; the result does not depend on how.
func prove(builds int, seed uint64, rules sim.Rules) sim.Report {
	debug.SetGCPercent(400) // many small solves, and memory to spare
	workers := runtime.NumCPU()
	tallies := make([]*sim.Tally, workers)
	var all sync.WaitGroup
	for i := range workers {
		all.Go(func() {
			tallies[i] = sim.Run(seed, builds*i/workers, builds*(i+1)/workers, rules)
		})
	}
	all.Wait()
	for _, t := range tallies[1:] {
		tallies[0].Add(t)
	}
	return tallies[0].Report(seed, rules)
}

func writeReport(w io.Writer, r sim.Report) error {
	percent := func(s sim.Share) string {
		return fmt.Sprintf("%.2f %% (%.2f to %.2f)", 100*s.Share, 100*s.Low, 100*s.High)
	}
	fmt.Fprintf(w, "%s world, %d builds, seed %d, %s constant errors; bounds are 95 %%\n\n", r.World, r.Builds, r.Seed, r.Errors)
	fmt.Fprintf(w, "truly outside a limit       %s\n", percent(r.Outside))
	fmt.Fprintf(w, "released                    %s\n", percent(r.Released))
	fmt.Fprintf(w, "wrong releases       %6d  %s of all builds\n", r.WrongReleases.Count, percent(r.WrongReleases.Share))
	fmt.Fprintf(w, "                             %s of those released\n", percent(r.WrongReleases.PerReleased))
	fmt.Fprintf(w, "good builds released %6d  %s of those truly inside every limit; the rest was refused\n", r.GoodReleased.Count, percent(r.GoodReleased))
	fmt.Fprintf(w, "needless refusals    %6d  %s of builds inside every limit by more than 2U\n", r.NeedlessRefusals.Count, percent(r.NeedlessRefusals))
	b := r.Blunders
	fmt.Fprintf(w, "blunders planted     %6d, found %d\n", b.Planted, b.FoundAny)
	fmt.Fprintf(w, "  twice detectable   %6d, found %d: %.1f %% (%.1f to %.1f)\n", b.Detectable, b.Found, 100*b.Share, 100*b.Low, 100*b.High)
	fmt.Fprintf(w, "  once to twice              %s\n  all                        %s\n", percent(b.Marginal), percent(b.Overall))
	fmt.Fprintf(w, "blamed without cause %6d readings, %.3f a build\n", b.FalseAlarms, b.PerBuild)
	fmt.Fprintf(w, "readings per build   %6.1f\n\nwhat the 95 %% intervals, value ± 1.96 u, cover:\n", r.ReadingsPerBuild)
	for _, name := range slices.Sorted(maps.Keys(r.Coverage)) {
		if _, err := fmt.Fprintf(w, "  %-12s %s\n", name, percent(r.Coverage[name])); err != nil {
			return err
		}
	}
	return nil
}
