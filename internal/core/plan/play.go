package plan

import (
	"math"
	"math/rand/v2"
	"slices"

	"gonum.org/v1/gonum/stat/distuv"
)

// What is not known of a build before its own months tell, by docs/plan.md.
const (
	stepSigma     = 0.25 // of a step whose hours are one number
	paceSigma     = 0.30 // of the builder's pace, with fewer than four months of record
	monthSigma    = 0.15 // of a month's pace, as four months' worth of belief
	kindSigma     = 0.15 // of the pace of a kind of work, before anything of it is done
	kindHours     = 10.0 // estimated hours after which half of that variance is gone
	monthHours    = 5.0  // worked in a month that tells of the pace
	monthsTelling = 4
	leadSigma     = 0.30
	savingSigma   = 0.20
	visitFalls    = 0.15
	visitLater    = 14 // days
	visitsFall    = 3  // times at most
	visitEvery    = 28 // days between visits that are not planned yet
	eveningShare  = 0.10
	eveningMost   = 0.60
	eveningWeeks  = 8
	unplanned     = 0.10
	unplannedFrom = 50.0 // hours of work at steps from which the share of other work is the builder's own
	delayBelief   = 3    // past delays of a supplier weigh n/(n + this)
	daysDrawn     = 20   // times a day of the past is drawn again
)

// draws is what is drawn in a play; all else stands at its mean.
type draws struct {
	pace, work, unplanned, visits, evenings, orders, money bool
	step                                                   int // one more than the only step whose hours are drawn
}

var everything = draws{pace: true, work: true, unplanned: true, visits: true, evenings: true, orders: true, money: true}

// game is a plan as it is played.
type game struct {
	*planner
	seed     uint64
	base     *model // the order of work that is shown
	out      []bool // steps that the plan itself does not end
	last     int64  // when the last step ends in it
	end      int64  // of the horizon
	evenings []evening
	held     [][]Visit // each visit as planned, and put off once, twice, three times
	longest  map[int]int64
	ends     []int64           // horizons, each looked at where the one before was too near
	still    map[int64]present // who is present up to each of them, where neither visits nor evenings are drawn

	// σ of logarithms, and shares
	pace, step, lead, saving float64
	other, falls, missed     float64
	kinds                    []string
	kind                     map[string]float64
	remembered               map[int][]float64 // of single steps, what each play draws
	own                      []float64         // expected hours by the builder's pace; 0 of done steps
	awaited                  bool
}

// game prepares a plan for being played.
func (p Plan) game(way Way, seed uint64) *game {
	s, _ := p.planner()
	g := &game{planner: s, seed: seed, base: s.model, out: make([]bool, len(p.Steps)), end: s.pres.end, longest: map[int]int64{}, last: p.Now}
	if !way.Rule() {
		g.base = s.listed(way.order)
	}
	shown := g.base.schedule()
	g.own = make([]float64, len(p.Steps))
	for i, step := range p.Steps {
		if step.State == Done {
			continue
		}
		g.out[i] = shown.ended[i] < 0
		g.last = max(g.last, shown.ended[i]+s.work.cure[i])
		if g.own[i] = step.Expected(); step.Kind != "" {
			if ratio, ok := s.work.ratio[step.Kind]; ok {
				g.own[i] *= ratio
			}
		}
		if step.Whole {
			if _, known := g.longest[step.People]; !known {
				g.longest[step.People] = s.pres.longestOf(step.People)
			}
		}
		g.awaited = g.awaited || !g.out[i] && slices.ContainsFunc(step.Needs, func(o int) bool { return p.Orders[o].Arrived == nil })
	}
	g.evenings = p.evenings(g.end)
	for _, v := range p.Visits {
		list := []Visit{v}
		for k := 1; k <= visitsFall && v.From > p.Now; k++ {
			list = append(list, p.later(v, k*visitLater))
		}
		g.held = append(g.held, list)
	}
	g.learn()
	g.still = map[int64]present{}
	for _, times := range []int64{1, 5} {
		g.ends = append(g.ends, min(g.end, g.last+times*(g.last-p.Now+100*1440)))
	}
	g.ends = append(g.ends, g.end)
	for _, end := range g.ends {
		g.still[end], _ = g.presence(0, draws{}, end)
	}
	return g
}

