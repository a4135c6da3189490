-- What lies between an instrument and the part: a board that may be bowed and is turned
-- round for a second look, a string that a coordinate is read from.

-- +goose Up
ALTER TABLE readings ADD COLUMN aid TEXT NOT NULL DEFAULT '' CHECK (aid IN ('', 'turned round', 'none')); -- the board turned round; no string, but the airframe itself

-- +goose Down
SELECT 1;
