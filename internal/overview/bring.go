package overview

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"orpine/internal/core/row"
	"orpine/internal/exchange"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/planning"
	"orpine/internal/riveting"
	"orpine/internal/store/query"
	"orpine/internal/stores"
)

// Bringing is a table that is brought in.
type Bringing struct {
	ledger.Form
	Airframe string // id
	Sort     string // of Tables
	Data     string // CSV
}

// Brought is what comes, or would come, of it, line by line.
type Brought struct {
	Lines []BroughtLine
	Wrong []string // of the file as a whole, or of lines: then nothing is taken
}

// Counts says how many lines there are of each sort.
func (b Brought) Counts() (news, changes, same int) {
	for _, l := range b.Lines {
		switch l.What {
		case "new":
			news++
		case "change":
			changes++
		case "same":
			same++
		}
	}
	return news, changes, same
}

// BroughtLine is one line: new, change, same or wrong, and what of it.
type BroughtLine struct {
	Line       int
	What, Says string
}

// bringer brings the lines of one sort of table.
type bringer struct {
	known, needed []string
	line          func(ctx context.Context, b *bringing, r exchange.TableRow) (what, says string, err error)
}

// bringing is a table on its way, with what is there already.
type bringing struct {
	*Workshop
	n      Bringing
	store  StoresSheet
	order  OrderSheet
	setups []measuring.Setup
	rows   map[string]string // ids by name, small letters
	stock  []query.StockCount
}

// form is the submission of a line; the same line of the same form is once.
func (b *bringing) form(r exchange.TableRow) ledger.Form {
	return ledger.Form{ID: ledger.Child(b.n.ID, fmt.Sprint("line ", r.Line))}
}

// BringTables are the sorts of tables that can be brought in, with their columns.
var BringTables = []string{"parts", "stock", "steps", "orders", "readings", "holes"}

var bringers = map[string]bringer{
	"parts":    {[]string{"number", "name", "hand", "supplier", "lot", "process", "condition", "place", "clue", "assembly"}, []string{"number", "name"}, bringPart},
	"stock":    {[]string{"sort", "name", "number", "place", "lot", "best", "note"}, []string{"sort", "name", "number"}, bringStock},
	"steps":    {[]string{"step", "assembly", "state"}, []string{"step"}, bringStep},
	"orders":   {[]string{"name", "supplier", "days", "asked", "promised", "hand", "count", "price"}, []string{"name", "supplier"}, bringOrder},
	"readings": {[]string{"setup", "check", "list", "point", "field", "as typed", "instrument", "condition"}, []string{"setup", "check", "as typed", "instrument"}, bringReading},
	"holes":    {[]string{"row", "hole", "done", "cause", "crew", "by"}, []string{"row", "hole", "done"}, bringHole},
}

// BringColumns are the columns of a sort of table, those that are needed first.
func BringColumns(sort string) (needed, more []string) {
	b := bringers[sort]
	for _, k := range b.known {
		if !slices.Contains(b.needed, k) {
			more = append(more, k)
		}
	}
	return b.needed, more
}

// errNotTaken ends a table of which a line is wrong.
var errNotTaken = errors.New("a line is wrong")

