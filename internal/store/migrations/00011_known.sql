-- What is known of a reading besides what it shows: of a tape its error in proportion, its
-- weight, its pull and what it is made of; from how many placings a spread was found;
-- whether a tape hung; of a setup what the part is made of and how warm it is. And why a
-- row of holes is not tied to a hold that stands before drilling there.

-- +goose Up
ALTER TABLE instruments ADD COLUMN per_metre TEXT NOT NULL DEFAULT '';   -- mm in a metre, as typed; '' for none stated
ALTER TABLE instruments ADD COLUMN weight TEXT NOT NULL DEFAULT '';      -- of a tape, grams a metre, as typed
ALTER TABLE instruments ADD COLUMN pull TEXT NOT NULL DEFAULT '';        -- at which it is held, newtons, as typed
ALTER TABLE instruments ADD COLUMN material TEXT NOT NULL DEFAULT '';    -- steel, fibreglass, aluminium
ALTER TABLE instruments ADD COLUMN spread_from INTEGER NOT NULL DEFAULT 0; -- placings that spread_found is of
ALTER TABLE readings ADD COLUMN hung INTEGER NOT NULL DEFAULT 0 CHECK (hung IN (0, 1)); -- the tape hung between its ends
ALTER TABLE setups ADD COLUMN material TEXT NOT NULL DEFAULT '';         -- of the part; '' for not said
ALTER TABLE setups ADD COLUMN temperature TEXT NOT NULL DEFAULT '';      -- of the shop, °C, as typed
ALTER TABLE rivet_rows ADD COLUMN opt_out TEXT NOT NULL DEFAULT '';       -- why it is not tied to all unsettled holds of its assembly

-- +goose Down
SELECT 1;
