-- name: Airframes :many
SELECT * FROM airframes WHERE withdrawn = '' ORDER BY entry;

-- name: Airframe :one
SELECT * FROM airframes WHERE id = ?;

-- name: AirframeNamed :one
SELECT * FROM airframes WHERE name = ?;

-- name: AddAirframe :exec
INSERT INTO airframes (id, name, description, length_unit, schools, entry, revised) VALUES (?, ?, ?, ?, ?, ?, ?);

-- name: ChangeAirframeSchools :exec
UPDATE airframes SET schools = ?, revised = ? WHERE id = ?;

-- name: ChangeAirframe :exec
UPDATE airframes SET name = ?, description = ?, length_unit = ?, revised = ? WHERE id = ?;

-- name: WithdrawAirframe :exec
UPDATE airframes SET withdrawn = ?, name = ?, revised = ? WHERE id = ?;

-- name: Assemblies :many
SELECT * FROM assemblies WHERE airframe_id = ? AND withdrawn = '' ORDER BY entry, rowid;

-- name: Assembly :one
SELECT sqlc.embed(assemblies), sqlc.embed(airframes) FROM assemblies JOIN airframes ON airframes.id = assemblies.airframe_id WHERE assemblies.id = ?;

-- name: AssemblyNamed :one
SELECT * FROM assemblies WHERE airframe_id = ? AND name = ?;

-- name: AddAssembly :exec
INSERT INTO assemblies (id, airframe_id, name, shape, before_us, part, entry, revised) VALUES (?, ?, ?, ?, ?, ?, ?, ?);

-- name: ChangeAssembly :exec
UPDATE assemblies SET name = ?, shape = ?, before_us = ?, part = ?, revised = ? WHERE id = ?;

-- name: WithdrawAssembly :exec
UPDATE assemblies SET withdrawn = ?, name = ?, revised = ? WHERE id = ?;