// Bring tries a table line by line, each judged as if it were typed on its own sheet, on what the
// lines before it made; where keep is true and no line is wrong, it is taken, in one write.
func (w *Workshop) Bring(ctx context.Context, n Bringing, keep bool) (b Brought, err error) {
	how, ok := bringers[n.Sort]
	if !ok {
		return b, ledger.Problems{"sort": "which table is it? Choose one of the list"}
	}
	table, wrong := exchange.ReadTable(n.Data, how.known, how.needed)
	for _, c := range table.Columns {
		if !slices.Contains(how.known, c) && c != "" && c != "aircraft" {
			b.Lines = append(b.Lines, BroughtLine{1, "left out", "the column “" + c + "” is not read"})
		}
	}
	if b.Wrong = wrong; len(wrong) > 0 {
		return b, nil
	}
	err = w.Ledger.Together(ctx, keep, func(ctx context.Context, l *ledger.Ledger) error {
		on, err := New(l).bringing(ctx, n)
		if err != nil {
			return err
		}
		seen := map[string]int{}
		for _, r := range table.Rows {
			if before, twice := seen[r.Text()]; twice {
				b.Lines = append(b.Lines, BroughtLine{r.Line, "same", fmt.Sprintf("it says what line %d says", before)})
				continue
			}
			seen[r.Text()] = r.Line
			what, says, err := how.line(ctx, on, r)
			var problems ledger.Problems
			switch {
			case errors.As(err, &problems):
				what, says = "wrong", problems.Error()
				b.Wrong = append(b.Wrong, fmt.Sprintf("line %d: %s", r.Line, says))
			case errors.Is(err, ledger.ErrNotFound):
				what, says = "wrong", "it names something that is not here"
				b.Wrong = append(b.Wrong, fmt.Sprintf("line %d: %s", r.Line, says))
			case err != nil:
				return err
			}
			b.Lines = append(b.Lines, BroughtLine{r.Line, what, says})
		}
		if len(b.Wrong) > 0 {
			return errNotTaken
		}
		return nil
	})
	if errors.Is(err, errNotTaken) {
		err = nil
	}
	return b, err
}

// bringing reads what the lines of a sort are compared with.
func (w *Workshop) bringing(ctx context.Context, n Bringing) (b *bringing, err error) {
	b = &bringing{Workshop: w, n: n, rows: map[string]string{}}
	switch n.Sort {
	case "parts", "stock":
		b.store, err = w.Store(ctx, n.Airframe)
		if err == nil && n.Sort == "stock" {
			err = w.Ledger.View(ctx, func(q *query.Queries) error {
				b.stock, err = q.StockCounts(ctx, query.StockCountsParams{AirframeID: n.Airframe, Limit: 10_000})
				return err
			})
		}
	case "steps", "orders":
		b.order, err = w.unplanned(ctx, n.Airframe)
	case "readings":
		err = b.readSetups(ctx)
	case "holes":
		err = b.readRows(ctx)
	}
	return b, err
}

func (b *bringing) readSetups(ctx context.Context) error {
	list, err := b.SetupList(ctx)
	if err != nil {
		return err
	}
	for _, one := range list {
		s, err := b.Measuring.Setup(ctx, one.ID)
		if err != nil {
			return err
		}
		if s.Airframe.ID == b.n.Airframe {
			b.setups = append(b.setups, s)
		}
	}
	return nil
}

func (b *bringing) readRows(ctx context.Context) error {
	_, _, list, err := b.RowList(ctx, b.n.Airframe)
	for _, a := range list {
		for _, r := range a.Rows {
			b.rows[strings.ToLower(r.Name)] = r.ID
		}
	}
	return err
}

func bringPart(ctx context.Context, b *bringing, r exchange.TableRow) (what, says string, err error) {
	n := stores.NewPart{Form: b.form(r), Airframe: b.n.Airframe, Number: r.Get("number"), Name: r.Get("name"), Hand: r.Get("hand"), Supplier: r.Get("supplier"), Lot: r.Get("lot"), Process: r.Get("process"), Condition: r.Get("condition"), Place: r.Get("place"), Clue: r.Get("clue")}
	if to := r.Get("assembly"); to != "" {
		if n.Assembly, err = b.named(to, b.store.Assemblies); err != nil {
			return "", "", err
		}
	}
	for _, p := range b.store.Parts {
		if p.Number != n.Number || p.Hand != n.Hand || p.Lot != n.Lot {
			continue
		}
		if n.Place == "" || n.Place == p.Place {
			return "same", p.Title() + " is here", nil
		}
		err := b.Stores.MovePart(ctx, stores.PartMoved{Form: n.Form, Part: p.ID, Seen: p.Revised, Place: n.Place, Assembly: p.AssemblyID, Row: p.RowID, Check: p.CheckID, Condition: p.Condition, Rows: p.Rows, Bays: p.Bays})
		return "change", fmt.Sprintf("%s: place “%s” becomes “%s”", p.Title(), p.Place, n.Place), err
	}
	return "new", n.Number + ", " + n.Name, b.Stores.AddPart(ctx, n)
}

