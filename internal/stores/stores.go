// Package stores keeps parts with their hands and lots, makers' notices, and what was
// counted of rivets, clecos and shims.
package stores

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/part"
	"orpine/internal/core/say"
	"orpine/internal/core/spoken"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Part is one part, with where it went.
type Part struct {
	ID                         string
	Number, Name, Hand         string
	Supplier, Lot, Process     string
	Condition, Place, Clue     string
	AssemblyID, RowID, CheckID string
	Revised                    int64    // the entry that changed it last
	Rows, Bays                 []string // ids of the rows and bays that it lies in, besides
}

// Stores are those of a workshop.
type Stores struct{ ledger *ledger.Ledger }

// Capability is what the package brings to the ledger.
var Capability = ledger.Capability{
	Name:   "stores",
	Tables: ledger.Records("parts", "notices", "stock_counts", "part_lies", "notice_findings", "lots_used", "hole_lots", "notice_things"),
	Kinds:  ledger.Kinds(partAdded, partMoved, noticeAdded, stockCounted, partFound, lotUsed, holeLot),
}

// Comparison is what the check that compares a part with its twin says.
type Comparison func(ctx context.Context, q *query.Queries, check string) (verdict measure.Verdict, answer string, err error)

// New returns them, and lets them provide their evidence; compare reads checks.
func New(l *ledger.Ledger, g *gate.Gate, compare Comparison) *Stores {
	s := &Stores{l}
	g.Register(gate.Provider{Needs: []hold.Need{hold.Handed}, Gather: func(ctx context.Context, q *query.Queries, holds []gate.Hold, into *hold.Evidence) error {
		return s.hands(ctx, q, gate.About(holds, hold.Handed), compare, into)
	}})
	g.Register(gate.Provider{Gather: s.noticed})
	return s
}

// noticed are the lines of makers' notices at holds: of a part in their rows, or inside what they
// close. Affected is stop until an inspection found otherwise; unknown is unsure where the notice
// names its part number.
func (s *Stores) noticed(ctx context.Context, q *query.Queries, holds []gate.Hold, into *hold.Evidence) error {
	var assemblies []string
	for _, h := range holds {
		if h.AssemblyID != "" && !slices.Contains(assemblies, h.AssemblyID) {
			assemblies = append(assemblies, h.AssemblyID)
		}
	}
	if len(assemblies) == 0 || !into.Noticed {
		return nil
	}
	if err := lots(ctx, q, holds, assemblies, into); err != nil {
		return err
	}
	rows, err := q.NoticedParts(ctx, assemblies)
	if err != nil {
		return fmt.Errorf("reading the notices: %w", err)
	}
	for _, r := range rows {
		var n part.Notice
		if err := errors.Join(json.Unmarshal([]byte(r.Numbers), &n.Numbers), json.Unmarshal([]byte(r.Lots), &n.Lots), json.Unmarshal([]byte(r.Processes), &n.Processes)); err != nil {
			return fmt.Errorf("reading the notice %s: %w", r.Title, err)
		}
		answer := n.Of(part.Part{Number: r.Number, Lot: r.Lot, Process: r.Process})
		if r.Found != "" {
			answer = part.Answer(r.Found)
		}
		for _, h := range holds {
			if !in(r, h, into) {
				continue
			}
			into.Rests[h.ID] = append(into.Rests[h.ID], r.PartID)
			l := hold.Line{Key: "notice/" + r.ID + "/" + r.PartID, What: say.List(r.Number, r.Name) + ", by the notice “" + r.Title + "”"}
			switch {
			case answer == part.Affected:
				l.Standing, l.Why = hold.Stop, "affected: what may be done with it?"
			case answer == part.Unknown && n.Number(r.Number):
				l.Standing, l.Why = hold.Unsure, "nobody knows whether it is meant: look"
			default:
				continue
			}
			into.Extra[h.ID] = append(into.Extra[h.ID], l)
		}
	}
	return nil
}

// in tells whether a part lies in the joint of a hold, or inside what it closes.
func in(p query.NoticedPartsRow, h gate.Hold, e *hold.Evidence) bool {
	lies := append(strings.Fields(p.Lies), p.RowID)
	if slices.ContainsFunc(e.Guards[h.ID], func(row string) bool { return slices.Contains(lies, row) }) {
		return true
	}
	return slices.ContainsFunc(h.Required, func(r hold.Requirement) bool {
		return r.Need == hold.Inside && (slices.Contains(lies, r.Of) || p.AssemblyID == h.AssemblyID)
	})
}

