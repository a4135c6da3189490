-- +goose Up

-- A row of holes. Its plan is row.Row as JSON, with the texts as typed; its line lies
-- in airframe axes, seen from above (y across) or from the left (z up).
CREATE TABLE rivet_rows (
    id          TEXT PRIMARY KEY,
    assembly_id TEXT NOT NULL REFERENCES assemblies (id),
    name        TEXT NOT NULL,
    plan        TEXT NOT NULL,
    line        TEXT NOT NULL, -- JSON: view, from, to
    final       INTEGER NOT NULL CHECK (final IN (0, 1)), -- the holes are taken to be of final size
    barrier     TEXT NOT NULL DEFAULT '', -- what the builder chose where metals meet
    rivet_hold  TEXT NOT NULL REFERENCES holds (id), -- stands before setting
    bay_id      TEXT REFERENCES bays (id),
    entry       INTEGER NOT NULL REFERENCES journal (seq),
    planned     INTEGER NOT NULL REFERENCES journal (seq), -- that changed its plan or barrier last
    revised     INTEGER NOT NULL REFERENCES journal (seq)  -- that changed anything of it last, holes too
);
CREATE INDEX rivet_rows_by_assembly ON rivet_rows (assembly_id, entry);
CREATE INDEX rivet_rows_by_hold ON rivet_rows (rivet_hold);
CREATE INDEX rivet_rows_by_bay ON rivet_rows (bay_id);

-- The holds that stand before drilling the holes of a row to size: none, one, or the
-- pin holes' and then all others'.
CREATE TABLE drill_holds (
    row_id  TEXT NOT NULL REFERENCES rivet_rows (id),
    hold_id TEXT NOT NULL REFERENCES holds (id),
    entry   INTEGER NOT NULL REFERENCES journal (seq),
    PRIMARY KEY (row_id, hold_id)
) WITHOUT ROWID;
CREATE INDEX drill_holds_by_hold ON drill_holds (hold_id);

CREATE TABLE holes (
    row_id    TEXT NOT NULL REFERENCES rivet_rows (id),
    number    INTEGER NOT NULL,
    along     REAL NOT NULL, -- mm
    across    REAL NOT NULL,
    pose      TEXT NOT NULL, -- '' as the part lies
    state     TEXT NOT NULL,
    clean     INTEGER NOT NULL,
    over      INTEGER NOT NULL,
    spoilt    INTEGER NOT NULL,
    tried     TEXT NOT NULL, -- by the drop-through test
    keep_part TEXT NOT NULL, -- the later part that it stays open for
    keep_step TEXT NOT NULL, -- the later step, in words
    keep_hold TEXT NOT NULL, -- its hold, where it has one
    entry     INTEGER NOT NULL REFERENCES journal (seq),
    revised   INTEGER NOT NULL REFERENCES journal (seq), -- that did something to it last
    PRIMARY KEY (row_id, number)
) WITHOUT ROWID;

-- What was done to each hole, one line for each hole of an entry.
CREATE TABLE operations (
    entry      INTEGER NOT NULL REFERENCES journal (seq),
    row_id     TEXT NOT NULL REFERENCES rivet_rows (id),
    number     INTEGER NOT NULL,
    submission TEXT NOT NULL, -- id of the entry, that an undo names
    what       TEXT NOT NULL,
    cause      TEXT NOT NULL,
    crew       TEXT NOT NULL, -- who held what, for rivets
    by_name    TEXT NOT NULL,
    at         TEXT NOT NULL,
    fastener   TEXT NOT NULL, -- what went in
    before     TEXT NOT NULL, -- JSON: the hole as it was
    undone     INTEGER NOT NULL DEFAULT 0 CHECK (undone IN (0, 1)),
    PRIMARY KEY (row_id, entry, number)
) WITHOUT ROWID;
CREATE INDEX operations_that_count ON operations (row_id, entry, number) WHERE undone = 0 AND what IN ('set', 'bad');

-- How far each row is, counted and judged.
CREATE TABLE row_standings (
    row_id     TEXT PRIMARY KEY,
    arithmetic INTEGER NOT NULL,
    revised    INTEGER NOT NULL, -- of the row
    says       TEXT NOT NULL     -- JSON
);

-- +goose Down
DROP TABLE row_standings;
DROP TABLE operations;
DROP TABLE holes;
DROP TABLE drill_holds;
DROP TABLE rivet_rows;
