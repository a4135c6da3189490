// Package coating keeps makers' tables of what hardens, and the clocks that run: pot life,
// coats with their windows, cures, tanks under test. Clocks follow from what was entered, so
// they go on while the program is not running.
package coating

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"orpine/internal/airframe"
	"orpine/internal/core/cure"
	"orpine/internal/core/say"
	"orpine/internal/core/spoken"
	"orpine/internal/core/stock"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Coating is the clocks of a workshop.
type Coating struct{ ledger *ledger.Ledger }

// New returns them.
func New(l *ledger.Ledger) *Coating { return &Coating{l} }

// Capability is what the package brings to the ledger.
var Capability = ledger.Capability{
	Name:   "coating",
	Tables: ledger.Records("materials", "clocks"),
	Kinds:  ledger.Kinds(materialAdded, clockStarted, clockPassed, clockEnded),
}

// Material is what hardens, with its maker's table.
type Material struct {
	ID, Name      string
	Lines         []cure.Line // in order of temperature
	Least, Most   int         // passes
	Stop, Caution string
}

// Columns are those of a maker's table, as it is typed: temperature, then durations.
var Columns = []string{"at, °C", "pot life", "next coat from", "until", "dry to handle", "full cure"}

// NewMaterial is a maker's table as it is typed.
type NewMaterial struct {
	ledger.Form
	Name    string `json:"name" form:"name"`
	Table   string `json:"table" form:"-" text:"lines"` // lines of Columns
	Least   string `json:"least,omitempty" form:"least"`
	Most    string `json:"most,omitempty" form:"most"`
	Stop    string `json:"stop,omitempty" form:"stop" text:"lines"`
	Caution string `json:"caution,omitempty" form:"caution" text:"lines"`
}

// tabled is a maker's table as it was understood.
type tabled struct {
	Name    string          `json:"name,omitempty"`
	Lines   json.RawMessage `json:"lines"`
	Least   int64           `json:"least"`
	Most    int64           `json:"most"`
	Stop    string          `json:"stop,omitempty"`
	Caution string          `json:"caution,omitempty"`
}

var materialAdded = &ledger.Kind[NewMaterial, tabled]{
	Name: "material", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewMaterial, f tabled) error {
		return q.AddMaterial(ctx, query.AddMaterialParams{ID: e.ID, Name: n.Name, Lines: string(f.Lines), Least: f.Least, Most: f.Most, Stop: n.Stop, Caution: n.Caution, Entry: e.Seq, Revised: e.Seq})
	},
	Words: func(n NewMaterial, _ tabled) ledger.Words {
		return ledger.Words{What: "maker's table added: " + n.Name, Detail: n.Stop}
	},
	Travel: ledger.Travel[NewMaterial, tabled]{Shared: func(id string, _ NewMaterial) []string { return []string{id} }},
}

// AddMaterial keeps a maker's table. Problems are at "name", "table", "least" and "most".
func (c *Coating) AddMaterial(ctx context.Context, n NewMaterial) error {
	wrong := ledger.Problems{}
	f := n.read(wrong)
	_, err := ledger.Do(ctx, c.ledger, materialAdded, n.Form, n, func(q *query.Queries) (tabled, error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		list, err := Materials(ctx, q)
		if slices.ContainsFunc(list, func(m Material) bool { return strings.EqualFold(m.Name, n.Name) }) {
			return f, ledger.Problems{"name": "there is a table of that name already"}
		}
		return f, err
	})
	return err
}

// read reads a table as it is typed.
func (n *NewMaterial) read(wrong ledger.Problems) (f tabled) {
	wrong.Text("name", &n.Name, ledger.MaxName, "which resin, primer or sealant is it?")
	wrong.Text("stop", &n.Stop, ledger.MaxNote, "")
	wrong.Text("caution", &n.Caution, ledger.MaxNote, "")
	f.Least, f.Most = 1, 1
	for _, one := range []struct {
		field, text string
		into        *int64
	}{{"least", n.Least, &f.Least}, {"most", n.Most, &f.Most}} {
		if text := strings.TrimSpace(one.text); text != "" {
			v, err := strconv.Atoi(text)
			if err != nil || v < 1 || v > 50 {
				wrong.Add(one.field, "how many? A whole number from 1 to 50")
			}
			*one.into = int64(v)
		}
	}
	if f.Most < f.Least {
		if strings.TrimSpace(n.Most) != "" {
			wrong.Add("most", "is fewer than the least")
		}
		f.Most = f.Least
	}
	lines, err := readTable(n.Table)
	if err != nil {
		wrong.Add("table", err.Error())
	}
	f.Lines, _ = json.Marshal(lines) // plain numbers
	return f
}

