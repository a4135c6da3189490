package app

import (
	"context"
	"encoding/json"

	"orpine/internal/core/journal"
	"orpine/internal/core/part"
	"orpine/internal/store/query"
)

// NewNotice is a maker's notice.
type NewNotice struct {
	ID       string      `json:"-"`
	Airframe string      `json:"airframe"` // id
	Title    string      `json:"title"`
	Names    part.Notice `json:"names"`
	Note     string      `json:"note,omitempty"`
}

// AddNotice keeps a notice; the parts that it names are found by themselves.
func (a *App) AddNotice(ctx context.Context, n NewNotice) error {
	defer a.alone()()
	wrong := Problems{}
	wrong.text("title", &n.Title, maxName, "what is it about?")
	wrong.text("note", &n.Note, maxNote, "")
	if n.Names.Empty() {
		wrong.Add("numbers", "a notice names part numbers, lots or processes")
	}
	if err := wrong.err(); err != nil {
		return err
	}
	var texts []string
	for _, list := range [][]string{n.Names.Numbers, n.Names.Lots, n.Names.Processes} {
		data, err := json.Marshal(append([]string{}, list...))
		if err != nil {
			return err
		}
		texts = append(texts, string(data))
	}
	return a.record(ctx, deed{n.ID, journal.Created, "", n, map[string]any{"what": "notice", "name": n.Title}}, func(q *query.Queries, entry int64) error {
		if _, err := q.Airframe(ctx, n.Airframe); err != nil {
			return err
		}
		return q.AddNotice(ctx, query.AddNoticeParams{ID: n.ID, AirframeID: n.Airframe, Title: n.Title, Numbers: texts[0], Lots: texts[1], Processes: texts[2], Note: n.Note, At: a.time(), Entry: entry})
	})
}
