-- A bay that was closed and opened again: why, what was drilled out for it, and the steps
-- done since its closing that rest on it.

-- +goose Up
CREATE TABLE reopenings (
    id        TEXT PRIMARY KEY,
    bay_id    TEXT NOT NULL REFERENCES bays (id),
    by_name   TEXT NOT NULL,
    reason    TEXT NOT NULL,
    drilled   TEXT NOT NULL, -- what was drilled out or cut; '' for nothing
    unsettled TEXT NOT NULL, -- JSON: the names of the steps
    at        TEXT NOT NULL,
    entry     INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX reopenings_by_bay ON reopenings (bay_id, entry);

-- +goose Down
SELECT 1;