// readTable reads the lines of a maker's table.
func readTable(text string) ([]cure.Line, error) {
	var out []cure.Line
	for i, line := range strings.Split(text, "\n") {
		if strings.TrimSpace(line) == "" {
			continue
		}
		cells := strings.Split(line, ";")
		at, err := Celsius(cells[0])
		if err != nil {
			return nil, fmt.Errorf("line %d: %w", i+1, err)
		}
		l := cure.Line{At: at}
		for k, into := range []*float64{&l.Pot, &l.From, &l.Until, &l.Handle, &l.Full} {
			if k+1 >= len(cells) || strings.TrimSpace(cells[k+1]) == "" {
				continue
			}
			if *into, err = Hours(cells[k+1]); err != nil {
				return nil, fmt.Errorf("line %d, %s: %w", i+1, Columns[k+1], err)
			}
		}
		if l.Until > 0 && l.Until <= l.From {
			return nil, fmt.Errorf("line %d: the next coat ends before it begins", i+1)
		}
		if l.Lasts == (cure.Lasts{}) {
			return nil, fmt.Errorf("line %d says no duration", i+1)
		}
		out = append(out, l)
	}
	slices.SortFunc(out, func(a, b cure.Line) int { return cmp.Compare(a.At, b.At) })
	for i := range out {
		if i > 0 && out[i].At == out[i-1].At {
			return nil, fmt.Errorf("%s stands in two lines", say.Temperature(out[i].At))
		}
	}
	if len(out) == 0 {
		return nil, fmt.Errorf("one line at least: at which temperature, and how long it takes")
	}
	return out, nil
}

// Celsius reads a temperature: "17", "17 °C", "62 °F".
func Celsius(text string) (float64, error) {
	v, err := spoken.Celsius(text)
	if err != nil || !(v >= -50 && v <= 100) {
		return 0, fmt.Errorf("%q is no temperature of a shop: 17 °C or 62 °F", strings.TrimSpace(text))
	}
	return math.Round(v*10) / 10, nil
}

// Hours reads a duration: "30 min", "8 h", "2 d"; a bare number is hours.
func Hours(text string) (float64, error) {
	text = strings.ToLower(strings.TrimSpace(text))
	if days, ok := strings.CutSuffix(strings.TrimSuffix(text, "ays"), "d"); ok {
		v, err := strconv.ParseFloat(strings.Replace(strings.TrimSpace(days), ",", ".", 1), 64)
		if err == nil && v > 0 && v < 1000 {
			return v * 24, nil
		}
	}
	if v, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64); err == nil && v > 0 && v < 10_000 {
		return v, nil
	}
	minutes, err := spoken.Minutes(text)
	if err != nil || minutes == 0 {
		return 0, fmt.Errorf("%q: how long, as in 30 min, 8 h or 2 d", text)
	}
	return float64(minutes) / 60, nil
}

// Spoken writes hours as they are read.
func Spoken(h float64) string {
	switch minutes := int(math.Round(h * 60)); {
	case h <= 0:
		return ""
	case minutes < 120:
		return fmt.Sprintf("%d min", minutes)
	case minutes%60 == 0:
		return fmt.Sprintf("%d h", minutes/60)
	}
	return strconv.FormatFloat(math.Round(h*100)/100, 'f', -1, 64) + " h"
}

// Materials are all of a workshop, by name.
func Materials(ctx context.Context, q *query.Queries) ([]Material, error) {
	rows, err := q.Materials(ctx)
	if err != nil {
		return nil, fmt.Errorf("reading the makers' tables: %w", err)
	}
	out := make([]Material, len(rows))
	for i, r := range rows {
		if out[i], err = materialOf(r); err != nil {
			return nil, err
		}
	}
	return out, nil
}

