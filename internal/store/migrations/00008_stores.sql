-- +goose Up
CREATE TABLE parts (
    id          TEXT PRIMARY KEY,
    airframe_id TEXT NOT NULL REFERENCES airframes (id),
    number      TEXT NOT NULL,
    name        TEXT NOT NULL,
    hand        TEXT NOT NULL,
    supplier    TEXT NOT NULL,
    lot         TEXT NOT NULL,
    process     TEXT NOT NULL,
    condition   TEXT NOT NULL, -- on arrival
    place       TEXT NOT NULL,
    clue        TEXT NOT NULL, -- how it lies when it is right
    assembly_id TEXT REFERENCES assemblies (id), -- where it went
    row_id      TEXT REFERENCES rivet_rows (id),
    check_id    TEXT REFERENCES checks (id), -- that compares it with its twin
    entry       INTEGER NOT NULL REFERENCES journal (seq),
    revised     INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX parts_by_airframe ON parts (airframe_id, entry);

CREATE TABLE notices (
    id          TEXT PRIMARY KEY,
    airframe_id TEXT NOT NULL REFERENCES airframes (id),
    title       TEXT NOT NULL,
    numbers     TEXT NOT NULL, -- JSON lists
    lots        TEXT NOT NULL,
    processes   TEXT NOT NULL,
    note        TEXT NOT NULL,
    at          TEXT NOT NULL,
    entry       INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX notices_by_airframe ON notices (airframe_id, entry);

-- Rivets, clecos and shims counted in; what is set and spoilt follows from the holes.
CREATE TABLE stock_counts (
    id          TEXT PRIMARY KEY,
    airframe_id TEXT NOT NULL REFERENCES airframes (id),
    sort        TEXT NOT NULL, -- rivet, cleco, shim
    name        TEXT NOT NULL,
    number      INTEGER NOT NULL,
    note        TEXT NOT NULL,
    at          TEXT NOT NULL,
    entry       INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX stock_counts_by_airframe ON stock_counts (airframe_id, entry);

-- +goose Down
DROP TABLE stock_counts;
DROP TABLE notices;
DROP TABLE parts;
