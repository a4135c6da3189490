-- +goose Up
ALTER TABLE checks ADD COLUMN limits_set INTEGER NOT NULL DEFAULT 0; -- the entry that set its limits last, other than with the check itself

-- +goose Down
ALTER TABLE checks DROP COLUMN limits_set;
