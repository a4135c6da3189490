-- Whatever was entered can be put right: what was done about it, how, why, and what stood
-- there before. A thing that was withdrawn stays in its table, with the reason.

-- +goose Up
CREATE TABLE alterations (
    id       TEXT PRIMARY KEY,
    of_kind  TEXT NOT NULL, -- airframe, assembly, setup, check, point, instrument, hold, row, part, bay, notice, stock
    of_id    TEXT NOT NULL,
    how      TEXT NOT NULL CHECK (how IN ('change', 'correct', 'withdraw')),
    reason   TEXT NOT NULL,
    by_name  TEXT NOT NULL,
    title    TEXT NOT NULL, -- of the thing, as it was called then
    changes  TEXT NOT NULL, -- JSON: of each field its label, what it was and what it is
    releases TEXT NOT NULL, -- JSON: the releases that ended by it, and those of steps done that rested on what was wrong
    at       TEXT NOT NULL,
    entry    INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX alterations_by_of ON alterations (of_id, entry);

ALTER TABLE airframes ADD COLUMN withdrawn TEXT NOT NULL DEFAULT '';   -- why; '' while it counts. Likewise below
ALTER TABLE assemblies ADD COLUMN withdrawn TEXT NOT NULL DEFAULT '';
ALTER TABLE assemblies ADD COLUMN part TEXT NOT NULL DEFAULT '';       -- which part of an aircraft it is: the id of its usual checks; '' for not said
ALTER TABLE assemblies ADD COLUMN revised INTEGER NOT NULL DEFAULT 0;  -- the entry that changed it last
ALTER TABLE setups ADD COLUMN withdrawn TEXT NOT NULL DEFAULT '';
ALTER TABLE setups ADD COLUMN unit TEXT NOT NULL DEFAULT '';           -- of bare lengths, where it belongs to no assembly: mm or in
ALTER TABLE checks ADD COLUMN withdrawn TEXT NOT NULL DEFAULT '';
ALTER TABLE checks ADD COLUMN assumed TEXT NOT NULL DEFAULT '[]';      -- JSON: what of it nobody stated yet, in words
ALTER TABLE checks ADD COLUMN survey TEXT NOT NULL DEFAULT '';         -- id of the check that surveyed the rails which it lies on
ALTER TABLE instruments ADD COLUMN withdrawn TEXT NOT NULL DEFAULT '';
ALTER TABLE holds ADD COLUMN withdrawn TEXT NOT NULL DEFAULT '';
ALTER TABLE releases ADD COLUMN wrong TEXT NOT NULL DEFAULT '';        -- of a step that is done: on what that was wrong it rested
ALTER TABLE rivet_rows ADD COLUMN withdrawn TEXT NOT NULL DEFAULT '';
ALTER TABLE parts ADD COLUMN withdrawn TEXT NOT NULL DEFAULT '';
ALTER TABLE bays ADD COLUMN withdrawn TEXT NOT NULL DEFAULT '';
ALTER TABLE bays ADD COLUMN revised INTEGER NOT NULL DEFAULT 0;
ALTER TABLE notices ADD COLUMN withdrawn TEXT NOT NULL DEFAULT '';
ALTER TABLE notices ADD COLUMN revised INTEGER NOT NULL DEFAULT 0;
ALTER TABLE stock_counts ADD COLUMN withdrawn TEXT NOT NULL DEFAULT '';
ALTER TABLE stock_counts ADD COLUMN revised INTEGER NOT NULL DEFAULT 0;

-- +goose Down
SELECT 1;
