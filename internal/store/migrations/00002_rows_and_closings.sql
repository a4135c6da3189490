-- +goose Up

-- A hold need not be measured for in a setup: riveting a row or closing a bay may
-- ask for other evidence alone. SQLite cannot drop a NOT NULL, so the tables that
-- hang on holds are made anew.
CREATE TABLE holds_anew (
    id          TEXT PRIMARY KEY,
    assembly_id TEXT NOT NULL REFERENCES assemblies (id),
    setup_id    TEXT REFERENCES setups (id), -- that its checks are in
    name        TEXT NOT NULL,
    step        TEXT NOT NULL,
    permanent   TEXT NOT NULL, -- what becomes permanent
    why         TEXT NOT NULL, -- why it matters, in one line
    required    TEXT NOT NULL, -- JSON: hold.Requirement list
    scope       TEXT NOT NULL DEFAULT '' CHECK (scope IN ('', 'pins')), -- of the holes of its rows: all, or the pin holes alone
    entry       INTEGER NOT NULL REFERENCES journal (seq)
);
INSERT INTO holds_anew (id, assembly_id, setup_id, name, step, permanent, why, required, entry)
SELECT id, assembly_id, setup_id, name, step, permanent, why, required, entry FROM holds;

CREATE TABLE releases_anew (
    id          TEXT PRIMARY KEY,
    hold_id     TEXT NOT NULL REFERENCES holds_anew (id),
    by_name     TEXT NOT NULL,
    at          TEXT NOT NULL,
    standing    TEXT NOT NULL,
    reason      TEXT NOT NULL,
    answered_by TEXT NOT NULL, -- a disposition: who with authority answered, what, when, and where it is kept
    answer      TEXT NOT NULL,
    answered    TEXT NOT NULL DEFAULT '',
    document    TEXT NOT NULL DEFAULT '',
    evidence    TEXT NOT NULL, -- JSON, as it was then
    lapsed      TEXT REFERENCES events (id),
    withdrawn   TEXT NOT NULL DEFAULT '', -- what of its evidence was taken away since; '' while it stands
    entry       INTEGER NOT NULL REFERENCES journal (seq)
);
INSERT INTO releases_anew (id, hold_id, by_name, at, standing, reason, answered_by, answer, evidence, lapsed, entry)
SELECT id, hold_id, by_name, at, standing, reason, answered_by, answer, evidence, lapsed, entry FROM releases;

CREATE TABLE steps_anew (
    id         TEXT PRIMARY KEY,
    release_id TEXT NOT NULL UNIQUE REFERENCES releases_anew (id),
    hold_id    TEXT NOT NULL REFERENCES holds_anew (id),
    by_name    TEXT NOT NULL,
    note       TEXT NOT NULL,
    at         TEXT NOT NULL,
    entry      INTEGER NOT NULL REFERENCES journal (seq)
);
INSERT INTO steps_anew SELECT id, release_id, hold_id, by_name, note, at, entry FROM steps;

DROP TABLE steps;
DROP TABLE releases;
DROP TABLE holds;
ALTER TABLE holds_anew RENAME TO holds;
ALTER TABLE releases_anew RENAME TO releases;
ALTER TABLE steps_anew RENAME TO steps;
CREATE INDEX holds_by_assembly ON holds (assembly_id, entry);
CREATE INDEX releases_by_hold ON releases (hold_id, entry);
CREATE INDEX steps_by_hold ON steps (hold_id, entry);