func materialOf(r query.Material) (Material, error) {
	m := Material{ID: r.ID, Name: r.Name, Least: int(r.Least), Most: int(r.Most), Stop: r.Stop, Caution: r.Caution}
	if err := json.Unmarshal([]byte(r.Lines), &m.Lines); err != nil {
		return m, fmt.Errorf("reading the table of %s: %w", r.Name, err)
	}
	return m, nil
}

// Clock is one that runs, or ran.
type Clock struct {
	ID, AirframeID, AssemblyID, StepID string
	Material                           string // id
	Temperature                        float64
	cure.Clock
	Ended   time.Time
	Outcome string
	Revised int64
}

// Running tells whether it runs.
func (c Clock) Running() bool { return c.Ended.IsZero() }

// Began is when it was started.
func (c Clock) Began() time.Time { return c.Passes[0].At }

// NewClock starts one.
type NewClock struct {
	ledger.Form
	Airframe    string `json:"airframe" form:"-"`
	Sort        string `json:"sort" form:"sort"`
	What        string `json:"what" form:"what"`
	Material    string `json:"material,omitempty" form:"material"` // id
	Assembly    string `json:"assembly,omitempty" form:"assembly"` // id
	Step        string `json:"step,omitempty" form:"step"`         // id of a step added by hand
	Sides       string `json:"sides,omitempty" form:"sides"`
	Temperature string `json:"temperature" form:"temperature"`
	Began       string `json:"began,omitempty" form:"began"`            // "" for now, "14:20" today, or a day and time
	Full        string `json:"full,omitempty" form:"full"`              // without a table: how long it takes
	Over        string `json:"over,omitempty" form:"over" text:"lines"` // why it goes over what is not done beneath
	Late        string `json:"late,omitempty" form:"late" text:"lines"` // why it is used although its lot is out of date
}

// begun is a clock as it was understood.
type begun struct {
	Sides       int64           `json:"sides"`
	Temperature float64         `json:"temperature"`
	Lasts       json.RawMessage `json:"lasts"`
	Passes      json.RawMessage `json:"passes,omitempty"`
	Least       int64           `json:"least"`
	Material    string          `json:"material"` // its name
	What        string          `json:"what,omitempty"`
}

var clockStarted = &ledger.Kind[NewClock, begun]{
	Name: "clock", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewClock, f begun) error {
		return q.AddClock(ctx, query.AddClockParams{ID: e.ID, AirframeID: n.Airframe, AssemblyID: gate.Reference(n.Assembly), StepID: n.Step, Sort: n.Sort, What: n.What, MaterialID: n.Material, Sides: f.Sides, Temperature: f.Temperature, Lasts: string(f.Lasts), Passes: string(f.Passes), Entry: e.Seq, Revised: e.Seq})
	},
	Words: func(n NewClock, f begun) ledger.Words {
		return ledger.Words{What: "Clock started: " + n.What, Detail: say.Join(n.Sort, f.Material, say.Temperature(f.Temperature).String(), say.After("over what is not done: ", n.Over), say.After("out of date: ", n.Late))}
	},
}

// inDate asks why something is used whose lot in use is out of date.
func (c *Coating) inDate(ctx context.Context, q *query.Queries, airframe, name string, wrong ledger.Problems) error {
	rows, err := q.Boxes(ctx, airframe)
	if err != nil {
		return fmt.Errorf("reading the lots: %w", err)
	}
	var boxes stock.Boxes
	for _, r := range rows {
		boxes = append(boxes, stock.Box{Name: r.Name, Lot: r.Lot, Best: r.Best, Entry: r.Entry, Chosen: r.Chosen != 0})
	}
	if box, ok := boxes.Drawn(name, math.MaxInt64); ok && box.OutOfDate(c.ledger.Now().Format(time.DateOnly)) {
		wrong.Add("late", fmt.Sprintf("%s, lot %s, was best before %s. Draw from another lot, or write why it is used", name, box.Lot, box.Best))
	}
	return nil
}

