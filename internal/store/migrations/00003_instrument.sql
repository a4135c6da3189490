-- +goose Up
CREATE TABLE instruments (
    id           TEXT PRIMARY KEY,
    name         TEXT NOT NULL UNIQUE,
    sort         TEXT NOT NULL, -- level, tape, rule and so on
    measures     TEXT NOT NULL CHECK (measures IN ('length', 'angle')),
    resolution   TEXT NOT NULL, -- as typed; '' for not known
    offset_max   TEXT NOT NULL,
    spread       TEXT NOT NULL,
    own          TEXT NOT NULL, -- of a board: its own angle above the chord line, as typed
    due_days     INTEGER NOT NULL, -- a proof is good for so many days; 0: the same day for what shows angles, for ever for the others
    zero         REAL NOT NULL DEFAULT 0,  -- degrees, of its last end-for-end test
    zero_at      TEXT NOT NULL DEFAULT '', -- '' for never
    spread_found REAL NOT NULL DEFAULT 0,  -- mm or degrees, of its last proof
    spread_at    TEXT NOT NULL DEFAULT '',
    offset_found REAL NOT NULL DEFAULT 0,
    offset_at    TEXT NOT NULL DEFAULT '',
    entry        INTEGER NOT NULL REFERENCES journal (seq),
    revised      INTEGER NOT NULL REFERENCES journal (seq)
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

-- +goose Down
DROP TABLE proofs;
DROP TABLE zero_tests;
DROP TABLE instruments;