-- A bay is a space that a step closes.
CREATE TABLE bays (
    id          TEXT PRIMARY KEY,
    assembly_id TEXT NOT NULL REFERENCES assemblies (id),
    name        TEXT NOT NULL,
    closed_by   TEXT NOT NULL REFERENCES holds (id),
    entry       INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX bays_by_assembly ON bays (assembly_id, entry);

CREATE TABLE tasks (
    id      TEXT PRIMARY KEY,
    bay_id  TEXT NOT NULL REFERENCES bays (id),
    what    TEXT NOT NULL,
    done_by TEXT NOT NULL DEFAULT '', -- '' while it is open
    done_at TEXT NOT NULL DEFAULT '',
    note    TEXT NOT NULL DEFAULT '', -- why it needs no doing, where it was dropped
    entry   INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX tasks_by_bay ON tasks (bay_id, entry);

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
    entry       INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX rivet_rows_by_assembly ON rivet_rows (assembly_id, entry);
CREATE INDEX rivet_rows_by_hold ON rivet_rows (rivet_hold);

-- The holds that stand before drilling the holes of a row to size: none, one, or the
-- pin holes' and then all others'.
CREATE TABLE drill_holds (
    row_id  TEXT NOT NULL REFERENCES rivet_rows (id),
    hold_id TEXT NOT NULL REFERENCES holds (id),
    PRIMARY KEY (row_id, hold_id)
) WITHOUT ROWID;

CREATE TABLE holes (
    row_id    TEXT NOT NULL REFERENCES rivet_rows (id),
    number    INTEGER NOT NULL,
    along     REAL NOT NULL, -- mm
    across    REAL NOT NULL,
    pose      TEXT NOT NULL, -- '' as the part lies
    state     TEXT NOT NULL,
    clean     INTEGER NOT NULL DEFAULT 0,
    over      INTEGER NOT NULL DEFAULT 0,
    spoilt    INTEGER NOT NULL DEFAULT 0,
    tried     TEXT NOT NULL DEFAULT '', -- by the drop-through test
    keep_part TEXT NOT NULL DEFAULT '', -- the later part that it stays open for
    keep_step TEXT NOT NULL DEFAULT '', -- the later step, in words
    keep_hold TEXT NOT NULL DEFAULT '', -- its hold, where it has one
    PRIMARY KEY (row_id, number)
) WITHOUT ROWID;

-- What was done to each hole, one line for each hole of an entry.
CREATE TABLE hole_deeds (
    entry    INTEGER NOT NULL REFERENCES journal (seq),
    row_id   TEXT NOT NULL REFERENCES rivet_rows (id),
    number   INTEGER NOT NULL,
    what     TEXT NOT NULL,
    cause    TEXT NOT NULL,
    crew     TEXT NOT NULL, -- who held what, for rivets
    fastener TEXT NOT NULL, -- what went in
    before   TEXT NOT NULL, -- JSON: the hole as it was
    undone   INTEGER NOT NULL DEFAULT 0 CHECK (undone IN (0, 1)),
    PRIMARY KEY (row_id, entry, number)
) WITHOUT ROWID;

-- What someone looked at and answers for by name.
CREATE TABLE looks (
    id          TEXT PRIMARY KEY,
    need        TEXT NOT NULL, -- hold.Need
    of          TEXT NOT NULL, -- id of the row, part, bay or hold
    what        TEXT NOT NULL, -- which of its preparations; '' where there is one thing only
    by_name     TEXT NOT NULL,
    second_name TEXT NOT NULL,
    note        TEXT NOT NULL,
    at          TEXT NOT NULL,
    stale_event TEXT REFERENCES events (id),
    entry       INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX looks_by_of ON looks (of, entry);

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
    entry       INTEGER NOT NULL REFERENCES journal (seq)
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

-- Pictures, decoded and written anew, so that nothing but the picture is kept.
CREATE TABLE photos (
    id      TEXT PRIMARY KEY,
    of      TEXT NOT NULL, -- id of the bay, part, hold or slip
    caption TEXT NOT NULL,
    type    TEXT NOT NULL CHECK (type IN ('image/jpeg', 'image/png')),
    width   INTEGER NOT NULL,
    height  INTEGER NOT NULL,
    sha256  TEXT NOT NULL, -- of content
    content BLOB NOT NULL,
    thumb   BLOB NOT NULL,
    at      TEXT NOT NULL,
    entry   INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX photos_by_of ON photos (of, entry);

CREATE TABLE slips (
    id          TEXT PRIMARY KEY,
    airframe_id TEXT NOT NULL REFERENCES airframes (id),
    assembly_id TEXT REFERENCES assemblies (id),
    step        TEXT NOT NULL,
    place       TEXT NOT NULL, -- where it was logged from, in words
    cause       TEXT NOT NULL,
    what        TEXT NOT NULL DEFAULT '',
    found       TEXT NOT NULL DEFAULT '', -- how
    minutes     INTEGER NOT NULL DEFAULT 0,
    money       INTEGER NOT NULL DEFAULT 0, -- minor units
    currency    TEXT NOT NULL DEFAULT 'EUR',
    parts       TEXT NOT NULL DEFAULT '',
    lesson      TEXT NOT NULL DEFAULT '',
    at          TEXT NOT NULL,
    entry       INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX slips_by_airframe ON slips (airframe_id, entry);

-- +goose Down
DROP TABLE slips;
DROP TABLE photos;
DROP TABLE stock_counts;
DROP TABLE notices;
DROP TABLE parts;
DROP TABLE looks;
DROP TABLE hole_deeds;
DROP TABLE holes;
DROP TABLE drill_holds;
DROP TABLE rivet_rows;
DROP TABLE counts;
DROP TABLE tasks;
DROP TABLE bays;
-- The columns that holds and releases gained stay: they are empty in a workshop of
-- before.