// hands is how far the hands of parts are shown.
func (s *Stores) hands(ctx context.Context, q *query.Queries, ids []string, compare Comparison, into *hold.Evidence) error {
	if len(ids) == 0 {
		return nil
	}
	rows, err := q.PartsByID(ctx, ids)
	if err != nil {
		return err
	}
	looks, err := gate.Looks(ctx, q, s.ledger, ids...)
	if err != nil {
		return err
	}
	for _, p := range rows {
		state := hold.PartState{Name: p.Name, Label: p.Hand, Clue: p.Clue, Check: p.CheckID.String, Look: looks.Last(hold.Handed, p.ID, "")}
		if state.Check != "" {
			if state.Geometry, state.Answer, err = compare(ctx, q, state.Check); err != nil {
				return err
			}
		}
		if state.Geometry == measure.Unsure {
			state.Answer = "" // it cannot tell; two people can
		}
		into.Parts[p.ID] = state
	}
	return nil
}

// Parts are those of an airframe.
func Parts(ctx context.Context, q *query.Queries, airframe string) ([]Part, error) {
	rows, err := q.Parts(ctx, airframe)
	if err != nil {
		return nil, fmt.Errorf("reading the parts: %w", err)
	}
	lies, err := q.PartsLie(ctx, airframe)
	if err != nil {
		return nil, fmt.Errorf("reading where parts lie: %w", err)
	}
	in := map[[2]string][]string{}
	for _, l := range lies {
		key := [2]string{l.PartID, l.Kind}
		in[key] = append(in[key], l.Of)
	}
	out := make([]Part, len(rows))
	for i, p := range rows {
		out[i] = Part{Rows: in[[2]string{p.ID, "row"}], Bays: in[[2]string{p.ID, "bay"}], ID: p.ID, Number: p.Number, Name: p.Name, Hand: p.Hand, Supplier: p.Supplier, Lot: p.Lot, Process: p.Process, Condition: p.Condition, Place: p.Place, Clue: p.Clue,
			AssemblyID: p.AssemblyID.String, RowID: p.RowID.String, CheckID: p.CheckID.String, Revised: p.Revised}
	}
	return out, nil
}

// NewPart is a part to be written down.
type NewPart struct {
	ledger.Form
	Airframe  string `json:"airframe" form:"airframe"` // id
	Number    string `json:"number" form:"number"`
	Name      string `json:"name" form:"name"`
	Hand      string `json:"hand" form:"hand"`
	Supplier  string `json:"supplier,omitempty" form:"supplier"`
	Lot       string `json:"lot,omitempty" form:"lot"`
	Process   string `json:"process,omitempty" form:"process"`
	Condition string `json:"condition,omitempty" form:"condition" text:"lines"`
	Place     string `json:"place,omitempty" form:"place"`
	Clue      string `json:"clue,omitempty" form:"clue" text:"lines"`
	Assembly  string `json:"assembly,omitempty" form:"assembly"` // id
	Row       string `json:"row,omitempty" form:"row"`           // id
	Check     string `json:"check,omitempty" form:"check"`       // id
}

var partAdded = &ledger.Kind[NewPart, struct{}]{
	Name: "part", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewPart, _ struct{}) error {
		return q.AddPart(ctx, query.AddPartParams{ID: e.ID, AirframeID: n.Airframe, Number: n.Number, Name: n.Name, Hand: n.Hand, Supplier: n.Supplier, Lot: n.Lot, Process: n.Process,
			Condition: n.Condition, Place: n.Place, Clue: n.Clue, AssemblyID: gate.Reference(n.Assembly), RowID: gate.Reference(n.Row), CheckID: gate.Reference(n.Check), Entry: e.Seq, Revised: e.Seq})
	},
	Words: func(n NewPart, _ struct{}) ledger.Words {
		return ledger.Words{What: "part added: " + say.List(n.Number, n.Name)}
	},
}