// longestOf are the minutes of the longest stretch with so many people.
func (p present) longestOf(people int) int64 {
	long := int64(0)
	for _, s := range p.stays {
		if s.people >= people {
			long = max(long, s.to-s.from)
		}
	}
	return long
}

// later is a visit some days later, at the same time of the day.
func (p Plan) later(v Visit, days int) Visit {
	t := p.Zone.Time(v.From)
	from, _ := p.Zone.at(p.Zone.date(v.From)+Date(days), t.Hour()*60+t.Minute())
	v.From, v.To = from, from+v.To-v.From
	return v
}

// learn takes from the record what it tells of the doubts, and what is said of them.
func (g *game) learn() {
	p, said := g.Plan, g.Risk
	g.step, g.lead, g.saving, g.falls = or(said.Step, stepSigma), or(said.Lead, leadSigma), or(said.Savings, savingSigma), or(said.Visit, visitFalls)
	g.pace, g.other, g.missed = or(said.Pace, g.paceDoubt()), or(said.Unplanned, p.unplannedShare()), or(said.Evening, p.missedShare())
	estimated := map[string]float64{}
	for _, one := range p.paces(g.worked) {
		estimated[one.Kind] = one.Estimated
	}
	g.kind = map[string]float64{}
	for _, s := range p.Steps {
		if _, known := g.kind[s.Kind]; !known && s.Kind != "" && s.State != Done {
			g.kind[s.Kind] = or(said.Kind, kindSigma*math.Sqrt(kindHours/(kindHours+estimated[s.Kind])))
			g.kinds = append(g.kinds, s.Kind)
		}
	}
}

func or(said *float64, known float64) float64 {
	if said != nil {
		return *said
	}
	return known
}

// paceDoubt is the standard deviation of the logarithm of the builder's pace over the months that
// are left: by how the months of the record differ, and how many there are.
func (g *game) paceDoubt() float64 {
	type month struct{ took, expected float64 }
	of := map[int]month{}
	for i, end := range g.Plan.lastBuilt() {
		s := g.Steps[i]
		if s.State != Done || end < 0 || g.worked[i] == 0 {
			continue
		}
		e := s.Expected()
		if ratio, ok := g.work.ratio[s.Kind]; ok && s.Kind != "" {
			e *= ratio
		}
		day := g.Zone.date(end).time()
		at := 12*day.Year() + int(day.Month())
		of[at] = month{of[at].took + g.worked[i], of[at].expected + e}
	}
	var logs []float64
	for _, m := range of {
		if m.took >= monthHours {
			logs = append(logs, math.Log(m.took/m.expected))
		}
	}
	n := float64(len(logs))
	if n < monthsTelling {
		return paceSigma
	}
	slices.Sort(logs) // the same sum, in whatever order the months came
	mean, squares := 0.0, 0.0
	for _, v := range logs {
		mean += v / n
	}
	for _, v := range logs {
		squares += (v - mean) * (v - mean)
	}
	left := max(1, float64(g.last-g.Now)/(1440*365.25/12))
	return math.Sqrt((squares + monthsTelling*monthSigma*monthSigma) / (n + monthsTelling - 1) * (1/n + 1/left))
}

// lastBuilt is when each step was last built at, -1 for never.
func (p Plan) lastBuilt() []int64 {
	out := make([]int64, len(p.Steps))
	for i := range out {
		out[i] = -1
	}
	for _, s := range p.Sessions {
		if s.Step >= 0 && s.Category == "build" {
			out[s.Step] = max(out[s.Step], s.To)
		}
	}
	return out
}

