// Package asking keeps questions, decisions that were put off, and contradictions between text,
// drawing and edition; with the steps, rows or holes that each freezes until it is answered.
package asking

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"orpine/internal/core/row"
	"orpine/internal/core/say"
	"orpine/internal/core/spoken"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Asking is the questions of a workshop.
type Asking struct{ ledger *ledger.Ledger }

// New returns them.
func New(l *ledger.Ledger) *Asking { return &Asking{l} }

// Capability is what the package brings to the ledger.
var Capability = ledger.Capability{
	Name:   "asking",
	Tables: ledger.Records("questions"),
	Kinds:  ledger.Kinds(asked, answered),
}

// The sorts.
const (
	Question      = "question"
	Decision      = "decision"
	Contradiction = "contradiction"
)

// Sorts lists them.
var Sorts = []string{Question, Decision, Contradiction}

// Asked is one of them.
type Asked struct {
	ID, Sort, Text, Whom string
	ByDay                string // "" for none
	Evidence             string
	Provisional          string // goes on so until it is answered
	Again                string // when to look again
	Freezes              []gate.Freeze
	Last                 string // of a decision: the step after which it is too late
	Answer, AnsweredBy   string
	AskedAt, AnsweredAt  time.Time
	Revised              int64
}

// Open tells whether it is not answered.
func (a Asked) Open() bool { return a.AnsweredAt.IsZero() }

// Freezing tells whether what it names waits for it.
func (a Asked) Freezing() bool { return a.Open() && a.Provisional == "" }

// Due tells whether its answer is owed, or it is to be looked at again; today is a day.
func (a Asked) Due(today string) bool {
	return a.Open() && (a.ByDay != "" && a.ByDay <= today || a.Again != "" && a.Again <= today)
}

// NewQuestion is one as it is typed.
type NewQuestion struct {
	ledger.Form
	Airframe    string   `json:"airframe" form:"-"`
	Sort        string   `json:"sort" form:"sort"`
	Text        string   `json:"text" form:"text" text:"lines"`
	Whom        string   `json:"whom,omitempty" form:"whom"`
	By          string   `json:"by_day,omitempty" form:"by_day"`
	Evidence    string   `json:"evidence,omitempty" form:"evidence" text:"lines"`
	Words       string   `json:"words,omitempty" form:"words" text:"lines"`     // of a contradiction: the text says,
	Drawing     string   `json:"drawing,omitempty" form:"drawing" text:"lines"` // the drawing says,
	Edition     string   `json:"edition,omitempty" form:"edition" text:"lines"` // the edition or notice says
	Provisional string   `json:"provisional,omitempty" form:"provisional" text:"lines"`
	Again       string   `json:"again,omitempty" form:"again"`
	What        []string `json:"what,omitempty" form:"what"`   // that it freezes
	Holes       []string `json:"holes,omitempty" form:"holes"` // of each, where it is a row
	Last        string   `json:"last,omitempty" form:"last"`
}

// posed is a question as it was understood.
type posed struct {
	Title    string          `json:"title"`
	Freezes  json.RawMessage `json:"freezes"`
	Evidence string          `json:"evidence"`
	By       string          `json:"by_day"`
	Again    string          `json:"again"`
}

var asked = &ledger.Kind[NewQuestion, posed]{
	Name: "question", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work, ledger.Sign},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewQuestion, f posed) error {
		return q.AddQuestion(ctx, query.AddQuestionParams{ID: e.ID, AirframeID: n.Airframe, Sort: n.Sort, Text: n.Text, Whom: n.Whom, ByDay: f.By, Evidence: f.Evidence, Provisional: n.Provisional, Again: f.Again, Freezes: string(f.Freezes), Last: n.Last, AskedAt: e.At, Entry: e.Seq, Revised: e.Seq})
	},
	Words: func(n NewQuestion, f posed) ledger.Words {
		what := map[string]string{Question: "Asked: ", Decision: "Put off: ", Contradiction: "Contradiction noted: "}[n.Sort]
		return ledger.Words{What: what + n.Text, Detail: say.Join(f.Title, n.Whom, say.After("by ", f.By))}
	},
}

func day(field string, text *string, now time.Time, wrong ledger.Problems) {
	if *text = strings.TrimSpace(*text); *text == "" {
		return
	}
	on, err := spoken.Day(*text, now)
	if err != nil {
		wrong.Add(field, err.Error())
		return
	}
	*text = on
}

