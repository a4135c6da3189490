-- +goose Up

-- The journal is the record: entries are added and never touched again.
CREATE TABLE journal (
    seq     INTEGER PRIMARY KEY,
    id      TEXT NOT NULL UNIQUE, -- made by whoever submitted it
    at      TEXT NOT NULL,        -- RFC 3339, UTC
    kind    TEXT NOT NULL,
    by_name TEXT NOT NULL,
    content TEXT NOT NULL,        -- JSON
    prev    TEXT NOT NULL,
    hash    TEXT NOT NULL
);
-- +goose StatementBegin
CREATE TRIGGER journal_is_not_edited BEFORE UPDATE ON journal
BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER journal_is_not_deleted BEFORE DELETE ON journal
BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END;
-- +goose StatementEnd

-- Every other row names the journal entry that made it.
CREATE TABLE airframes (
    id          TEXT PRIMARY KEY,
    name        TEXT NOT NULL UNIQUE,
    description TEXT NOT NULL,
    length_unit TEXT NOT NULL CHECK (length_unit IN ('mm', 'in')),
    schools     TEXT NOT NULL DEFAULT '{}', -- JSON: the answer to each question of school; the first when it is not named
    entry       INTEGER NOT NULL REFERENCES journal (seq)
);

CREATE TABLE assemblies (
    id          TEXT PRIMARY KEY,
    airframe_id TEXT NOT NULL REFERENCES airframes (id),
    name        TEXT NOT NULL,
    shape       TEXT NOT NULL, -- JSON: the dimensions it is drawn from
    before_us   TEXT NOT NULL, -- what had become permanent before the record began; '' for nothing
    entry       INTEGER NOT NULL REFERENCES journal (seq),
    UNIQUE (airframe_id, name)
);

CREATE TABLE instruments (
    id         TEXT PRIMARY KEY,
    name       TEXT NOT NULL UNIQUE,
    sort       TEXT NOT NULL, -- level, tape, rule and so on
    measures   TEXT NOT NULL CHECK (measures IN ('length', 'angle')),
    resolution TEXT NOT NULL, -- as typed; '' for not known
    offset_max TEXT NOT NULL,
    spread     TEXT NOT NULL,
    own        TEXT NOT NULL, -- of a board: its own angle above the chord line, as typed
    due_days   INTEGER NOT NULL, -- a proof is good for so many days; 0: the same day for what shows angles, for ever for the others
    entry      INTEGER NOT NULL REFERENCES journal (seq)
);

