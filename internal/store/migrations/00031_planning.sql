-- A step of the order is tied to the holds whose joints it makes permanent, or makes none so.

-- +goose Up
ALTER TABLE plan_steps ADD COLUMN tied_to TEXT NOT NULL DEFAULT '[]';  -- JSON: ids of holds
ALTER TABLE plan_steps ADD COLUMN untied TEXT NOT NULL DEFAULT '';  -- by whom it was said that it makes nothing permanent; '' where nobody was asked

-- +goose Down
SELECT 1;
