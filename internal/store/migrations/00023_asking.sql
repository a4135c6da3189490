-- Questions, decisions that were put off, and what contradicts itself in text, drawing and
-- edition; with what each freezes.

-- +goose Up
CREATE TABLE questions (
    id          TEXT PRIMARY KEY,
    airframe_id TEXT NOT NULL REFERENCES airframes (id),
    sort        TEXT NOT NULL, -- question, decision, contradiction
    text        TEXT NOT NULL,
    whom        TEXT NOT NULL, -- is asked; of a contradiction: text, drawing and edition
    by_day      TEXT NOT NULL, -- '' for none
    evidence    TEXT NOT NULL, -- by which it is answered
    provisional TEXT NOT NULL, -- goes on so until it is answered
    again       TEXT NOT NULL, -- when to look again; a day, '' for none
    freezes     TEXT NOT NULL, -- JSON: what waits for it
    last        TEXT NOT NULL, -- of a decision: the step after which it is too late
    answer      TEXT NOT NULL DEFAULT '',
    answered_by TEXT NOT NULL DEFAULT '',
    answered_at TEXT NOT NULL DEFAULT '',
    asked_at    TEXT NOT NULL,
    withdrawn   TEXT NOT NULL DEFAULT '',
    entry       INTEGER NOT NULL REFERENCES journal (seq),
    revised     INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX questions_by_airframe ON questions (airframe_id, entry);

-- +goose Down
SELECT 1;