// named is the id of something by its name.
func (b *bringing) named(name string, list []Named) (string, error) {
	for _, n := range list {
		if strings.EqualFold(n.Name, name) {
			return n.ID, nil
		}
	}
	return "", ledger.Problems{"": fmt.Sprintf("there is no “%s” here", name)}
}

func bringStock(ctx context.Context, b *bringing, r exchange.TableRow) (what, says string, err error) {
	n := stores.NewStock{Form: b.form(r), Airframe: b.n.Airframe, Sort: r.Get("sort"), Name: r.Get("name"), Place: r.Get("place"), Lot: r.Get("lot"), Best: r.Get("best"), Note: r.Get("note")}
	if err := n.Count(r.Get("number")); err != nil {
		return "", "", err
	}
	number := n.Number
	what, says = "new", fmt.Sprintf("%s: %d counted", n.Name, number)
	var last *query.StockCount
	for i, s := range b.stock {
		if s.Sort == n.Sort && s.Name == n.Name && s.Withdrawn == "" && (last == nil || s.Entry > last.Entry) {
			last = &b.stock[i]
		}
	}
	if last != nil {
		if last.Number == int64(number) && last.Place == n.Place && last.Lot == n.Lot {
			return "same", fmt.Sprintf("%s: %d, as counted last", n.Name, number), nil
		}
		what, says = "change", fmt.Sprintf("%s: counted %d, last time %d", n.Name, number, last.Number)
	}
	return what, says, b.Stores.CountStock(ctx, n)
}

func bringStep(ctx context.Context, b *bringing, r exchange.TableRow) (what, says string, err error) {
	text := r.Get("step")
	for _, s := range b.order.Own {
		if !strings.EqualFold(s.Name, text) && !strings.HasPrefix(strings.ToLower(text), strings.ToLower(s.Name)+",") {
			continue
		}
		state := r.Get("state")
		if state == "" || state == s.State {
			return "same", s.Name + " is here, " + s.State, nil
		}
		return "change", fmt.Sprintf("%s: %s becomes %s", s.Name, s.State, state), b.Planning.MoveStep(ctx, planning.StepMoved{Form: b.form(r), Step: s.ID, Seen: s.State, State: state})
	}
	n := planning.NewStep{Form: b.form(r), Airframe: b.n.Airframe, Line: text}
	if to := r.Get("assembly"); to != "" {
		if n.Assembly, err = b.named(to, b.order.Assemblies); err != nil {
			return "", "", err
		}
	}
	return "new", text, b.AddStep(ctx, n)
}

func bringOrder(ctx context.Context, b *bringing, r exchange.TableRow) (what, says string, err error) {
	for _, o := range b.order.Ordered {
		if !strings.EqualFold(o.Name, r.Get("name")) {
			continue
		}
		for what, was := range map[string]string{"asked": o.Asked, "promised": o.Promised} {
			if now := r.Get(what); now != "" && now != was {
				return "change", fmt.Sprintf("%s: %s “%s” becomes “%s”", o.Name, what, was, now), b.Planning.MoveOrder(ctx, planning.OrderMoved{Form: b.form(r), Order: o.ID, What: what, Day: now})
			}
		}
		return "same", o.Name + " is here, " + o.State(), nil
	}
	n := planning.NewOrder{Form: b.form(r), Airframe: b.n.Airframe, Name: r.Get("name"), Supplier: r.Get("supplier"), Lead: r.Get("days"), Asked: r.Get("asked"), Promised: r.Get("promised"), Hand: r.Get("hand"), Count: r.Get("count"), Price: r.Get("price")}
	return "new", n.Name + " from " + n.Supplier, b.Planning.AddOrder(ctx, n)
}

