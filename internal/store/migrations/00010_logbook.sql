-- +goose Up
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
    currency    TEXT NOT NULL,
    parts       TEXT NOT NULL DEFAULT '',
    lesson      TEXT NOT NULL DEFAULT '',
    at          TEXT NOT NULL,
    entry       INTEGER NOT NULL REFERENCES journal (seq),
    revised     INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX slips_by_airframe ON slips (airframe_id, entry);
CREATE INDEX slips_that_teach ON slips (airframe_id, entry) WHERE lesson <> '';

-- +goose Down
DROP TABLE slips;
