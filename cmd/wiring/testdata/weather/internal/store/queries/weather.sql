-- name: WeatherNotes :many
SELECT * FROM weather_notes ORDER BY entry;

-- name: AddWeatherNote :exec
INSERT INTO weather_notes (id, says, at, entry) VALUES (?, ?, ?, ?);