func bringReading(ctx context.Context, b *bringing, r exchange.TableRow) (what, says string, err error) {
	for _, s := range b.setups {
		if !strings.EqualFold(s.Title(), r.Get("setup")) && !strings.EqualFold(s.Name, r.Get("setup")) {
			continue
		}
		for _, c := range s.Checks {
			if !strings.EqualFold(c.Name, r.Get("check")) {
				continue
			}
			if s, err = b.Measuring.Setup(ctx, s.ID); err != nil { // with what the lines before brought
				return "", "", err
			}
			c, _ = s.Check(c.ID)
			return b.readingOf(ctx, s, c, r)
		}
		return "", "", ledger.Problems{"": fmt.Sprintf("%s has no check “%s”", s.Title(), r.Get("check"))}
	}
	return "", "", ledger.Problems{"": fmt.Sprintf("there is no setup “%s” of this aircraft", r.Get("setup"))}
}

func (b *bringing) readingOf(ctx context.Context, s measuring.Setup, c measuring.Check, r exchange.TableRow) (what, says string, err error) {
	list, err := b.Instruments.List(ctx)
	if err != nil {
		return "", "", err
	}
	tool := ""
	for _, in := range list {
		if strings.EqualFold(in.Name, r.Get("instrument")) {
			tool = in.ID
		}
	}
	if tool == "" {
		return "", "", ledger.Problems{"": fmt.Sprintf("there is no instrument “%s” here", r.Get("instrument"))}
	}
	for _, spot := range c.Spots {
		if !strings.EqualFold(spot.Point, r.Get("point")) || r.Get("field") != "" && !strings.EqualFold(spot.Field, r.Get("field")) || r.Get("list") != "" && spot.List != r.Get("list") {
			continue
		}
		n := measuring.NewReading{Form: b.form(r), Check: c.ID, Spot: spot.Key(), State: s.State, Text: r.Get("as typed"), Instrument: tool, Condition: r.Get("condition"), AsMeasured: true}
		counting := spot.Counting()
		for _, had := range counting {
			if had.Text == n.Text && strings.EqualFold(had.Instrument, r.Get("instrument")) {
				return "same", spot.Place() + ": " + n.Text + " is here", nil
			}
		}
		what, says = "new", fmt.Sprintf("%s: %s", spot.Place(), n.Text)
		if len(counting) > 0 {
			n.Last = counting[len(counting)-1].ID
			what, says = "change", fmt.Sprintf("%s: %s, a further placing beside %d", spot.Place(), n.Text, len(counting))
		}
		return what, says, b.Measuring.Take(ctx, n)
	}
	return "", "", ledger.Problems{"": fmt.Sprintf("%s has no point “%s”", c.Name, strings.TrimSpace(r.Get("point")+" "+r.Get("field")))}
}

func bringHole(ctx context.Context, b *bringing, r exchange.TableRow) (what, says string, err error) {
	id, ok := b.rows[strings.ToLower(r.Get("row"))]
	if !ok {
		return "", "", ledger.Problems{"": fmt.Sprintf("there is no row “%s” of this aircraft", r.Get("row"))}
	}
	number, err := strconv.Atoi(r.Get("hole"))
	if err != nil {
		return "", "", ledger.Problems{"hole": "which hole? Its number"}
	}
	w, err := b.Row(ctx, id)
	if err != nil {
		return "", "", err
	}
	h, ok := w.Hole(number)
	if !ok {
		return "", "", ledger.Problems{"hole": fmt.Sprintf("%s has no hole %d", w.Name, number)}
	}
	done := r.Get("done")
	if string(h.State) == done || string(h.Shown()) == done {
		return "same", fmt.Sprintf("%s, hole %d is %s", w.Name, number, done), nil
	}
	return "change", fmt.Sprintf("%s, hole %d: %s, and %s before", w.Name, number, done, h.Shown()), b.Riveting.Operate(ctx, riveting.HoleOperation{Form: b.form(r), Row: id, Seen: w.Revised, Numbers: []int{number}, What: row.Operation(done), Cause: r.Get("cause"), Crew: cmp.Or(r.Get("crew"), "solo"), By: r.Get("by")})
}
