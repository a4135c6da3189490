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

-- name: SayOfBay :exec
INSERT INTO bay_says (bay_id, kind, of, note, by_name, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?)
    ON CONFLICT (bay_id, kind, of) DO UPDATE SET note = excluded.note, by_name = excluded.by_name, at = excluded.at, entry = excluded.entry;

-- name: UnsayOfBay :exec
DELETE FROM bay_says WHERE bay_id = ? AND kind = ? AND of = ?;

-- name: UnsayKindOfBay :exec
DELETE FROM bay_says WHERE bay_id = ? AND kind = ?;

-- name: SaidOfBays :many
SELECT * FROM bay_says WHERE bay_id IN (sqlc.slice('bays')) ORDER BY bay_id, kind, of;

-- name: BaysWithin :many
SELECT s.of AS outer_id, b.id, b.name, h.done FROM bay_says s JOIN bays b ON b.id = s.bay_id JOIN holds h ON h.id = b.closed_by WHERE s.kind = 'within' AND b.withdrawn = '' AND s.of IN (sqlc.slice('bays')) ORDER BY b.entry;

-- name: BayAround :one
SELECT b.id, b.name, h.done FROM bay_says s JOIN bays b ON b.id = s.of JOIN holds h ON h.id = b.closed_by WHERE s.bay_id = ? AND s.kind = 'within' AND b.withdrawn = '';

-- name: AssembliesOfBays :many
SELECT id AS bay_id, assembly_id FROM bays WHERE id IN (sqlc.slice('bays')) UNION SELECT bay_id, of FROM bay_says WHERE kind = 'assembly' AND bay_id IN (sqlc.slice('more')) ORDER BY 1, 2;

-- name: HoldsNearBays :many
SELECT * FROM holds_now h WHERE h.done = 0 AND h.withdrawn = '' AND h.step NOT IN ('close', 'cover') AND h.assembly_id IN (sqlc.slice('assemblies')) ORDER BY h.entry;

-- name: PinnedOfAircraft :many
SELECT r.id, r.name, r.bay_id, a.name AS assembly, t.says, CAST((SELECT count(*) FROM assemblies o WHERE o.airframe_id = a.airframe_id AND o.withdrawn = '') AS INTEGER) AS assemblies
FROM assemblies b JOIN assemblies a ON a.airframe_id = b.airframe_id JOIN rivet_rows r ON r.assembly_id = a.id LEFT JOIN row_standings t ON t.row_id = r.id
WHERE b.id = ? AND r.withdrawn = '' AND a.withdrawn = '' ORDER BY r.entry;

-- name: RowToClose :one
SELECT r.id, r.name, r.bay_id, a.airframe_id FROM rivet_rows r JOIN assemblies a ON a.id = r.assembly_id WHERE r.id = ? AND r.withdrawn = '';

-- name: OthersOf :one
SELECT CAST(count(*) AS INTEGER) FROM assemblies a JOIN assemblies b ON b.airframe_id = a.airframe_id WHERE a.id = ? AND b.withdrawn = '';

-- name: CountByID :one
SELECT * FROM counts WHERE id = ?;

-- name: RemoveCount :exec
DELETE FROM counts WHERE id = ?;

-- name: ReopenTask :exec
UPDATE tasks SET done_by = '', done_at = '', note = '', revised = ? WHERE id = ?;
