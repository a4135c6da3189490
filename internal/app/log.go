package app

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"orpine/internal/core/journal"
	"orpine/internal/core/quantity"
	"orpine/internal/core/row"
	"orpine/internal/store/query"
)

// LogEntry is one journal entry in words.
type LogEntry struct {
	Seq    int64
	At     time.Time
	Kind   string
	By     string
	What   string
	Detail string
	Answer string // of a disposition, shown for ever
	Hash   string
}

// Log returns the entries before one (0: the latest), newest first, and whether
// there are more.
func (a *App) Log(ctx context.Context, before int64, most int) (entries []LogEntry, more bool, err error) {
	if before <= 0 {
		before = 1 << 62
	}
	var rows []query.Journal
	err = a.view(ctx, func(q *query.Queries) error {
		rows, err = q.EntriesBefore(ctx, query.EntriesBeforeParams{Before: before, Most: int64(most) + 1})
		return err
	})
	if len(rows) > most {
		rows, more = rows[:most], true
	}
	for _, r := range rows {
		entries = append(entries, a.say(r))
	}
	return entries, more, err
}

// say puts an entry into words.
func (a *App) say(r query.Journal) LogEntry {
	e := LogEntry{Seq: r.Seq, At: a.when(r.At), Kind: r.Kind, By: r.ByName, Hash: r.Hash}
	var c struct {
		Request struct {
			Text, First, Turned, Reason, Note, Answer, Condition string
			Answered, Document                                   string
			What                                                 worded
			InPlace                                              string `json:"in_place"`
			AnsweredBy                                           string `json:"answered_by"`
			Held                                                 bool
			Texts                                                []string
			Numbers                                              []int
			Cause, Crew, By, Second, Place                       string
			Keep                                                 row.Keep
		}
		Facts struct {
			Setup, Check, Place, Says, Unit, Instrument, Name, What, Before, Text, Hold, Assembly, Standing, Permanent string
			Undone                                                                                                     string
			Numbers                                                                                                    []int
			Value, Zero                                                                                                float64
		}
	}
	if err := json.Unmarshal([]byte(r.Content), &c); err != nil {
		e.What = "cannot be read"
		return e
	}
	request, facts := c.Request, c.Facts
	switch r.Kind {
	case journal.Reading:
		e.What = fmt.Sprintf("%s: %s", facts.Place, request.Text)
		e.Detail = join(facts.Setup, facts.Check, facts.Instrument, request.Condition)
		if request.InPlace != "" {
			e.Detail = join(e.Detail, "in place of the one before: "+request.InPlace)
		}
	case journal.Questioned:
		e.What = fmt.Sprintf("%s: %s questioned", facts.Place, request.Text)
		e.Detail = join(facts.Setup, facts.Check, facts.Says)
	case journal.Superseded:
		e.What = fmt.Sprintf("%s: %s taken back", facts.Place, facts.Text)
		e.Detail = join(facts.Setup, facts.Check, request.Reason)
	case journal.Event:
		e.What, e.Detail = facts.Setup+": "+string(request.What), "readings that it disturbs no longer count"
	case journal.ZeroTest:
		e.What = fmt.Sprintf("%s turned end for end: zero %s", facts.Name, quantity.Angle(facts.Zero).Show(2))
		e.Detail = join("first "+request.First, "turned "+request.Turned)
	case journal.Proof:
		unit := map[string]string{"deg": "°", "mm": " mm"}[facts.Unit]
		e.What = fmt.Sprintf("%s: %s found to be %s%s", facts.Name, string(request.What), quantity.Fixed(facts.Value, 2), unit)
		e.Detail = strings.Join(request.Texts, ", ")
	case journal.Changed:
		if facts.Says != "" {
			e.What = cmp.Or(facts.Check, facts.Name) + ": " + facts.Says
			return e
		}
		e.What = facts.Check + ": " + map[bool]string{true: "held down to its support", false: "not held down"}[request.Held]
	case journal.Release:
		e.What = facts.Assembly + ": released, " + facts.Hold
		e.Detail = join("evidence "+facts.Standing, request.Reason)
		if request.AnsweredBy != "" {
			e.Answer = request.AnsweredBy + " answered" + before(" ", request.Answered) + ": " + request.Answer + before(" · kept: ", request.Document)
		}
	case journal.Done:
		e.What, e.Detail = facts.Assembly+": done, "+facts.Hold, join(facts.Permanent, request.Note)
	case journal.Hole:
		numbers, what := request.Numbers, string(request.What)
		if facts.Undone != "" {
			numbers, what = facts.Numbers, facts.Undone+", undone"
		}
		e.What = fmt.Sprintf("%s, %s, hole %s: %s", facts.Assembly, facts.Name, row.Runs(numbers), what)
		e.Detail = join(request.Cause, request.Crew, request.Reason, request.Keep.Part, facts.Says)
	case journal.Looked, journal.Counted, journal.Task, journal.Photo, journal.Moved, journal.Slip:
		e.What = map[string]string{journal.Looked: "Looked at", journal.Task: "Done", journal.Photo: "Photo", journal.Moved: "Put away", journal.Slip: "Slip", journal.Counted: "Counted"}[r.Kind] + ": " + facts.Name
		e.Detail = join(facts.Says, request.Note, request.Second, request.Place)
	case journal.Created:
		e.What = fmt.Sprintf("%s added: %s", facts.What, facts.Name)
		if facts.Before != "" {
			e.Detail = "before this record began: " + facts.Before
		}
	}
	return e
}

func join(parts ...string) string {
	var out []string
	for _, p := range parts {
		if p != "" {
			out = append(out, p)
		}
	}
	return strings.Join(out, " · ")
}

// before puts a word before a text that is there.
func before(word, text string) string {
	if text == "" {
		return ""
	}
	return word + text
}

// worded is a text, or a list of texts.
type worded string

// UnmarshalJSON reads either.
func (w *worded) UnmarshalJSON(data []byte) error {
	var list []string
	if json.Unmarshal(data, &list) == nil {
		*w = worded(strings.Join(list, ", "))
		return nil
	}
	var text string
	err := json.Unmarshal(data, &text)
	*w = worded(text)
	return err
}