// texts checks what is typed freely.
func (n *NewQuestion) texts(now time.Time, wrong ledger.Problems) {
	wrong.Text("text", &n.Text, 300, cmp.Or(map[string]string{Decision: "what is to be decided?", Contradiction: "what contradicts what?"}[n.Sort], "what is the question?"))
	wrong.Text("whom", &n.Whom, ledger.MaxName, "")
	for field, into := range map[string]*string{"evidence": &n.Evidence, "words": &n.Words, "drawing": &n.Drawing, "edition": &n.Edition, "provisional": &n.Provisional} {
		wrong.Text(field, into, ledger.MaxNote, "")
	}
	day("by_day", &n.By, now, wrong)
	day("again", &n.Again, now, wrong)
}

// Ask keeps one. Problems are by field.
func (a *Asking) Ask(ctx context.Context, n NewQuestion) error {
	wrong := ledger.Problems{}
	if !slices.Contains(Sorts, n.Sort) {
		wrong.Add("sort", "a question, a decision or a contradiction?")
	}
	n.texts(a.ledger.Now(), wrong)
	f := posed{By: n.By, Again: n.Again, Evidence: n.Evidence}
	if n.Sort == Contradiction {
		if len(slices.DeleteFunc([]string{n.Words, n.Drawing, n.Edition}, func(s string) bool { return s == "" })) < 2 {
			wrong.Add("words", "two of the three at least: what does the text say, what the drawing, what the edition or notice?")
		}
		f.Evidence = say.Join(say.After("text: ", n.Words), say.After("drawing: ", n.Drawing), say.After("edition: ", n.Edition), n.Evidence)
	}
	_, err := ledger.Do(ctx, a.ledger, asked, n.Form, n, func(q *query.Queries) (posed, error) {
		frame, err := q.Airframe(ctx, n.Airframe)
		if err != nil {
			return f, ledger.Found(err)
		}
		f.Title = frame.Name
		list := []gate.Freeze{}
		for i, what := range n.What {
			if what == "" {
				continue
			}
			z := gate.Freeze{What: what}
			if i < len(n.Holes) && strings.HasPrefix(what, "row:") {
				z.Holes = strings.TrimSpace(n.Holes[i])
			}
			if err := exists(ctx, q, n.Airframe, z, wrong); err != nil {
				return f, err
			}
			if !slices.Contains(list, z) {
				list = append(list, z)
			}
		}
		if n.Sort == Decision && n.Last == "" {
			wrong.Add("last", "which step is the last before which it must be decided?")
		}
		if n.Last != "" {
			if err := exists(ctx, q, n.Airframe, gate.Freeze{What: n.Last}, wrong); err != nil {
				return f, err
			}
		}
		if err := wrong.Err(); err != nil {
			return f, err
		}
		f.Freezes, err = json.Marshal(list)
		return f, err
	})
	return err
}

// exists refuses what is not of the airframe.
func exists(ctx context.Context, q *query.Queries, airframe string, z gate.Freeze, wrong ledger.Problems) error {
	kind, id, ok := strings.Cut(z.What, ":")
	if !ok {
		kind, id = "step", z.What
	}
	of := ""
	switch kind {
	case "step":
		s, err := q.PlanStep(ctx, id)
		if err == nil && s.Withdrawn == "" {
			of = s.AirframeID
		}
	case "hold":
		h, err := gate.One(ctx, q, id)
		if err != nil {
			break
		}
		a, err := q.Assembly(ctx, h.AssemblyID)
		if err != nil {
			return err
		}
		of = a.Assembly.AirframeID
	case "row":
		assembly, err := q.RowOfPart(ctx, id)
		if err != nil {
			break
		}
		a, err := q.Assembly(ctx, assembly)
		if err != nil {
			return err
		}
		of = a.Assembly.AirframeID
		if z.Holes != "" {
			if _, err := row.ParseNumbers(z.Holes); err != nil {
				wrong.Add("holes", err.Error())
			}
		}
	}
	if of != airframe {
		wrong.Add("what", "choose steps, holds and rows of this aircraft")
	}
	return nil
}

// Answered answers one; "" opens it again.
type Answered struct {
	ledger.Form
	Question string `json:"question" form:"-"` // id
	Seen     int64  `json:"seen,omitempty" form:"seen"`
	Answer   string `json:"answer,omitempty" form:"answer" text:"lines"`
	By       string `json:"answered_by,omitempty" form:"answered_by"` // who decided
	Open     bool   `json:"open,omitempty" form:"open"`
}

// about is a question by its text.
type about struct {
	Text string `json:"text"`
	Sort string `json:"sort"`
}

var answered = &ledger.Kind[Answered, about]{
	Name: "answer", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make, ledger.Sign},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n Answered, _ about) error {
		at := e.At
		if n.Open {
			at = ""
		}
		return q.AnswerQuestion(ctx, query.AnswerQuestionParams{Answer: n.Answer, AnsweredBy: n.By, AnsweredAt: at, Revised: e.Seq, ID: n.Question})
	},
	Words: func(n Answered, f about) ledger.Words {
		if n.Open {
			return ledger.Words{What: "Open again: " + f.Text}
		}
		return ledger.Words{What: "Answered: " + f.Text, Detail: n.Answer, Answer: say.Join(n.By, n.Answer)}
	},
}

