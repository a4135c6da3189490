-- +goose Up

-- A hold stands before a step that cannot be undone. Which release is in force and
-- whether the step is done stand with it, for every hole of a row asks.
CREATE TABLE holds (
    id          TEXT PRIMARY KEY,
    assembly_id TEXT NOT NULL REFERENCES assemblies (id),
    setup_id    TEXT REFERENCES setups (id), -- that its checks are in
    name        TEXT NOT NULL,
    step        TEXT NOT NULL,
    permanent   TEXT NOT NULL, -- what becomes permanent
    why         TEXT NOT NULL, -- why it matters, in one line
    required    TEXT NOT NULL, -- JSON: hold.Requirement list
    scope       TEXT NOT NULL CHECK (scope IN ('', 'pins')), -- of the holes of its rows: all, or the pin holes alone
    released    TEXT REFERENCES releases (id), -- the release in force
    released_by TEXT NOT NULL DEFAULT '',
    done        INTEGER NOT NULL DEFAULT 0 CHECK (done IN (0, 1)),
    entry       INTEGER NOT NULL REFERENCES journal (seq),
    revised     INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX holds_by_assembly ON holds (assembly_id, entry);
CREATE INDEX holds_by_setup ON holds (setup_id);

CREATE TABLE releases (
    id          TEXT PRIMARY KEY,
    hold_id     TEXT NOT NULL REFERENCES holds (id),
    by_name     TEXT NOT NULL,
    at          TEXT NOT NULL,
    standing    TEXT NOT NULL,
    reason      TEXT NOT NULL,
    answered_by TEXT NOT NULL, -- a disposition: who with authority answered, what, when, and where it is kept
    answer      TEXT NOT NULL,
    answered    TEXT NOT NULL,
    document    TEXT NOT NULL,
    evidence    TEXT NOT NULL, -- JSON, as it was then
    lapsed      TEXT REFERENCES events (id),
    withdrawn   TEXT NOT NULL DEFAULT '', -- what of its evidence was taken away since; '' while it stands
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
CREATE INDEX steps_by_hold ON steps (hold_id, entry);

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

-- +goose Down
DROP TABLE looks;
DROP TABLE steps;
DROP TABLE releases;
DROP TABLE holds;
