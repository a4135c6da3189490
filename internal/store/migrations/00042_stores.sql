-- +goose Up
-- What is counted in has lots, and days after which it is out of date. Which lot is drawn from, and from which a
-- hole's rivet was, where that was told afterwards.
ALTER TABLE stock_counts ADD COLUMN lot TEXT NOT NULL DEFAULT '';
ALTER TABLE stock_counts ADD COLUMN best TEXT NOT NULL DEFAULT ''; -- the last day on which it may be used; '' for none
CREATE TABLE lots_used (
    id          TEXT PRIMARY KEY,
    airframe_id TEXT NOT NULL REFERENCES airframes (id),
    name        TEXT NOT NULL, -- as it was counted in
    lot         TEXT NOT NULL,
    at          TEXT NOT NULL,
    entry       INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX lots_used_by_airframe ON lots_used (airframe_id, entry);
CREATE TABLE hole_lots (
    id      TEXT PRIMARY KEY,
    row_id  TEXT NOT NULL REFERENCES rivet_rows (id),
    numbers TEXT NOT NULL, -- JSON: of holes
    lot     TEXT NOT NULL,
    by_name TEXT NOT NULL,
    at      TEXT NOT NULL,
    entry   INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX hole_lots_by_row ON hole_lots (row_id, entry);
-- What an inspection found of stock, holes and pots that a notice means.
CREATE TABLE notice_things (
    notice_id TEXT NOT NULL REFERENCES notices (id),
    thing     TEXT NOT NULL, -- stock, row or clock, what it is of, and its lot
    answer    TEXT NOT NULL, -- affected or not affected
    found     TEXT NOT NULL,
    by_name   TEXT NOT NULL,
    at        TEXT NOT NULL,
    entry     INTEGER NOT NULL REFERENCES journal (seq),
    PRIMARY KEY (notice_id, thing)
) WITHOUT ROWID;

-- +goose Down
SELECT 1;
