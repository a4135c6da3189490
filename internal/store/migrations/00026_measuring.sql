-- What an instrument that speaks sent with a reading, as it came.

-- +goose Up
ALTER TABLE readings ADD COLUMN sent TEXT NOT NULL DEFAULT ''; -- '' where it was typed

-- +goose Down
SELECT 1;
