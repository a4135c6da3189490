-- +goose Up
CREATE TABLE plan_aways (
    airframe_id TEXT PRIMARY KEY REFERENCES airframes (id),
    days        TEXT NOT NULL, -- JSON: the first and the last day of each time away
    entry       INTEGER NOT NULL REFERENCES journal (seq)
) WITHOUT ROWID;

-- +goose Down
DROP TABLE plan_aways;
