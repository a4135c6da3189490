-- +goose Up
ALTER TABLE practice_attempts ADD COLUMN borne INTEGER NOT NULL DEFAULT 1 CHECK (borne IN (0, 1)); -- the readings bore what was decided
ALTER TABLE practice_attempts ADD COLUMN fewest INTEGER NOT NULL DEFAULT 0; -- readings that it takes at the least; 0 where none are taken
ALTER TABLE practice_attempts ADD COLUMN stood TEXT NOT NULL DEFAULT ''; -- the figures with their ± when it was decided

-- +goose Down
ALTER TABLE practice_attempts DROP COLUMN stood;
ALTER TABLE practice_attempts DROP COLUMN fewest;
ALTER TABLE practice_attempts DROP COLUMN borne;