// AddPart writes a part down.
func (s *Stores) AddPart(ctx context.Context, n NewPart) error {
	wrong := ledger.Problems{}
	wrong.Text("number", &n.Number, ledger.MaxName, "") // it can be completed later, as the lot can
	wrong.Text("name", &n.Name, ledger.MaxName, "what is it?")
	for field, into := range map[string]*string{"supplier": &n.Supplier, "lot": &n.Lot, "process": &n.Process, "place": &n.Place} {
		wrong.Text(field, into, ledger.MaxName, "")
	}
	wrong.Text("condition", &n.Condition, ledger.MaxNote, "")
	wrong.Text("clue", &n.Clue, ledger.MaxNote, "")
	if !part.HandKnown(n.Hand) {
		wrong.Add("hand", "left, right, either or none; or leave it until it is known")
	}
	_, err := ledger.Do(ctx, s.ledger, partAdded, n.Form, n, func(q *query.Queries) (f struct{}, err error) {
		if _, err := q.Airframe(ctx, n.Airframe); err != nil {
			return f, err
		}
		if err := whereTo(ctx, q, n.Airframe, n.Assembly, n.Row, n.Check, wrong); err != nil {
			return f, err
		}
		return f, wrong.Err()
	})
	return err
}

// whereTo checks where a part goes, and what compares it with its twin.
func whereTo(ctx context.Context, q *query.Queries, airframe, assembly, row, check string, wrong ledger.Problems) error {
	missing := func(err error) (bool, error) {
		if err = ledger.Found(err); errors.Is(err, ledger.ErrNotFound) {
			return true, nil
		}
		return false, err
	}
	if assembly != "" {
		kept, err := q.Assembly(ctx, assembly)
		gone, err := missing(err)
		if err != nil {
			return err
		}
		if gone || kept.Assembly.AirframeID != airframe {
			wrong.Add("assembly", "choose an assembly of this airframe")
		}
	}
	if row != "" {
		of, err := q.RowOfPart(ctx, row)
		gone, err := missing(err)
		if err != nil {
			return err
		}
		if gone || of != assembly {
			wrong.Add("row", "choose a row of that assembly")
		}
	}
	if check != "" {
		kept, err := q.CheckOfPart(ctx, check)
		gone, err := missing(err)
		if err != nil {
			return err
		}
		if gone || kept.AirframeID != airframe || !measure.ComparesHands(kept.Kind) {
			wrong.Add("check", "choose a check that compares two hands")
		}
	}
	return nil
}

// PartMoved says where a part went.
type PartMoved struct {
	ledger.Form
	Part      string   `json:"part" form:"-"` // id
	Seen      int64    `json:"seen,omitempty" form:"seen"`
	Place     string   `json:"place" form:"place"`
	Assembly  string   `json:"assembly,omitempty" form:"assembly"`
	Row       string   `json:"row,omitempty" form:"row"`
	Check     string   `json:"check,omitempty" form:"check"`
	Condition string   `json:"condition,omitempty" form:"condition" text:"lines"`
	Rows      []string `json:"rows,omitempty" form:"rows"` // ids of more rows that it lies in
	Bays      []string `json:"bays,omitempty" form:"bays"` // and of bays
}

// named is a part by its name.
type named struct {
	Name string `json:"name"`
}

var partMoved = &ledger.Kind[PartMoved, named]{
	Name: "part-moved", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n PartMoved, _ named) error {
		if err := q.MovePart(ctx, query.MovePartParams{Place: n.Place, AssemblyID: gate.Reference(n.Assembly), RowID: gate.Reference(n.Row), CheckID: gate.Reference(n.Check), Condition: n.Condition, Revised: e.Seq, ID: n.Part}); err != nil {
			return err
		}
		if err := q.ClearPartLies(ctx, n.Part); err != nil {
			return err
		}
		for kind, list := range map[string][]string{"row": n.Rows, "bay": n.Bays} {
			for _, of := range list {
				if err := q.AddPartLies(ctx, query.AddPartLiesParams{PartID: n.Part, Kind: kind, Of: of, Entry: e.Seq}); err != nil {
					return err
				}
			}
		}
		return nil
	},
	Words: func(n PartMoved, f named) ledger.Words {
		return ledger.Words{What: "Put away: " + f.Name, Detail: n.Place}
	},
}

