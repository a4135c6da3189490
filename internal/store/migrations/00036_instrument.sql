-- +goose Up
ALTER TABLE instruments ADD COLUMN type TEXT NOT NULL DEFAULT ''; -- 'digital-level' and so on; what it does not state is then what is usual; '' for not said
ALTER TABLE instruments ADD COLUMN spot TEXT NOT NULL DEFAULT ''; -- as typed; '' for not stated
ALTER TABLE instruments ADD COLUMN per_degree TEXT NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE instruments DROP COLUMN per_degree;
ALTER TABLE instruments DROP COLUMN spot;
ALTER TABLE instruments DROP COLUMN type;
