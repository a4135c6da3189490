-- +goose Up

-- A setup is one placing of an assembly in a jig or on a bench; without an assembly,
-- of something that belongs to none yet.
CREATE TABLE setups (
    id          TEXT PRIMARY KEY,
    assembly_id TEXT REFERENCES assemblies (id),
    name        TEXT NOT NULL,
    begun_at    TEXT NOT NULL,
    state       INTEGER NOT NULL, -- counts the events since, from 1
    steady_at   TEXT NOT NULL,    -- when the present state began
    last_event  TEXT NOT NULL DEFAULT '', -- that ended the state before; '' in the first
    entry       INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX setups_by_assembly ON setups (assembly_id, entry);

CREATE TABLE checks (
    id            TEXT PRIMARY KEY,
    setup_id      TEXT NOT NULL REFERENCES setups (id),
    position      INTEGER NOT NULL,
    name          TEXT NOT NULL,
    kind          TEXT NOT NULL,
    definition    TEXT NOT NULL, -- JSON: a worksheet check without its readings
    instrument_id TEXT REFERENCES instruments (id), -- the one offered for the next reading
    accepts       TEXT NOT NULL, -- JSON: the conditions of the part that its readings may be taken in
    schools       TEXT NOT NULL, -- JSON: where it differs from its airframe
    after_of      TEXT REFERENCES checks (id), -- the check before the step, when this is the one after it
    entry         INTEGER NOT NULL REFERENCES journal (seq),
    redefined     INTEGER NOT NULL REFERENCES journal (seq), -- that changed its definition last
    revised       INTEGER NOT NULL REFERENCES journal (seq)  -- that changed anything of what it says last, readings too
);
CREATE INDEX checks_by_setup ON checks (setup_id, position);

CREATE TABLE events (
    id       TEXT PRIMARY KEY,
    setup_id TEXT NOT NULL REFERENCES setups (id),
    what     TEXT NOT NULL,
    at       TEXT NOT NULL,
    entry    INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX events_by_setup ON events (setup_id, entry);

CREATE TABLE readings (
    id            TEXT PRIMARY KEY,
    check_id      TEXT NOT NULL REFERENCES checks (id),
    list          TEXT NOT NULL, -- where it stands in the check; '' outside a list
    point         TEXT NOT NULL,
    field         TEXT NOT NULL,
    text          TEXT NOT NULL, -- as typed: the record
    value         REAL NOT NULL, -- mm or degrees: for arithmetic
    instrument_id TEXT NOT NULL REFERENCES instruments (id),
    turned        INTEGER NOT NULL CHECK (turned IN (0, 1)), -- the instrument was held the other way round
    condition     TEXT NOT NULL,
    state         INTEGER NOT NULL, -- of the setup when it was taken
    at            TEXT NOT NULL,
    superseded    TEXT NOT NULL DEFAULT '', -- why; '' while it counts
    stale_event   TEXT REFERENCES events (id),
    entry         INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX readings_by_spot ON readings (check_id, list, point, field, entry);
CREATE INDEX readings_that_count ON readings (check_id, entry) WHERE superseded = '' AND stale_event IS NULL;
CREATE INDEX readings_gone_stale ON readings (check_id, entry) WHERE superseded = '' AND stale_event IS NOT NULL;

-- What each check says, worked out. It follows from the record and from the
-- arithmetic, whose number it carries.
CREATE TABLE standings (
    check_id   TEXT PRIMARY KEY,
    arithmetic INTEGER NOT NULL,
    revised    INTEGER NOT NULL, -- of the check
    basis      TEXT NOT NULL,    -- the airframe and instruments that it rests on, with the entry that changed each last
    says       TEXT NOT NULL     -- JSON
);

-- +goose Down
DROP TABLE standings;
DROP TABLE readings;
DROP TABLE events;
DROP TABLE checks;
DROP TABLE setups;
