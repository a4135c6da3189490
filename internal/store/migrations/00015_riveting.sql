-- A rivet that was keyed and not set after all counts too, to be left out.

-- +goose Up
DROP INDEX IF EXISTS operations_that_count;
CREATE INDEX operations_that_count ON operations (row_id, entry, number) WHERE undone = 0 AND what IN ('set', 'bad', 'not set');

-- +goose Down
SELECT 1;