// Start starts a clock. Problems are by field.
func (c *Coating) Start(ctx context.Context, n NewClock) error {
	wrong := ledger.Problems{}
	wrong.Text("what", &n.What, ledger.MaxName, "what is it: left ribs, 300 g of resin, the left tank?")
	wrong.Text("over", &n.Over, ledger.MaxNote, "")
	wrong.Text("late", &n.Late, ledger.MaxNote, "")
	if !slices.Contains(cure.Sorts, n.Sort) {
		wrong.Add("sort", "a coat, a cure, a mix or a tank?")
	}
	f := begun{Sides: 1}
	if n.Sides == "2" && n.Sort == cure.Coat {
		f.Sides = 2
	}
	at, err := Celsius(n.Temperature)
	if err != nil {
		wrong.Add("temperature", "how warm is the shop? "+err.Error())
	}
	f.Temperature = at
	full := 0.0
	if text := strings.TrimSpace(n.Full); text != "" {
		if full, err = Hours(text); err != nil {
			wrong.Add("full", err.Error())
		}
	}
	if n.Material == "" && full == 0 {
		wrong.Add("full", "by which maker's table, or how long does it take?")
	}
	began := c.when(n.Began, "began", wrong)
	_, err = ledger.Do(ctx, c.ledger, clockStarted, n.Form, n, func(q *query.Queries) (begun, error) {
		if _, err := q.Airframe(ctx, n.Airframe); err != nil {
			return f, ledger.Found(err)
		}
		if n.Assembly != "" {
			if of, _, err := airframe.Of(ctx, q, n.Assembly); err != nil || of.ID != n.Airframe {
				wrong.Add("assembly", "choose an assembly of this aircraft")
			}
		}
		if n.Step != "" {
			if s, err := q.PlanStep(ctx, n.Step); err != nil || s.Withdrawn != "" || s.AirframeID != n.Airframe {
				wrong.Add("step", "choose a step of this aircraft")
			}
		}
		if n.Sort == cure.Coat && n.Assembly != "" && n.Over == "" {
			beneath, err := gate.Beneath(ctx, q, n.Assembly)
			if err != nil {
				return f, err
			}
			if len(beneath) > 0 {
				wrong.Add("over", "beneath it is not done: "+strings.Join(beneath, "; ")+". Coat over it all the same? Write why")
			}
		}
		lasts := cure.Lasts{Full: full}
		if n.Material != "" {
			m, err := q.Material(ctx, n.Material)
			if err != nil || m.Withdrawn != "" {
				wrong.Add("material", "choose one of the list")
				return f, wrong.Err()
			}
			if n.Late == "" {
				if err := c.inDate(ctx, q, n.Airframe, m.Name, wrong); err != nil {
					return f, err
				}
			}
			kept, err := materialOf(m)
			if err != nil {
				return f, err
			}
			f.Material, f.Least, lasts = kept.Name, m.Least, cure.At(kept.Lines, at)
			if full > 0 {
				lasts.Full = full
			}
		}
		if err := wrong.Err(); err != nil {
			return f, err
		}
		var err error
		if f.Lasts, err = json.Marshal(lasts); err != nil {
			return f, err
		}
		f.Passes, err = json.Marshal([]cure.Pass{{Did: cure.Coated, Side: 1, At: began.UTC()}})
		return f, err
	})
	return err
}

// when reads a moment: "" is now, a time is of today, or of yesterday where it is still ahead.
func (c *Coating) when(text, field string, wrong ledger.Problems) time.Time {
	now := c.ledger.Now()
	if text = strings.TrimSpace(text); text == "" {
		return now
	}
	if at, err := time.ParseInLocation("2006-01-02 15:04", strings.Replace(text, "T", " ", 1), now.Location()); err == nil {
		if at.After(now) {
			wrong.Add(field, "is after now")
		}
		return at
	}
	at, err := time.Parse("15:04", text)
	if err != nil {
		wrong.Add(field, "when: 14:20, or 2026-11-24 14:20")
		return now
	}
	on := time.Date(now.Year(), now.Month(), now.Day(), at.Hour(), at.Minute(), 0, 0, now.Location())
	if on.After(now) {
		on = on.AddDate(0, 0, -1)
	}
	return on
}

// ClockPassed is another coat, or the part turned over.
type ClockPassed struct {
	ledger.Form
	Clock       string `json:"clock" form:"-"` // id
	Seen        int64  `json:"seen,omitempty" form:"seen"`
	Did         string `json:"did" form:"did"`
	At          string `json:"at,omitempty" form:"at"`
	Temperature string `json:"temperature,omitempty" form:"temperature"` // "" for as before
	Why         string `json:"why,omitempty" form:"why" text:"lines"`    // although the table says otherwise
}

