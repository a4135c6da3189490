-- Where what was counted in lies: its box, its shelf.

-- +goose Up
ALTER TABLE stock_counts ADD COLUMN place TEXT NOT NULL DEFAULT '';

-- +goose Down
SELECT 1;
