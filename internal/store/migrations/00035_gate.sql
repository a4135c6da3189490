-- +goose Up
-- Which holds a key at a row asks: the one before riveting, those before drilling that it was laid with,
-- and all before drilling of its assembly that are not done, unless somebody opted out.
CREATE VIEW row_guards AS
SELECT r.id AS row_id, r.rivet_hold AS hold_id FROM rivet_rows r WHERE r.withdrawn = ''
UNION SELECT d.row_id, d.hold_id FROM drill_holds d JOIN rivet_rows r ON r.id = d.row_id WHERE r.withdrawn = ''
UNION SELECT r.id, h.id FROM rivet_rows r JOIN holds h ON h.assembly_id = r.assembly_id
WHERE r.withdrawn = '' AND r.opt_out = '' AND h.withdrawn = '' AND h.step IN ('drill to size', 'ream') AND h.done = 0;

ALTER TABLE gate_ends ADD COLUMN stood INTEGER NOT NULL DEFAULT 0; -- the entry since which it stands without a break

-- +goose Down
ALTER TABLE gate_ends DROP COLUMN stood;
DROP VIEW row_guards;
