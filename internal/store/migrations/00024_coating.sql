-- Makers' tables of what cures, and the clocks that run: mixes, coats, cures, tanks.

-- +goose Up
CREATE TABLE materials (
    id          TEXT PRIMARY KEY,
    name        TEXT NOT NULL,
    lines       TEXT NOT NULL, -- JSON: the maker's table, by temperature
    least       INTEGER NOT NULL, -- passes, 1 for a single one
    most        INTEGER NOT NULL,
    stop        TEXT NOT NULL, -- the rule by which it is enough
    caution     TEXT NOT NULL,
    withdrawn   TEXT NOT NULL DEFAULT '',
    entry       INTEGER NOT NULL REFERENCES journal (seq),
    revised     INTEGER NOT NULL REFERENCES journal (seq)
);

CREATE TABLE clocks (
    id          TEXT PRIMARY KEY,
    airframe_id TEXT NOT NULL REFERENCES airframes (id),
    assembly_id TEXT REFERENCES assemblies (id),
    step_id     TEXT NOT NULL, -- that it cures for; '' for none
    sort        TEXT NOT NULL, -- mix, coat, cure, tank
    what        TEXT NOT NULL,
    material_id TEXT NOT NULL, -- '' for one without a table
    sides       INTEGER NOT NULL,
    temperature REAL NOT NULL,
    lasts       TEXT NOT NULL, -- JSON: hours of each of its times, at that temperature
    passes      TEXT NOT NULL, -- JSON: what was done, and when
    ended_at    TEXT NOT NULL DEFAULT '',
    outcome     TEXT NOT NULL DEFAULT '',
    withdrawn   TEXT NOT NULL DEFAULT '',
    entry       INTEGER NOT NULL REFERENCES journal (seq),
    revised     INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX clocks_by_airframe ON clocks (airframe_id, entry);
CREATE INDEX clocks_running ON clocks (ended_at) WHERE ended_at = '';

-- +goose Down
SELECT 1;