var clockPassed = &ledger.Kind[ClockPassed, begun]{
	Name: "clock-pass", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n ClockPassed, f begun) error {
		return q.PassClock(ctx, query.PassClockParams{Passes: string(f.Passes), Lasts: string(f.Lasts), Temperature: f.Temperature, Revised: e.Seq, ID: n.Clock})
	},
	Words: func(n ClockPassed, f begun) ledger.Words {
		return ledger.Words{What: strings.ToUpper(n.Did[:1]) + n.Did[1:] + ": " + f.What, Detail: n.Why}
	},
}

// load loads a clock with its material's rule.
func (c *Coating) load(ctx context.Context, q *query.Queries, id string) (Clock, Material, error) {
	r, err := q.Clock(ctx, id)
	if err == nil && r.Withdrawn != "" {
		err = ledger.ErrNotFound
	}
	if err != nil {
		return Clock{}, Material{}, ledger.Found(err)
	}
	var m Material
	if r.MaterialID != "" {
		kept, err := q.Material(ctx, r.MaterialID)
		if err != nil {
			return Clock{}, m, err
		}
		if m, err = materialOf(kept); err != nil {
			return Clock{}, m, err
		}
	}
	k, err := clockOf(r, rule{int64(m.Least), int64(m.Most), m.Stop}, c.ledger.When)
	return k, m, err
}

// rule is how many passes a material wants, and when it is enough.
type rule struct {
	least, most int64
	stop        string
}

func clockOf(r query.Clock, by rule, when func(string) time.Time) (Clock, error) {
	k := Clock{ID: r.ID, AirframeID: r.AirframeID, AssemblyID: r.AssemblyID.String, StepID: r.StepID, Material: r.MaterialID, Temperature: r.Temperature, Outcome: r.Outcome, Revised: r.Revised}
	k.Clock = cure.Clock{Sort: r.Sort, What: r.What, Sides: int(r.Sides), Least: max(1, int(by.least)), Most: max(1, int(by.most)), Stop: by.stop}
	if r.EndedAt != "" {
		k.Ended = when(r.EndedAt)
	}
	if err := json.Unmarshal([]byte(r.Lasts), &k.Lasts); err != nil {
		return k, fmt.Errorf("reading the clock of %s: %w", r.What, err)
	}
	if err := json.Unmarshal([]byte(r.Passes), &k.Passes); err != nil || len(k.Passes) == 0 {
		return k, fmt.Errorf("reading the clock of %s: %w", r.What, err)
	}
	for i := range k.Passes {
		k.Passes[i].At = when(ledger.Kept(k.Passes[i].At))
	}
	return k, nil
}

// Pass records another coat, or that the part was turned over. What the maker's table speaks
// against wants a reason at "why"; the stop rule stands.
func (c *Coating) Pass(ctx context.Context, n ClockPassed) error {
	wrong := ledger.Problems{}
	wrong.Text("why", &n.Why, ledger.MaxNote, "")
	at := c.when(n.At, "at", wrong)
	temperature, given := 0.0, strings.TrimSpace(n.Temperature) != ""
	if given {
		var err error
		if temperature, err = Celsius(n.Temperature); err != nil {
			wrong.Add("temperature", err.Error())
		}
	}
	_, err := ledger.Do(ctx, c.ledger, clockPassed, n.Form, n, func(q *query.Queries) (f begun, err error) {
		k, m, err := c.load(ctx, q, n.Clock)
		switch {
		case err != nil:
			return f, err
		case n.Seen != 0 && n.Seen != k.Revised:
			side, coats := k.OnSide()
			return f, ledger.Moved("it as it was before", fmt.Sprintf("%s on side %d", say.Plural(coats, "coat", "coats"), side))
		case !k.Running():
			return f, ledger.Problems{"": k.What + " is ended: " + k.Outcome}
		}
		if at.Before(k.Passes[len(k.Passes)-1].At) {
			wrong.Add("at", "is before what was done last")
		}
		if why, hard := k.Allow(n.Did, at); why != "" && (hard || n.Why == "") {
			if !hard {
				why += "; if it is done all the same, say why"
			}
			wrong.Add("why", why)
		}
		if err := wrong.Err(); err != nil {
			return f, err
		}
		f.What, f.Temperature = k.What, k.Temperature
		lasts := k.Lasts
		if given {
			f.Temperature = temperature
			if m.ID != "" {
				lasts = cure.At(m.Lines, temperature)
			}
		}
		if f.Lasts, err = json.Marshal(lasts); err != nil {
			return f, err
		}
		after := k.Do(n.Did, at, n.Why).Passes
		for i := range after {
			after[i].At = after[i].At.UTC()
		}
		f.Passes, err = json.Marshal(after)
		return f, err
	})
	return err
}

