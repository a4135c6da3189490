package query

import "context"

type WeatherNote struct {
	ID    string
	Says  string
	At    string
	Entry int64
}

func (q *Queries) WeatherNotes(ctx context.Context) ([]WeatherNote, error) {
	rows, err := q.db.QueryContext(ctx, "SELECT id, says, at, entry FROM weather_notes ORDER BY entry")
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	var items []WeatherNote
	for rows.Next() {
		var i WeatherNote
		if err := rows.Scan(&i.ID, &i.Says, &i.At, &i.Entry); err != nil {
			return nil, err
		}
		items = append(items, i)
	}
	return items, rows.Err()
}

type AddWeatherNoteParams WeatherNote

func (q *Queries) AddWeatherNote(ctx context.Context, arg AddWeatherNoteParams) error {
	_, err := q.db.ExecContext(ctx, "INSERT INTO weather_notes (id, says, at, entry) VALUES (?, ?, ?, ?)", arg.ID, arg.Says, arg.At, arg.Entry)
	return err
}