// unplannedShare is what rework and work without a step take beside an hour of work at a step, by
// the builder's last twelve months.
func (p Plan) unplannedShare() float64 {
	from, planned, other := p.Zone.yearsOn(p.Now, -1), int64(0), int64(0)
	for _, one := range p.spans() {
		s, minutes := p.Sessions[one.session], one.to-max(one.from, from)
		switch {
		case s.Who != p.Builder || minutes <= 0:
		case s.Category == "rework" || s.Category == "build" && s.Step < 0:
			other += minutes
		case s.Category == "build":
			planned += minutes
		}
	}
	if hours(planned) < unplannedFrom {
		return unplanned
	}
	return float64(other) / float64(planned)
}

// missedShare is what of the week's stretches the builder did not come to, over his last twelve
// whole months since the record begins.
func (p Plan) missedShare() float64 {
	first := int64(never)
	for _, s := range p.Sessions {
		if s.Who == p.Builder {
			first = min(first, s.From)
		}
	}
	if first == never {
		return eveningShare
	}
	now, begun := p.Zone.date(p.Now).time(), p.Zone.date(first).time()
	to := dateOf(now.Year(), now.Month(), 1)
	from := max(dateOf(now.Year(), now.Month()-12, 1), dateOf(begun.Year(), begun.Month(), 1))
	if begun.Day() > 1 && from == dateOf(begun.Year(), begun.Month(), 1) {
		from = dateOf(begun.Year(), begun.Month()+1, 1)
	}
	days, planned := 0, int64(0)
	for d := from; d < to; d++ {
		if !p.isAway(d) {
			days++
			planned += int64(p.Week[d.time().Weekday()].Minutes)
		}
	}
	if days < 7*eveningWeeks || planned == 0 {
		return eveningShare
	}
	worked := int64(0)
	begins, _ := p.Zone.at(from, 0)
	ends, _ := p.Zone.at(to, 0)
	for _, one := range p.spans() {
		if p.Sessions[one.session].Who == p.Builder && !p.isAway(p.Zone.date(one.from)) {
			worked += max(0, min(one.to, ends)-max(one.from, begins))
		}
	}
	return min(max(0, 1-float64(worked)/float64(planned)), eveningMost)
}

// group is what is tried for its part in the band.
type group struct {
	what  string
	draws draws
}

// groups are the doubts that this plan has.
func (g *game) groups() (out []group) {
	add := func(there bool, what string, d draws) {
		if there {
			out = append(out, group{what, d})
		}
	}
	varied := slices.ContainsFunc(g.kinds, func(k string) bool { return g.kind[k] > 0 })
	add(g.pace > 0 || varied, "pace", draws{pace: true})
	add(g.scatters(), "work", draws{work: true})
	add(g.other > 0, "unplanned", draws{unplanned: true})
	add(g.falls > 0 && slices.ContainsFunc(g.held, func(v []Visit) bool { return len(v) > 1 }), "visits", draws{visits: true})
	add(g.missed > 0 && len(g.evenings) > 0, "evenings", draws{evenings: true})
	add(g.awaited && (g.Risk.Lead == nil || *g.Risk.Lead > 0), "orders", draws{orders: true})
	add(g.saving > 0 && g.Money != nil && g.Money.PerMonth > 0, "money", draws{money: true})
	return out
}

// scatters tells whether steps are drawn at all.
func (g *game) scatters() bool { return g.Risk.Step == nil || *g.Risk.Step > 0 }

// The kinds of doubt, each a stream of its own.
const (
	ofPace uint64 = iota + 1
	ofWork
	ofUnplanned
	ofVisits
	ofEvenings
	ofOrders
	ofMoney
)

// stream is the random numbers of one kind of doubt in one play.
func (g *game) stream(k int, kind uint64) *rand.Rand {
	return rand.New(rand.NewPCG(mixed(g.seed+kind*0x9e3779b97f4a7c15), mixed(uint64(k)<<4|kind)))
}