// ClockEnded ends a clock.
type ClockEnded struct {
	ledger.Form
	Clock   string `json:"clock" form:"-"` // id
	Seen    int64  `json:"seen,omitempty" form:"seen"`
	Outcome string `json:"outcome,omitempty" form:"outcome" text:"lines"`
}

// named is a clock by its name.
type named struct {
	Name string `json:"name"`
	Says string `json:"says,omitempty"`
}

var clockEnded = &ledger.Kind[ClockEnded, named]{
	Name: "clock-ended", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n ClockEnded, f named) error {
		return q.EndClock(ctx, query.EndClockParams{EndedAt: e.At, Outcome: f.Says, Revised: e.Seq, ID: n.Clock})
	},
	Words: func(_ ClockEnded, f named) ledger.Words {
		return ledger.Words{What: "Clock ended: " + f.Name, Detail: f.Says}
	},
}

// End ends a clock: it is enough, used up, cured or read. Before its time, or against its rule,
// it wants to be told at "outcome" what became of it.
func (c *Coating) End(ctx context.Context, n ClockEnded) error {
	wrong := ledger.Problems{}
	wrong.Text("outcome", &n.Outcome, ledger.MaxNote, "")
	_, err := ledger.Do(ctx, c.ledger, clockEnded, n.Form, n, func(q *query.Queries) (f named, err error) {
		k, _, err := c.load(ctx, q, n.Clock)
		switch {
		case err != nil:
			return f, err
		case n.Seen != 0 && n.Seen != k.Revised:
			return f, ledger.Moved("it as it was before", "changed since: look at it again")
		case !k.Running():
			return f, ledger.Problems{"": k.What + " is ended already: " + k.Outcome}
		}
		f = named{k.What, n.Outcome}
		if n.Outcome == "" {
			switch early := k.Enough(); {
			case early != "":
				wrong.Add("outcome", early+": what became of it?")
			case k.Sort == cure.Tank:
				wrong.Add("outcome", "did it hold? Say what was read")
			case k.Sort != cure.Mixed && k.Cured().After(c.ledger.Now()):
				wrong.Add("outcome", "it is cured on "+k.Cured().Format("Mon 2 Jan, 15:04")+": why does its clock end before?")
			default:
				f.Says = map[string]string{cure.Mixed: "used up", cure.Bond: "cured", cure.Coat: "enough, and cured"}[k.Sort]
			}
		}
		return f, wrong.Err()
	})
	return err
}

// Clocks are those of an airframe, the last one first.
func Clocks(ctx context.Context, q *query.Queries, airframe string, when func(string) time.Time) ([]Clock, error) {
	rows, err := q.Clocks(ctx, airframe)
	if err != nil {
		return nil, fmt.Errorf("reading the clocks: %w", err)
	}
	out := make([]Clock, len(rows))
	for i, r := range rows {
		if out[i], err = clockOf(r.Clock, rule{r.Least, r.Most, r.Stop}, when); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// Running are all clocks that run, of all aircraft.
func Running(ctx context.Context, q *query.Queries, when func(string) time.Time) ([]Clock, error) {
	rows, err := q.RunningClocks(ctx)
	if err != nil {
		return nil, fmt.Errorf("reading the clocks: %w", err)
	}
	out := make([]Clock, len(rows))
	for i, r := range rows {
		if out[i], err = clockOf(r.Clock, rule{r.Least, r.Most, r.Stop}, when); err != nil {
			return nil, err
		}
	}
	return out, nil
}
