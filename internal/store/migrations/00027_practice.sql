-- What was practised, in a file of its own (local.db): of this machine, in no journal and no archive.

-- +goose Up
CREATE TABLE practice_attempts (
    id       TEXT PRIMARY KEY,
    number   INTEGER NOT NULL UNIQUE,
    exercise TEXT NOT NULL,
    seed     INTEGER NOT NULL,
    who      TEXT NOT NULL,
    setup_id TEXT NOT NULL,
    begun_at TEXT NOT NULL,
    ended_at TEXT NOT NULL DEFAULT '', -- '' while it is played
    drilled  INTEGER NOT NULL DEFAULT 0 CHECK (drilled IN (0, 1)),
    good     INTEGER NOT NULL DEFAULT 0 CHECK (good IN (0, 1)), -- it might have been drilled
    readings INTEGER NOT NULL DEFAULT 0,
    missed   TEXT NOT NULL DEFAULT '[]' -- JSON: what was not seen, in words
);
CREATE INDEX practice_attempts_by_who ON practice_attempts (who, exercise);

-- +goose Down
DROP TABLE practice_attempts;