// mixed spreads the bits of a number over all of it (the finisher of SplitMix64).
func mixed(v uint64) uint64 {
	v = (v ^ v>>30) * 0xbf58476d1ce4e5b9
	v = (v ^ v>>27) * 0x94d049bb133111eb
	return v ^ v>>31
}

// lognormal has the mean 1, and is rounded to a billionth.
func lognormal(r *rand.Rand, sigma float64) float64 {
	z := r.NormFloat64()
	return tidy(math.Exp(sigma*z - sigma*sigma/2))
}

// play is how one play came out.
type play struct {
	finish int64 // never where something is left
	reason string
	at     int // the step that the reason is of
	extra  bool
	chain  []int // of steps, from the one that ended last back to now
}

// play plays the plan once.
func (g *game) play(k int, d draws) play {
	m := *g.base
	m.out = g.out
	g.drawWork(&m, k, d)
	if d.orders {
		m.counts = g.drawOrders(k)
	}
	if d.money && g.Money != nil {
		m.paid = g.drawMoney(k)
	}
	if reason, at := g.hopeless(&m); reason != "" {
		return play{finish: never, reason: reason, at: at}
	}
	for _, end := range g.ends {
		run := g.run(&m, k, d, end)
		out := play{extra: run.extra}
		left := -1
		for i, s := range m.Steps {
			if s.State != Done && !g.out[i] && run.ended[i] < 0 {
				left = i
				break
			}
		}
		if left < 0 {
			finish, last := g.finished(&m, run)
			if out.finish = finish; d == everything {
				out.chain = g.chain(&m, run, last)
			}
			return out
		}
		if end == g.end {
			out.finish = never
			out.reason, out.at = g.reason(&m, run)
			return out
		}
	}
	return play{finish: never}
}

// run makes the schedule of a play up to a horizon.
func (g *game) run(m *model, k int, d draws, end int64) outcome {
	m.more = true
	still, known := g.still[end]
	switch {
	case known && !d.visits && !d.evenings:
		m.pres, m.Visits = still, g.Visits
	default:
		m.pres, m.Visits = g.presence(k, d, end)
	}
	return m.schedule()
}

// presence is who is in the shop when, in a play.
func (g *game) presence(k int, d draws, end int64) (present, []Visit) {
	visits := g.Visits
	if d.visits {
		fall := g.stream(k, ofVisits)
		visits = make([]Visit, len(g.held))
		for i, v := range g.held {
			put := 0
			for put < visitsFall && fall.Float64() < g.falls {
				put++
			}
			visits[i] = v[min(put, len(v)-1)]
		}
	}
	out := present{end: end, week: g.pres.week}
	p := g.Plan
	p.Visits = visits
	p.gather(&out, joined(g.drawEvenings(k, d, end)))
	return out, visits
}

// drawEvenings are the evenings that the builder comes to. Where they are not drawn, every so
// many-th falls away, as the share has it.
func (g *game) drawEvenings(k int, d draws, end int64) []evening {
	n, _ := slices.BinarySearchFunc(g.evenings, end, func(e evening, at int64) int { return compare(e.from, at) })
	all := g.evenings[:n]
	if g.missed == 0 {
		return all
	}
	out := make([]evening, 0, n)
	if !d.evenings {
		lost := 0.5
		for _, e := range all {
			if lost += g.missed; lost >= 1 {
				lost--
				continue
			}
			out = append(out, e)
		}
		return out
	}
	random, share := g.stream(k, ofEvenings), 0.0
	for i, e := range all {
		if i == 0 || e.month != all[i-1].month {
			share = missedIn(random, g.missed)
		}
		if random.Float64() >= share {
			out = append(out, e)
		}
	}
	return out
}