// MovePart writes down where a part went.
func (s *Stores) MovePart(ctx context.Context, n PartMoved) error {
	wrong := ledger.Problems{}
	wrong.Text("place", &n.Place, ledger.MaxName, "")
	wrong.Text("condition", &n.Condition, ledger.MaxNote, "")
	n.Rows, n.Bays = slices.Compact(slices.Sorted(slices.Values(n.Rows))), slices.Compact(slices.Sorted(slices.Values(n.Bays)))
	_, err := ledger.Do(ctx, s.ledger, partMoved, n.Form, n, func(q *query.Queries) (f named, err error) {
		kept, err := q.Part(ctx, n.Part)
		if err != nil {
			return f, err
		}
		if n.Seen != kept.Revised {
			return f, ledger.Moved("it in another place", "at “"+kept.Place+"”")
		}
		if err := whereTo(ctx, q, kept.AirframeID, n.Assembly, n.Row, n.Check, wrong); err != nil {
			return f, err
		}
		if err := alsoIn(ctx, q, kept.AirframeID, n, wrong); err != nil {
			return f, err
		}
		return named{say.List(kept.Number, kept.Name)}, wrong.Err()
	})
	return err
}

// alsoIn checks the further rows and bays that a part lies in: of its aircraft, each once.
func alsoIn(ctx context.Context, q *query.Queries, airframe string, n PartMoved, wrong ledger.Problems) error {
	of := func(assembly string) (bool, error) {
		a, err := q.Assembly(ctx, assembly)
		return a.Assembly.AirframeID == airframe, ledger.Found(err)
	}
	for _, id := range n.Rows {
		assembly, err := q.RowOfPart(ctx, id)
		if err != nil {
			wrong.Add("rows", "choose rows of this aircraft")
			continue
		}
		if mine, err := of(assembly); err != nil || !mine {
			wrong.Add("rows", "choose rows of this aircraft")
		}
	}
	for _, id := range n.Bays {
		b, err := q.Bay(ctx, id)
		if err != nil {
			wrong.Add("bays", "choose bays of this aircraft")
			continue
		}
		if mine, err := of(b.AssemblyID); err != nil || !mine {
			wrong.Add("bays", "choose bays of this aircraft")
		}
	}
	return nil
}

// Notice is a maker's notice.
type Notice struct {
	ID, Title, Note string
	At              time.Time
	Names           part.Notice
	Found           map[string]Found // by the id of the part, or the thing
}

// Found is what an inspection found of a part that a notice may mean.
type Found struct {
	Answer part.Answer
	Says   string
	By     string
	At     time.Time
	Entry  int64
}

// PartFound is what an inspection found.
type PartFound struct {
	ledger.Form
	Notice string `json:"notice" form:"-"` // id
	Part   string `json:"part,omitempty" form:"part"`
	Thing  string `json:"thing,omitempty" form:"thing"` // in place of a part: stock of a lot, rivets in holes, a pot
	Answer string `json:"answer" form:"answer"`
	Found  string `json:"found" form:"found" text:"lines"`
	By     string `json:"by" form:"by"`
}

var partFound = &ledger.Kind[PartFound, named]{
	Name: "notice-found", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n PartFound, _ named) error {
		if n.Thing != "" {
			return q.FindThing(ctx, query.FindThingParams{NoticeID: n.Notice, Thing: n.Thing, Answer: n.Answer, Found: n.Found, ByName: n.By, At: e.At, Entry: e.Seq})
		}
		return q.FindOfNotice(ctx, query.FindOfNoticeParams{NoticeID: n.Notice, PartID: n.Part, Answer: n.Answer, Found: n.Found, ByName: n.By, At: e.At, Entry: e.Seq})
	},
	Words: func(n PartFound, f named) ledger.Words {
		return ledger.Words{What: "Inspected: " + f.Name, Detail: say.Join(n.Answer, n.Found)}
	},
}

