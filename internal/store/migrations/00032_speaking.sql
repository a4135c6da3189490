-- +goose Up
ALTER TABLE instruments ADD COLUMN serial TEXT NOT NULL DEFAULT ''; -- of the first that spoke as it; '' for none yet
ALTER TABLE instruments ADD COLUMN sent_step TEXT NOT NULL DEFAULT ''; -- the step that it says it has, where that is coarser than its card's

-- +goose Down
ALTER TABLE instruments DROP COLUMN sent_step;
ALTER TABLE instruments DROP COLUMN serial;