// missedIn draws the share of a month's evenings that fall away: beta with a mean and half of it as
// its standard deviation. From 0.8 there is no such distribution; a month is then missed whole or
// not at all, which is the widest that there is.
func missedIn(random *rand.Rand, mean float64) float64 {
	both := 4*(1-mean)/mean - 1
	if both <= 0 {
		if random.Float64() < mean {
			return 1
		}
		return 0
	}
	return tidy(distuv.Beta{Alpha: mean * both, Beta: (1 - mean) * both, Src: random}.Rand())
}

// drawWork draws what is left of each step.
func (g *game) drawWork(m *model, k int, d draws) {
	common, of := 1.0, map[string]float64{}
	if d.pace {
		random := g.stream(k, ofPace)
		common = lognormal(random, g.pace)
		for _, kind := range g.kinds {
			of[kind] = lognormal(random, g.kind[kind])
		}
	}
	more := 1 + g.other
	if d.unplanned {
		more = 1 + g.other*tidy(0.5+g.stream(k, ofUnplanned).Float64())
	}
	var random *rand.Rand
	if d.work && g.scatters() {
		random = g.stream(k, ofWork)
	}
	m.work.remaining, m.rest = make([]int64, len(m.Steps)), nil
	for i, s := range m.Steps {
		if s.State == Done {
			continue
		}
		share := 1.0
		switch {
		case random != nil:
			share = g.scatter(random, s)
		case d.step == i+1:
			share = g.remembered[i][k]
		}
		h := g.own[i] * share * common
		if f, ok := of[s.Kind]; ok {
			h *= f
		}
		minutes := int64(ceil(60 * more * max(h-g.worked[i], 0.1*h)))
		if s.Whole {
			if longest := g.longest[s.People]; minutes > longest && longest > 0 {
				if m.rest == nil {
					m.rest = make([]int64, len(m.Steps))
				}
				m.rest[i], minutes = minutes-longest, longest
			}
		}
		m.work.remaining[i] = minutes
	}
}

// scatter draws how long a step takes against what is expected of it: beta between low and high,
// as the three-point estimate has it, else lognormal.
func (g *game) scatter(random *rand.Rand, s Step) float64 {
	if s.Low == s.High {
		return lognormal(random, g.step)
	}
	span := s.High - s.Low
	v := distuv.Beta{Alpha: 1 + 4*(s.Likely-s.Low)/span, Beta: 1 + 4*(s.High-s.Likely)/span, Src: random}.Rand()
	return tidy((s.Low + v*span) / s.Expected())
}

// remember keeps what single steps draw in each of n plays, so that they can be tried alone.
func (g *game) remember(n int, steps []int) {
	g.remembered = map[int][]float64{}
	for _, i := range steps {
		g.remembered[i] = make([]float64, n)
	}
	spread(n, func(k int) {
		random := g.stream(k, ofWork)
		for i, s := range g.Steps {
			if s.State == Done {
				continue
			}
			share := g.scatter(random, s)
			if kept, ok := g.remembered[i]; ok {
				kept[k] = share
			}
		}
	})
}

// drawOrders draws from which minute each order counts.
func (g *game) drawOrders(k int) []int64 {
	counts := slices.Clone(g.base.counts)
	if g.Risk.Lead != nil && *g.Risk.Lead == 0 {
		return counts
	}
	random := g.stream(k, ofOrders)
	type come struct {
		late   int
		asLate bool // as late as one of before
		factor float64
	}
	draw := func(delays []int) (c come) {
		n := float64(len(delays))
		u, v := random.Float64(), random.Float64()
		c.factor = lognormal(random, g.lead)
		if c.asLate = u < n/(n+delayBelief); c.asLate {
			c.late = delays[int(v*n)]
		}
		return c
	}
	delays, of := map[string][]int{}, map[string]come{}
	for _, s := range g.Suppliers {
		delays[s.ID] = s.Delays
		of[s.ID] = draw(s.Delays)
	}
	for i, o := range g.Orders {
		if o.Arrived != nil || counts[i] == never {
			continue
		}
		from, base := g.today, g.base0(o)
		if o.Asked != nil {
			from = *o.Asked
		}
		c, known := of[o.Supplier]
		if !known {
			c = draw(nil)
		}
		day := Date(0)
		for again := 0; ; again++ {
			if day = from + Date(math.Round(float64(base-from)*c.factor)); c.asLate {
				day = base + Date(c.late)
			}
			if day > g.today {
				break
			}
			if again == daysDrawn {
				day = g.today + 1 + Date(7*random.ExpFloat64())
				break
			}
			c = draw(delays[o.Supplier])
		}
		counts[i], _ = g.Zone.at(day+1, 0)
	}
	return counts
}

