-- The limits that a check had first: a go under wider ones says so. Events that were taken back.

-- +goose Up
ALTER TABLE checks ADD COLUMN first_limits TEXT NOT NULL DEFAULT ''; -- JSON; '' while it never had any
ALTER TABLE events ADD COLUMN undone TEXT NOT NULL DEFAULT '';        -- why it was taken back; '' while it counts

-- +goose Down
SELECT 1;
