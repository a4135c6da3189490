-- What was ordered, by when it was promised and when it came; and the stages of the kit with
-- what is saved for them.

-- +goose Up
ALTER TABLE plan_steps ADD COLUMN needs TEXT NOT NULL DEFAULT '[]'; -- JSON: ids of orders

CREATE TABLE plan_orders (
    id          TEXT PRIMARY KEY,
    airframe_id TEXT NOT NULL REFERENCES airframes (id),
    name        TEXT NOT NULL,
    supplier    TEXT NOT NULL,
    lead_days   INTEGER NOT NULL, -- -1 where nobody said
    asked       TEXT NOT NULL,    -- dates; '' for not yet
    promised    TEXT NOT NULL,
    sent        TEXT NOT NULL,
    arrived     TEXT NOT NULL,
    withdrawn   TEXT NOT NULL DEFAULT '',
    entry       INTEGER NOT NULL REFERENCES journal (seq),
    revised     INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX plan_orders_by_airframe ON plan_orders (airframe_id, entry);

CREATE TABLE plan_money (
    airframe_id TEXT PRIMARY KEY REFERENCES airframes (id),
    currency    TEXT NOT NULL,
    saved       INTEGER NOT NULL, -- minor units
    per_month   INTEGER NOT NULL,
    day         INTEGER NOT NULL, -- of the month
    entry       INTEGER NOT NULL REFERENCES journal (seq)
) WITHOUT ROWID;

CREATE TABLE plan_stages (
    id          TEXT PRIMARY KEY,
    airframe_id TEXT NOT NULL REFERENCES airframes (id),
    name        TEXT NOT NULL,
    price       INTEGER NOT NULL, -- minor units
    lead_days   INTEGER NOT NULL,
    needed_by   TEXT NOT NULL,    -- id of a step; '' for none
    paid        INTEGER NOT NULL CHECK (paid IN (0, 1)),
    entry       INTEGER NOT NULL REFERENCES journal (seq),
    revised     INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX plan_stages_by_airframe ON plan_stages (airframe_id, entry);

-- +goose Down
SELECT 1;
