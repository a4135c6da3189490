-- +goose Up
CREATE TABLE weather_notes (
    id    TEXT PRIMARY KEY,
    says  TEXT NOT NULL,
    at    TEXT NOT NULL,
    entry INTEGER NOT NULL REFERENCES journal (seq)
);

-- +goose Down
DROP TABLE weather_notes;