CREATE TABLE zero_tests (
    id            TEXT PRIMARY KEY,
    instrument_id TEXT NOT NULL REFERENCES instruments (id),
    first         TEXT NOT NULL, -- as typed
    turned        TEXT NOT NULL,
    zero          REAL NOT NULL, -- degrees
    at            TEXT NOT NULL,
    entry         INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX zero_tests_by_instrument ON zero_tests (instrument_id, entry);

-- What an instrument was found to do: the spread of five placings on one spot, or
-- the bound of its offset from a known length.
CREATE TABLE proofs (
    id            TEXT PRIMARY KEY,
    instrument_id TEXT NOT NULL REFERENCES instruments (id),
    what          TEXT NOT NULL CHECK (what IN ('spread', 'offset')),
    texts         TEXT NOT NULL, -- JSON: as typed; the placings, or the known length and what was shown
    value         REAL NOT NULL, -- mm or degrees
    at            TEXT NOT NULL,
    entry         INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX proofs_by_instrument ON proofs (instrument_id, entry);

-- A setup is one placing of an assembly in a jig or on a bench.
CREATE TABLE setups (
    id          TEXT PRIMARY KEY,
    assembly_id TEXT NOT NULL REFERENCES assemblies (id),
    name        TEXT NOT NULL,
    begun_at    TEXT NOT NULL,
    state       INTEGER NOT NULL DEFAULT 1, -- counts the events since
    steady_at   TEXT NOT NULL,              -- when the present state began
    entry       INTEGER NOT NULL REFERENCES journal (seq)
);

CREATE TABLE checks (
    id            TEXT PRIMARY KEY,
    setup_id      TEXT NOT NULL REFERENCES setups (id),
    position      INTEGER NOT NULL,
    name          TEXT NOT NULL,
    definition    TEXT NOT NULL, -- JSON: a worksheet check without its readings
    instrument_id TEXT REFERENCES instruments (id), -- the one offered for the next reading
    accepts       TEXT NOT NULL, -- JSON: the conditions of the part that its readings may be taken in
    schools       TEXT NOT NULL DEFAULT '{}', -- JSON: where it differs from its airframe
    after_of      TEXT REFERENCES checks (id), -- the check before the step, when this is the one after it
    entry         INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX checks_by_setup ON checks (setup_id, position);

CREATE TABLE events (
    id       TEXT PRIMARY KEY,
    setup_id TEXT NOT NULL REFERENCES setups (id),
    what     TEXT NOT NULL,
    at       TEXT NOT NULL,
    entry    INTEGER NOT NULL REFERENCES journal (seq)
);

CREATE TABLE readings (
    id            TEXT PRIMARY KEY,
    check_id      TEXT NOT NULL REFERENCES checks (id),
    list          TEXT NOT NULL, -- where it stands in the check; '' outside a list
    point         TEXT NOT NULL,
    field         TEXT NOT NULL,
    text          TEXT NOT NULL, -- as typed: the record
    value         REAL NOT NULL, -- mm or degrees: for arithmetic
    instrument_id TEXT REFERENCES instruments (id),
    turned        INTEGER NOT NULL CHECK (turned IN (0, 1)), -- the instrument was held the other way round
    condition     TEXT NOT NULL,
    state         INTEGER NOT NULL, -- of the setup when it was taken
    at            TEXT NOT NULL,
    superseded    TEXT NOT NULL DEFAULT '', -- why; '' while it counts
    stale_event   TEXT REFERENCES events (id),
    entry         INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX readings_by_check ON readings (check_id, entry);

CREATE TABLE holds (
    id          TEXT PRIMARY KEY,
    assembly_id TEXT NOT NULL REFERENCES assemblies (id),
    setup_id    TEXT NOT NULL REFERENCES setups (id),
    name        TEXT NOT NULL,
    step        TEXT NOT NULL,
    permanent   TEXT NOT NULL, -- what becomes permanent
    why         TEXT NOT NULL, -- why it matters, in one line
    required    TEXT NOT NULL, -- JSON: hold.Requirement list
    entry       INTEGER NOT NULL REFERENCES journal (seq)
);

CREATE TABLE releases (
    id          TEXT PRIMARY KEY,
    hold_id     TEXT NOT NULL REFERENCES holds (id),
    by_name     TEXT NOT NULL,
    at          TEXT NOT NULL,
    standing    TEXT NOT NULL,
    reason      TEXT NOT NULL,
    answered_by TEXT NOT NULL,
    answer      TEXT NOT NULL,
    evidence    TEXT NOT NULL, -- JSON, as it was then
    lapsed      TEXT REFERENCES events (id),
    entry       INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX releases_by_hold ON releases (hold_id, entry);

-- An irreversible step that was done; it spends its release.
CREATE TABLE steps (
    id         TEXT PRIMARY KEY,
    release_id TEXT NOT NULL UNIQUE REFERENCES releases (id),
    hold_id    TEXT NOT NULL REFERENCES holds (id),
    by_name    TEXT NOT NULL,
    note       TEXT NOT NULL,
    at         TEXT NOT NULL,
    entry      INTEGER NOT NULL REFERENCES journal (seq)
);

-- +goose Down
DROP TABLE steps;
DROP TABLE releases;
DROP TABLE holds;
DROP TABLE readings;
DROP TABLE events;
DROP TABLE checks;
DROP TABLE setups;
DROP TABLE proofs;
DROP TABLE zero_tests;
DROP TABLE instruments;
DROP TABLE assemblies;
DROP TABLE airframes;
DROP TABLE journal;
