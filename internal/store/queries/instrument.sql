-- name: Instruments :many
SELECT * FROM instruments ORDER BY entry, rowid;

-- name: Instrument :one
SELECT * FROM instruments WHERE id = ?;

-- name: InstrumentNamed :one
SELECT * FROM instruments WHERE name = ?;

-- name: AddInstrument :exec
INSERT INTO instruments (id, name, sort, measures, resolution, offset_max, per_metre, spread, own, due_days, weight, pull, material, type, spot, per_degree, entry, revised) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
ON CONFLICT (id) DO NOTHING;

-- name: ChangeInstrument :exec
UPDATE instruments SET name = ?, serial = ?, sent_step = ?, resolution = ?, offset_max = ?, spread = ?, per_metre = ?, own = ?, due_days = ?, weight = ?, pull = ?, material = ?, type = ?, spot = ?, per_degree = ?, revised = ? WHERE id = ?;

-- name: InstrumentSpoke :exec
UPDATE instruments SET serial = ?, sent_step = ?, revised = ? WHERE id = ?;

-- name: WithdrawInstrument :exec
UPDATE instruments SET withdrawn = ?, name = ?, revised = ? WHERE id = ?;

-- name: AddZeroTest :exec
INSERT INTO zero_tests (id, instrument_id, first, turned, zero, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?);

-- name: ZeroOfInstrument :exec
UPDATE instruments SET zero = ?, zero_at = ?, revised = ? WHERE id = ?;

-- name: ZeroTests :many
SELECT * FROM zero_tests WHERE instrument_id = ? ORDER BY entry DESC LIMIT ?;

-- name: AddProof :exec
INSERT INTO proofs (id, instrument_id, what, texts, value, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?);

-- name: SpreadOfInstrument :exec
UPDATE instruments SET spread_found = ?, spread_from = ?, spread_at = ?, revised = ? WHERE id = ?;

-- name: OffsetOfInstrument :exec
UPDATE instruments SET offset_found = ?, offset_at = ?, revised = ? WHERE id = ?;

-- name: ProofsOfInstrument :many
SELECT * FROM proofs WHERE instrument_id = ? ORDER BY entry DESC LIMIT ?;

-- name: ZeroTestsOf :many
SELECT instrument_id, zero, at FROM zero_tests WHERE instrument_id IN (sqlc.slice('instruments')) ORDER BY entry;

-- name: RemoveProof :exec
DELETE FROM proofs WHERE id = ?;

-- name: RemoveZeroTest :exec
DELETE FROM zero_tests WHERE id = ?;
