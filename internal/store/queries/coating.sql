-- name: AddMaterial :exec
INSERT INTO materials (id, name, lines, least, most, stop, caution, entry, revised) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: Material :one
SELECT * FROM materials WHERE id = ?;

-- name: Materials :many
SELECT * FROM materials WHERE withdrawn = '' ORDER BY name, entry;

-- name: ChangeMaterial :exec
UPDATE materials SET name = ?, lines = ?, least = ?, most = ?, stop = ?, caution = ?, revised = ? WHERE id = ?;

-- name: WithdrawMaterial :exec
UPDATE materials SET withdrawn = ?, revised = ? WHERE id = ?;

-- name: AddClock :exec
INSERT INTO clocks (id, airframe_id, assembly_id, step_id, sort, what, material_id, sides, temperature, lasts, passes, entry, revised) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: Clock :one
SELECT * FROM clocks WHERE id = ?;

-- name: Clocks :many
SELECT sqlc.embed(c), CAST(COALESCE(m.least, 1) AS INTEGER) AS least, CAST(COALESCE(m.most, 1) AS INTEGER) AS most, CAST(COALESCE(m.stop, '') AS TEXT) AS stop FROM clocks c LEFT JOIN materials m ON m.id = c.material_id WHERE c.airframe_id = ? AND c.withdrawn = '' ORDER BY c.entry DESC;

-- name: RunningClocks :many
SELECT sqlc.embed(c), CAST(COALESCE(m.least, 1) AS INTEGER) AS least, CAST(COALESCE(m.most, 1) AS INTEGER) AS most, CAST(COALESCE(m.stop, '') AS TEXT) AS stop FROM clocks c LEFT JOIN materials m ON m.id = c.material_id WHERE c.ended_at = '' AND c.withdrawn = '' ORDER BY c.entry;

-- name: PassClock :exec
UPDATE clocks SET passes = ?, lasts = ?, temperature = ?, revised = ? WHERE id = ?;

-- name: EndClock :exec
UPDATE clocks SET ended_at = ?, outcome = ?, revised = ? WHERE id = ?;

-- name: ChangeClock :exec
UPDATE clocks SET what = ?, temperature = ?, lasts = ?, revised = ? WHERE id = ?;

-- name: WithdrawClock :exec
UPDATE clocks SET withdrawn = ?, revised = ? WHERE id = ?;
