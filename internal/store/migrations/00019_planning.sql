-- The order of work: steps that were added by hand (others follow from holds, rows, checks
-- and bays), the builder's own evenings, visits of helpers, and the hours that were worked.

-- +goose Up
CREATE TABLE plan_steps (
    id          TEXT PRIMARY KEY,
    airframe_id TEXT NOT NULL REFERENCES airframes (id),
    name        TEXT NOT NULL,
    assembly_id TEXT REFERENCES assemblies (id),
    kind        TEXT NOT NULL,    -- of work, for the builder's pace
    hours       TEXT NOT NULL,    -- JSON: low, likely, high
    people      INTEGER NOT NULL,
    whole       INTEGER NOT NULL CHECK (whole IN (0, 1)),
    cure        REAL NOT NULL,    -- hours; 0 for none
    after       TEXT NOT NULL,    -- JSON: ids of steps, "hold:", "row:", "check:", "task:" and an id for those that follow from elsewhere
    state       TEXT NOT NULL,    -- open, begun, done
    done_at     TEXT NOT NULL,
    withdrawn   TEXT NOT NULL DEFAULT '',
    entry       INTEGER NOT NULL REFERENCES journal (seq),
    revised     INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX plan_steps_by_airframe ON plan_steps (airframe_id, entry);

CREATE TABLE plan_weeks (
    airframe_id TEXT PRIMARY KEY REFERENCES airframes (id),
    days        TEXT NOT NULL, -- JSON: by mon to sun, from and hours as typed
    entry       INTEGER NOT NULL REFERENCES journal (seq)
) WITHOUT ROWID;

CREATE TABLE plan_visits (
    id          TEXT PRIMARY KEY,
    airframe_id TEXT NOT NULL REFERENCES airframes (id),
    from_wall   TEXT NOT NULL, -- on the wall clock of the workshop
    hours       REAL NOT NULL,
    people      INTEGER NOT NULL, -- in all, the builder included
    who         TEXT NOT NULL,
    withdrawn   TEXT NOT NULL DEFAULT '',
    entry       INTEGER NOT NULL REFERENCES journal (seq),
    revised     INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX plan_visits_by_airframe ON plan_visits (airframe_id, entry);

CREATE TABLE work_sessions (
    id          TEXT PRIMARY KEY,
    airframe_id TEXT NOT NULL REFERENCES airframes (id),
    who         TEXT NOT NULL,
    category    TEXT NOT NULL,
    step_id     TEXT NOT NULL, -- '' for none
    assembly_id TEXT REFERENCES assemblies (id),
    from_at     TEXT NOT NULL,
    to_at       TEXT NOT NULL, -- '' while it runs
    entry       INTEGER NOT NULL REFERENCES journal (seq),
    revised     INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX work_sessions_by_airframe ON work_sessions (airframe_id, from_at);

-- +goose Down
SELECT 1;