// AnswerIt answers one, or opens it again. Of a contradiction the answer is which prevails, and
// it names who decided.
func (a *Asking) AnswerIt(ctx context.Context, n Answered) error {
	wrong := ledger.Problems{}
	if n.Open {
		n.Answer, n.By = "", ""
	} else {
		wrong.Text("answer", &n.Answer, ledger.MaxNote, "what is the answer?")
		wrong.Text("answered_by", &n.By, ledger.MaxName, "who decided?")
	}
	_, err := ledger.Do(ctx, a.ledger, answered, n.Form, n, func(q *query.Queries) (f about, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		r, err := q.Question(ctx, n.Question)
		switch {
		case err != nil:
			return f, ledger.Found(err)
		case r.Withdrawn != "":
			return f, ledger.ErrNotFound
		case n.Seen != 0 && n.Seen != r.Revised:
			return f, ledger.Moved("it as it was before", map[bool]string{true: "open", false: "answered “" + r.Answer + "”"}[r.AnsweredAt == ""])
		}
		return about{r.Text, r.Sort}, nil
	})
	return err
}

// Questions are those of an airframe: open ones first, the last one first.
func Questions(ctx context.Context, q *query.Queries, airframe string, when func(string) time.Time) ([]Asked, error) {
	rows, err := q.Questions(ctx, airframe)
	if err != nil {
		return nil, fmt.Errorf("reading the questions: %w", err)
	}
	out := make([]Asked, len(rows))
	for i, r := range rows {
		out[i] = Asked{ID: r.ID, Sort: r.Sort, Text: r.Text, Whom: r.Whom, ByDay: r.ByDay, Evidence: r.Evidence, Provisional: r.Provisional, Again: r.Again, Last: r.Last, Answer: r.Answer, AnsweredBy: r.AnsweredBy, AskedAt: when(r.AskedAt), Revised: r.Revised}
		if r.AnsweredAt != "" {
			out[i].AnsweredAt = when(r.AnsweredAt)
		}
		if err := json.Unmarshal([]byte(r.Freezes), &out[i].Freezes); err != nil {
			return nil, fmt.Errorf("reading what a question freezes: %w", err)
		}
	}
	return out, nil
}

// Keepers put questions right. No hold rests on them: what they freeze waits, and is not shown.
func Keepers(*Asking) []ledger.Keeper {
	return []ledger.Keeper{{Kind: "question", Load: loadQuestion, Judge: judgeQuestion, Put: putQuestion, Withdraw: withdrawQuestion}}
}

func loadQuestion(ctx context.Context, q *query.Queries, id string, _ map[string]string) (t ledger.Thing, err error) {
	r, err := q.Question(ctx, id)
	if err != nil {
		return t, ledger.Found(err)
	}
	path := "/questions?airframe=" + r.AirframeID
	return ledger.Thing{Kind: "question", ID: id, Title: r.Text, Path: path, After: path, Seen: r.Revised, Withdrawn: r.Withdrawn, Fields: []ledger.ThingField{
		{Key: "text", Label: "What is asked", Value: r.Text}, {Key: "whom", Label: "Of whom", Value: r.Whom}, {Key: "by_day", Label: "Answer wanted by", Value: r.ByDay}, {Key: "evidence", Label: "By what it is answered; what each says", Value: r.Evidence},
		{Key: "provisional", Label: "Goes on so until then (empty: it waits)", Value: r.Provisional}, {Key: "again", Label: "Look again on", Value: r.Again},
	}}, nil
}

func judgeQuestion(_ context.Context, _ *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	if values == nil {
		return NewQuestion{Text: t.Field("text")}, nil
	}
	n := NewQuestion{Sort: Question, Text: values["text"], Whom: values["whom"], By: values["by_day"], Evidence: values["evidence"], Provisional: values["provisional"], Again: values["again"]}
	n.texts(time.Time{}, wrong)
	return n, nil
}

func putQuestion(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	var n NewQuestion
	if err := json.Unmarshal(judged, &n); err != nil {
		return err
	}
	return q.ChangeQuestion(ctx, query.ChangeQuestionParams{Text: n.Text, Whom: n.Whom, ByDay: n.By, Evidence: n.Evidence, Provisional: n.Provisional, Again: n.Again, Revised: e.Seq, ID: id})
}

func withdrawQuestion(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string, _ json.RawMessage) error {
	return q.WithdrawQuestion(ctx, query.WithdrawQuestionParams{Withdrawn: reason, Revised: e.Seq, ID: id})
}
