-- name: AddBay :exec
INSERT INTO bays (id, assembly_id, name, closed_by, entry, revised) VALUES (?, ?, ?, ?, ?, ?);

-- name: Bay :one
SELECT * FROM bays WHERE id = ?;

-- name: BaysOfAssembly :many
SELECT * FROM bays WHERE assembly_id = ? AND withdrawn = '' ORDER BY entry;

-- name: BaysOfAirframe :many
SELECT b.* FROM bays b JOIN assemblies a ON a.id = b.assembly_id WHERE a.airframe_id = ? AND a.withdrawn = '' AND b.withdrawn = '' ORDER BY b.entry;

-- name: BaysByID :many
SELECT * FROM bays WHERE id IN (sqlc.slice('ids')) ORDER BY entry;

-- name: RenameBay :exec
UPDATE bays SET name = ?, revised = ? WHERE id = ?;

-- name: WithdrawBay :exec
UPDATE bays SET withdrawn = ?, revised = ? WHERE id = ?;

-- name: AddTask :exec
INSERT INTO tasks (id, bay_id, what, position, entry, revised) VALUES (?, ?, ?, ?, ?, ?);

-- name: Task :one
SELECT * FROM tasks WHERE id = ?;

-- name: TasksOfBays :many
SELECT * FROM tasks WHERE bay_id IN (sqlc.slice('bays')) ORDER BY entry, position;

-- name: FinishTask :exec
UPDATE tasks SET done_by = ?, done_at = ?, note = ?, revised = ? WHERE id = ?;

-- name: AddCount :exec
INSERT INTO counts (id, bay_id, thing, number, by_name, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?);

-- name: CountsOfBays :many
SELECT * FROM counts WHERE bay_id IN (sqlc.slice('bays')) ORDER BY entry;

-- name: AddReopening :exec
INSERT INTO reopenings (id, bay_id, by_name, reason, drilled, unsettled, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?, ?);

-- name: ReopeningsOfBays :many
SELECT * FROM reopenings WHERE bay_id IN (sqlc.slice('bays')) ORDER BY entry;
