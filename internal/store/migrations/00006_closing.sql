-- +goose Up

-- A bay is a space that a step closes.
CREATE TABLE bays (
    id          TEXT PRIMARY KEY,
    assembly_id TEXT NOT NULL REFERENCES assemblies (id),
    name        TEXT NOT NULL,
    closed_by   TEXT NOT NULL REFERENCES holds (id),
    entry       INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX bays_by_assembly ON bays (assembly_id, entry);
CREATE INDEX bays_by_hold ON bays (closed_by);

CREATE TABLE tasks (
    id       TEXT PRIMARY KEY,
    bay_id   TEXT NOT NULL REFERENCES bays (id),
    what     TEXT NOT NULL,
    position INTEGER NOT NULL, -- among those of one entry
    done_by  TEXT NOT NULL DEFAULT '', -- '' while it is open
    done_at  TEXT NOT NULL DEFAULT '',
    note     TEXT NOT NULL DEFAULT '', -- why it needs no doing, where it was dropped
    entry    INTEGER NOT NULL REFERENCES journal (seq),
    revised  INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX tasks_by_bay ON tasks (bay_id, entry, position);

-- Things counted into a bay (above 0) and out of it (below).
CREATE TABLE counts (
    id      TEXT PRIMARY KEY,
    bay_id  TEXT NOT NULL REFERENCES bays (id),
    thing   TEXT NOT NULL,
    number  INTEGER NOT NULL,
    by_name TEXT NOT NULL,
    at      TEXT NOT NULL,
    entry   INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX counts_by_bay ON counts (bay_id, entry);

-- +goose Down
DROP TABLE counts;
DROP TABLE tasks;
DROP TABLE bays;
