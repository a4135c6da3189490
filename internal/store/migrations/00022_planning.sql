-- What a step makes impossible, what is to be brought for it; orders with hand, count and
-- price, what came of them and where it was put; the total that was typed.

-- +goose Up
ALTER TABLE plan_steps ADD COLUMN before TEXT NOT NULL DEFAULT '[]'; -- JSON: ids of steps after which it is impossible
ALTER TABLE plan_steps ADD COLUMN bring TEXT NOT NULL DEFAULT '';    -- tools and light
ALTER TABLE plan_orders ADD COLUMN hand TEXT NOT NULL DEFAULT '';    -- left or right; '' for none
ALTER TABLE plan_orders ADD COLUMN count INTEGER NOT NULL DEFAULT 0; -- 0 where nobody said
ALTER TABLE plan_orders ADD COLUMN price INTEGER NOT NULL DEFAULT -1; -- minor units; -1 where nobody said
ALTER TABLE plan_orders ADD COLUMN place TEXT NOT NULL DEFAULT '';   -- where it was put away
ALTER TABLE plan_orders ADD COLUMN came TEXT NOT NULL DEFAULT '';    -- what was wrong with what came
ALTER TABLE plan_orders ADD COLUMN returned TEXT NOT NULL DEFAULT '';
ALTER TABLE plan_orders ADD COLUMN credited TEXT NOT NULL DEFAULT '';
ALTER TABLE plan_orders ADD COLUMN ref TEXT NOT NULL DEFAULT '';     -- the supplier's own number
ALTER TABLE plan_money ADD COLUMN total INTEGER NOT NULL DEFAULT -1; -- as it was typed; -1 where nobody said

-- +goose Down
SELECT 1;