// Find keeps what an inspection found of a part against a notice. A later one stands in its
// place; both are in the journal.
func (s *Stores) Find(ctx context.Context, n PartFound) error {
	wrong := ledger.Problems{}
	wrong.Text("found", &n.Found, ledger.MaxNote, "what did the inspection find?")
	wrong.Text("by", &n.By, ledger.MaxName, "who looked?")
	if n.Answer != string(part.Affected) && n.Answer != string(part.NotAffected) {
		wrong.Add("answer", "affected or not?")
	}
	_, err := ledger.Do(ctx, s.ledger, partFound, n.Form, n, func(q *query.Queries) (f named, err error) {
		notice, err := q.Notice(ctx, n.Notice)
		if err != nil {
			return f, err
		}
		if n.Thing != "" {
			things, err := Things(ctx, q, notice.AirframeID)
			if err != nil {
				return f, err
			}
			i := slices.IndexFunc(things, func(t Thing) bool { return t.ID == n.Thing })
			if i < 0 || !isThing(n.Thing) {
				return f, ledger.ErrNotFound
			}
			return named{notice.Title + ": " + things[i].Says()}, wrong.Err()
		}
		kept, err := q.Part(ctx, n.Part)
		if err != nil {
			return f, err
		}
		if kept.AirframeID != notice.AirframeID {
			return f, ledger.ErrNotFound
		}
		return named{notice.Title + ": " + say.List(kept.Number, kept.Name)}, wrong.Err()
	})
	return err
}

// NewNotice is a notice to be kept; the parts that it names are found by themselves.
type NewNotice struct {
	ledger.Form
	Airframe string      `json:"airframe" form:"airframe"` // id
	Title    string      `json:"title" form:"title"`
	Names    part.Notice `json:"names" form:"-"`
	Note     string      `json:"note,omitempty" form:"note" text:"lines"`
}

// listed is what a notice names, as it is kept.
type listed struct {
	Numbers   json.RawMessage `json:"numbers"`
	Lots      json.RawMessage `json:"lots"`
	Processes json.RawMessage `json:"processes"`
}

var noticeAdded = &ledger.Kind[NewNotice, listed]{
	Name: "notice", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewNotice, f listed) error {
		return q.AddNotice(ctx, query.AddNoticeParams{ID: e.ID, AirframeID: n.Airframe, Title: n.Title, Numbers: string(f.Numbers), Lots: string(f.Lots), Processes: string(f.Processes), Note: n.Note, At: e.At, Entry: e.Seq, Revised: e.Seq})
	},
	Words: func(n NewNotice, _ listed) ledger.Words {
		return ledger.Words{What: "notice added: " + n.Title, Detail: n.Note}
	},
}

// AddNotice keeps a notice.
func (s *Stores) AddNotice(ctx context.Context, n NewNotice) error {
	wrong := ledger.Problems{}
	wrong.Text("title", &n.Title, ledger.MaxName, "what is it about?")
	wrong.Text("note", &n.Note, ledger.MaxNote, "")
	if n.Names.Empty() {
		wrong.Add("numbers", "a notice names part numbers, lots or processes")
	}
	_, err := ledger.Do(ctx, s.ledger, noticeAdded, n.Form, n, func(q *query.Queries) (f listed, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		for _, list := range []struct {
			names []string
			into  *json.RawMessage
		}{{n.Names.Numbers, &f.Numbers}, {n.Names.Lots, &f.Lots}, {n.Names.Processes, &f.Processes}} {
			if *list.into, err = json.Marshal(append([]string{}, list.names...)); err != nil {
				return f, err
			}
		}
		_, err = q.Airframe(ctx, n.Airframe)
		return f, err
	})
	return err
}

// Notices are those of an airframe, the last one first.
func (s *Stores) Notices(ctx context.Context, q *query.Queries, airframe string) ([]Notice, error) {
	rows, err := q.Notices(ctx, airframe)
	if err != nil {
		return nil, fmt.Errorf("reading the notices: %w", err)
	}
	found, err := q.FoundOfNotices(ctx, airframe)
	if err != nil {
		return nil, fmt.Errorf("reading what was found: %w", err)
	}
	things, err := q.ThingsFound(ctx, airframe)
	if err != nil {
		return nil, fmt.Errorf("reading what was found: %w", err)
	}
	var out []Notice
	for _, r := range rows {
		n := Notice{Found: map[string]Found{}, ID: r.ID, Title: r.Title, Note: r.Note, At: s.ledger.When(r.At)}
		if err := read(r, &n.Names); err != nil {
			return nil, err
		}
		for _, f := range found {
			if f.NoticeID == r.ID {
				n.Found[f.PartID] = Found{part.Answer(f.Answer), f.Found, f.ByName, s.ledger.When(f.At), f.Entry}
			}
		}
		for _, f := range things {
			if f.NoticeID == r.ID {
				n.Found[f.Thing] = Found{part.Answer(f.Answer), f.Found, f.ByName, s.ledger.When(f.At), f.Entry}
			}
		}
		out = append(out, n)
	}
	return out, nil
}

