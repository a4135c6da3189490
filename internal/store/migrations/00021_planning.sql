-- Hours that were written down and stages of the kit are put right.

-- +goose Up
ALTER TABLE work_sessions ADD COLUMN withdrawn TEXT NOT NULL DEFAULT '';
ALTER TABLE plan_stages ADD COLUMN withdrawn TEXT NOT NULL DEFAULT '';

-- +goose Down
SELECT 1;