// base0 is when an order would come without any delay; it is expected at all.
func (g *game) base0(o Order) Date {
	switch {
	case o.Promised != nil:
		return *o.Promised
	case o.Asked != nil:
		return *o.Asked + Date(*o.Lead)
	}
	return g.today + Date(*o.Lead)
}

// drawMoney draws from which minute each stage counts.
func (g *game) drawMoney(k int) []int64 {
	p, m := g.Plan, *g.Money
	m.PerMonth = int64(math.Round(float64(m.PerMonth) * lognormal(g.stream(k, ofMoney), g.saving)))
	p.Money = &m
	other := &planner{today: g.today}
	_, paid := other.expect(p)
	return paid
}

// hopeless is why a play can never end, before it is played; "" where it can.
func (g *game) hopeless(m *model) (reason string, at int) {
	for i, s := range m.Steps {
		switch {
		case s.State == Done || g.out[i]:
		case g.Money != nil && slices.ContainsFunc(g.unpaidFor(i), func(k int) bool { return m.paid[k] == never }):
			return "money", i
		}
	}
	return "", 0
}

// reason is the first reason, beside what waits for others, for which a step is left.
func (g *game) reason(m *model, run outcome) (reason string, at int) {
	s := *g.planner
	s.model, s.run = m, run
	left := make([]bool, len(m.Steps))
	for i, step := range m.Steps {
		left[i] = step.State != Done && !g.out[i] && run.ended[i] < 0
	}
	for i := range m.Steps {
		if left[i] {
			if why := s.why(i, left); why != "after" {
				return why, i
			}
		}
	}
	return "after", slices.Index(left, true)
}

// finished is when a play is finished, and its last step, -1 where that is now.
func (g *game) finished(m *model, run outcome) (finish int64, last int) {
	finish, last = g.Now, -1
	for i, s := range m.Steps {
		end := int64(-1)
		switch {
		case s.State == Done && s.Ended != nil:
			end = *s.Ended + m.work.cure[i]
		case s.State != Done && run.ended[i] >= 0:
			end = run.ended[i] + m.work.cure[i]
		}
		if end > finish {
			finish, last = end, i
		}
	}
	return finish, last
}

// chain are the steps that a play hung on: from the one that ended last back, each time to the step
// that it waited for, or to what was worked on before it.
func (g *game) chain(m *model, run outcome, last int) (chain []int) {
	for at := last; at >= 0 && m.Steps[at].State != Done && len(chain) <= len(m.Steps); {
		chain = append(chain, at)
		at = g.cause(m, run, at)
	}
	return chain
}

// cause is what a step waited for before it was begun; -1 where it was nothing of the builder's.
func (g *game) cause(m *model, run outcome, step int) int {
	if run.begun[step] > run.ready[step] {
		k, _ := slices.BinarySearchFunc(run.stints, run.begun[step], func(s stint, at int64) int { return compare(s.from, at) })
		if k > 0 && run.stints[k-1].step != step && run.stints[k-1].to > run.ready[step] {
			return run.stints[k-1].step
		}
	}
	for _, b := range m.net.predecessors(step) {
		if m.Steps[b].State != Done && run.ended[b]+m.work.cure[b] == run.ready[step] {
			return b
		}
	}
	return -1
}
