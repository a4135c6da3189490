-- Joints: which holds guard the same holes, which setups were measured for them, what was done
-- without a release; and, worked out, whether a release stands.

-- +goose Up
ALTER TABLE holds ADD COLUMN joint TEXT NOT NULL DEFAULT ''; -- id of the hold whose joint it guards; its own where somebody said that it guards others; '' where nobody was asked
ALTER TABLE holds ADD COLUMN fact TEXT NOT NULL DEFAULT '';  -- how its step was done without a release: without release, before; '' else

CREATE TABLE joint_setups (
    setup_id TEXT NOT NULL REFERENCES setups (id),
    hold_id  TEXT NOT NULL REFERENCES holds (id), -- whose joint it was measured for
    entry    INTEGER NOT NULL REFERENCES journal (seq),
    PRIMARY KEY (setup_id, hold_id)
) WITHOUT ROWID;
CREATE INDEX joint_setups_by_hold ON joint_setups (hold_id);

CREATE TABLE facts (
    id      TEXT PRIMARY KEY,
    hold_id TEXT NOT NULL REFERENCES holds (id),
    row_id  TEXT NOT NULL, -- '' for a step that has no row
    numbers TEXT NOT NULL, -- of its holes, "3-7"; '' for all
    how     TEXT NOT NULL CHECK (how IN ('without release', 'before')),
    by_name TEXT NOT NULL, -- who did it
    day     TEXT NOT NULL, -- as known; '' for not known
    reason  TEXT NOT NULL,
    at      TEXT NOT NULL,
    entry   INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX facts_by_hold ON facts (hold_id, entry);

CREATE TABLE gate_ends (
    release_id TEXT PRIMARY KEY,
    hold_id    TEXT NOT NULL,
    arithmetic INTEGER NOT NULL, -- number of the rules and of the arithmetic
    signed     TEXT NOT NULL,    -- JSON: the lines as they are reckoned at the signature's own entry
    basis      TEXT NOT NULL,    -- JSON: ids of all that the lines rest on
    ended      INTEGER NOT NULL, -- the entry that made a line worse; 0 while it stands
    cause      TEXT NOT NULL,    -- its id
    why        TEXT NOT NULL,    -- in words
    wrong      TEXT NOT NULL,    -- of a spent one: on what that was wrong it rested
    entry      INTEGER NOT NULL  -- of the signature
);
CREATE INDEX gate_ends_by_hold ON gate_ends (hold_id);
CREATE INDEX holds_waiting ON holds (released) WHERE released IS NOT NULL AND done = 0;

CREATE VIEW holds_now AS
SELECT h.id, h.assembly_id, h.setup_id, h.name, h.step, h.permanent, h.why, h.required, h.scope, h.released, h.released_by, h.done, h.entry, h.revised, h.withdrawn, h.joint, h.fact,
    CAST(coalesce(e.ended, 0) AS INTEGER) AS ended, CAST(coalesce(e.why, '') AS TEXT) AS ended_why
FROM holds h LEFT JOIN gate_ends e ON e.release_id = h.released;

-- +goose Down
SELECT 1;
