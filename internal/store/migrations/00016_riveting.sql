-- What was done to a hole beyond being cleaned: formed, primed, drilled over to what, and
-- after which step it is out of reach.

-- +goose Up
ALTER TABLE holes ADD COLUMN work TEXT NOT NULL DEFAULT '';  -- JSON; '' for nothing
ALTER TABLE holes ADD COLUMN until TEXT NOT NULL DEFAULT ''; -- the step after which it cannot be reached; '' for none
CREATE INDEX holes_out_of_reach ON holes (row_id, until) WHERE until <> '';

-- +goose Down
SELECT 1;
