-- +goose Up
ALTER TABLE readings ADD COLUMN moved INTEGER NOT NULL DEFAULT 0; -- a further placing that was lifted off and set a little beside the last

-- +goose Down
ALTER TABLE readings DROP COLUMN moved;