// StockSorts are what is counted.
var StockSorts = []string{"rivet", "cleco", "shim", "sheet", "hardware", "sealant", "resin", "hardener", "primer", "hose"}

// NewStock is fasteners, or something else that is counted, counted in.
type NewStock struct {
	ledger.Form
	Airframe string `json:"airframe" form:"airframe"` // id
	Sort     string `json:"sort" form:"sort"`
	Name     string `json:"name" form:"name"`
	Number   int    `json:"number" form:"-"`
	Place    string `json:"place,omitempty" form:"place"` // box and shelf
	Lot      string `json:"lot,omitempty" form:"lot"`     // that is written on it
	Best     string `json:"best,omitempty" form:"best"`   // the last day on which it may be used
	Note     string `json:"note,omitempty" form:"note" text:"lines"`
}

// Count reads how many there are, by number or by weight; what was weighed goes into the note.
func (n *NewStock) Count(typed string) error {
	number, weighed, err := spoken.Pieces(typed)
	if err != nil {
		return ledger.Problems{"number": err.Error()}
	}
	if n.Number = number; weighed {
		n.Note = say.Join(n.Note, "weighed: "+strings.TrimSpace(typed))
	}
	return nil
}

var stockCounted = &ledger.Kind[NewStock, struct{}]{
	Name: "stock", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewStock, _ struct{}) error {
		return q.AddStockCount(ctx, query.AddStockCountParams{ID: e.ID, AirframeID: n.Airframe, Sort: n.Sort, Name: n.Name, Number: int64(n.Number), Note: n.Note, Place: n.Place, Lot: n.Lot, Best: n.Best, At: e.At, Entry: e.Seq, Revised: e.Seq})
	},
	Words: func(n NewStock, _ struct{}) ledger.Words {
		return ledger.Words{What: "Counted: Stores", Detail: say.Join(fmt.Sprintf("%d × %s", n.Number, n.Name), say.After("lot ", n.Lot), say.After("best before ", n.Best), n.Note)}
	},
}

// bestBefore reads the last day on which something may be used.
func bestBefore(text string, now time.Time, wrong ledger.Problems) string {
	if text = strings.TrimSpace(text); text == "" {
		return ""
	}
	if month, err := time.Parse("2006-01", text); err == nil { // the whole of it
		return month.AddDate(0, 1, -1).Format(time.DateOnly)
	}
	day, err := spoken.Day(text, now)
	if err != nil {
		wrong.Add("best", err.Error())
	}
	return day
}

// CountStock counts fasteners in; a negative number takes a miscount back.
func (s *Stores) CountStock(ctx context.Context, n NewStock) error {
	wrong := ledger.Problems{}
	wrong.Text("name", &n.Name, ledger.MaxName, "which one: solid 1/8 × "+say.Example("6 mm", "1/4 in")+"?")
	wrong.Text("place", &n.Place, ledger.MaxName, "")
	wrong.Text("note", &n.Note, ledger.MaxNote, "")
	wrong.Text("lot", &n.Lot, ledger.MaxName, "")
	n.Best = bestBefore(n.Best, s.ledger.Now(), wrong)
	if !slices.Contains(StockSorts, n.Sort) {
		wrong.Add("sort", "what is it? Choose one of the list")
	}
	if n.Number == 0 || n.Number > 1_000_000 || n.Number < -1_000_000 {
		wrong.Add("number", "how many? A whole number")
	}
	if n.Number < 0 && n.Note == "" {
		wrong.Add("note", "why are there fewer?")
	}
	_, err := ledger.Do(ctx, s.ledger, stockCounted, n.Form, n, func(q *query.Queries) (f struct{}, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		_, err = q.Airframe(ctx, n.Airframe)
		return f, err
	})
	return err
}
