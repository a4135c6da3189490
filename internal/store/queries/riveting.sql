-- name: AddRow :exec
INSERT INTO rivet_rows (id, assembly_id, name, plan, line, final, rivet_hold, bay_id, opt_out, entry, planned, revised) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: Row :one
SELECT sqlc.embed(r), j.hash AS version,
    CAST(coalesce((SELECT b.closed_by FROM bay_says s JOIN bays b ON b.id = s.bay_id WHERE s.kind = 'closes' AND s.of = r.id AND b.withdrawn = '' LIMIT 1), '') AS TEXT) AS closes,
    CAST(coalesce((SELECT b.name FROM bay_says s JOIN bays b ON b.id = s.bay_id JOIN holds h ON h.id = b.closed_by WHERE s.kind = 'assembly' AND s.of = r.assembly_id AND h.done = 1 AND b.withdrawn = '' AND r.bay_id IS NULL
        AND NOT EXISTS (SELECT 1 FROM bay_says o WHERE o.bay_id = b.id AND o.kind = 'outside' AND o.of = 'row:' || r.id) LIMIT 1), '') AS TEXT) AS shut
FROM rivet_rows r JOIN journal j ON j.seq = r.revised WHERE r.id = ?;

-- name: RowsOfAssembly :many
SELECT * FROM rivet_rows WHERE assembly_id = ? AND withdrawn = '' ORDER BY entry;

-- name: RowsOfAirframe :many
SELECT r.*, t.arithmetic, t.revised AS worked_out, t.says FROM rivet_rows r JOIN assemblies a ON a.id = r.assembly_id LEFT JOIN row_standings t ON t.row_id = r.id WHERE a.airframe_id = ? AND a.withdrawn = '' AND r.withdrawn = '' ORDER BY r.entry;

-- name: RowsByID :many
SELECT r.*, t.arithmetic, t.revised AS worked_out, t.says, CAST(coalesce((SELECT max(o.at) FROM operations o WHERE o.row_id = r.id AND o.what IN ('drill', 'oversize') AND o.undone = 0), '') AS TEXT) AS drilled FROM rivet_rows r LEFT JOIN row_standings t ON t.row_id = r.id WHERE r.id IN (sqlc.slice('ids')) ORDER BY r.entry;

-- name: RowsOfBays :many
SELECT r.*, t.arithmetic, t.revised AS worked_out, t.says FROM rivet_rows r LEFT JOIN row_standings t ON t.row_id = r.id WHERE r.bay_id IN (sqlc.slice('bays')) AND r.withdrawn = '' ORDER BY r.entry;

-- name: RowsWorkedSince :many
SELECT DISTINCT r.name FROM operations o JOIN rivet_rows r ON r.id = o.row_id
WHERE o.entry > sqlc.arg(entry) AND o.undone = 0 AND (r.rivet_hold = sqlc.arg(hold) OR r.id IN (SELECT d.row_id FROM drill_holds d WHERE d.hold_id = sqlc.arg(hold))) ORDER BY r.entry;

-- name: RowsOfHold :many
SELECT * FROM rivet_rows r WHERE r.withdrawn = '' AND (r.rivet_hold = sqlc.arg(hold) OR r.id IN (SELECT d.row_id FROM drill_holds d WHERE d.hold_id = sqlc.arg(hold))) ORDER BY r.entry;

-- name: ChangeRow :exec
UPDATE rivet_rows SET name = ?, plan = ?, line = ?, planned = ?, revised = ? WHERE id = ?;

-- name: WithdrawRow :exec
UPDATE rivet_rows SET withdrawn = ?, revised = ? WHERE id = ?;

-- name: AnyOperation :one
SELECT count(*) FROM operations WHERE row_id = ? AND undone = 0;

-- name: TurnMatchDrilled :exec
UPDATE rivet_rows SET final = 0 WHERE id = ?;

-- name: ReviseRow :exec
UPDATE rivet_rows SET revised = ? WHERE id = ?;

-- name: ChooseBarrier :exec
UPDATE rivet_rows SET barrier = ?, planned = ?, revised = ? WHERE id = ?;

-- name: AddDrillHold :exec
INSERT INTO drill_holds (row_id, hold_id, entry) VALUES (?, ?, ?);

-- name: HoldsOfRow :many
SELECT h.* FROM holds_now h WHERE h.id = sqlc.arg(rivets) OR h.withdrawn = '' AND h.id IN (SELECT g.hold_id FROM row_guards g WHERE g.row_id = sqlc.arg(row)) ORDER BY h.entry;

-- name: LastDrilled :one
SELECT CAST(coalesce(max(at), '') AS TEXT) AS at FROM operations WHERE row_id = ? AND what IN ('drill', 'oversize') AND undone = 0;

-- name: AddHole :exec
INSERT INTO holes (row_id, number, along, across, pose, state, clean, over, spoilt, tried, keep_part, keep_step, keep_hold, work, until, entry, revised) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: Holes :many
SELECT * FROM holes WHERE row_id = ? ORDER BY number;

-- name: ChangeHole :exec
UPDATE holes SET state = ?, clean = ?, over = ?, spoilt = ?, tried = ?, keep_part = ?, keep_step = ?, keep_hold = ?, work = ?, until = ?, revised = ? WHERE row_id = ? AND number = ?;

-- name: AddOperation :exec
INSERT INTO operations (entry, row_id, number, submission, what, cause, crew, by_name, at, fastener, before) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: LastOperations :many
SELECT * FROM operations WHERE operations.row_id = sqlc.arg(row) AND operations.entry IN (
    SELECT DISTINCT o.entry FROM operations o WHERE o.row_id = sqlc.arg(row) ORDER BY o.entry DESC LIMIT sqlc.arg(most)
) ORDER BY operations.entry DESC, operations.number;

-- name: FirstOperationSince :one
SELECT * FROM operations WHERE row_id = ? AND number = ? AND entry > sqlc.arg(seen) ORDER BY entry LIMIT 1;

-- name: UndoOperations :exec
UPDATE operations SET undone = 1 WHERE row_id = ? AND submission = ?;

-- name: RivetsOfAirframe :many
SELECT o.row_id, o.number, o.what, o.cause, o.crew, o.fastener FROM assemblies a
CROSS JOIN rivet_rows r ON r.assembly_id = a.id CROSS JOIN operations o ON o.row_id = r.id
WHERE a.airframe_id = ? AND o.undone = 0 AND o.what IN ('set', 'bad', 'not set') ORDER BY o.entry, o.number;

-- name: RivetsOfRow :many
SELECT row_id, number, what, cause, crew, fastener FROM operations WHERE row_id = ? AND undone = 0 AND what IN ('set', 'bad', 'not set') ORDER BY entry, number;

-- name: SettersOfRow :many
SELECT o.by_name, o.crew, count(*) AS rivets, CAST(max(o.at) AS TEXT) AS last_at FROM operations o
WHERE o.row_id = ? AND o.what = 'set' AND o.undone = 0
  -- but for those that were keyed and not set after all
  AND coalesce((SELECT n.what FROM operations n WHERE n.row_id = o.row_id AND n.number = o.number AND n.undone = 0 AND n.entry > o.entry AND n.what IN ('set', 'bad', 'not set') ORDER BY n.entry LIMIT 1), '') <> 'not set'
GROUP BY 1, 2 ORDER BY 4;

-- name: BayWithHold :one
SELECT b.id, b.name, sqlc.embed(h) FROM bays b JOIN holds_now h ON h.id = b.closed_by WHERE b.id = ?;

-- name: OpenBays :many
SELECT b.id, b.name FROM bays b JOIN holds h ON h.id = b.closed_by WHERE b.assembly_id = ? AND h.done = 0 AND b.withdrawn = '' ORDER BY b.entry;

-- name: SetRowStanding :exec
INSERT INTO row_standings (row_id, arithmetic, revised, says) VALUES (?, ?, ?, ?)
ON CONFLICT (row_id) DO UPDATE SET arithmetic = excluded.arithmetic, revised = excluded.revised, says = excluded.says;

-- name: RowsBeyond :many
SELECT DISTINCT h.row_id, ho.id AS hold_id FROM (SELECT DISTINCT row_id, until FROM holes WHERE until <> '') h CROSS JOIN rivet_rows r ON r.id = h.row_id CROSS JOIN assemblies a ON a.id = r.assembly_id
    JOIN holds ho ON ho.name = h.until COLLATE NOCASE JOIN assemblies b ON b.id = ho.assembly_id AND b.airframe_id = a.airframe_id
    WHERE r.withdrawn = '' AND ho.done = 0 AND ho.id IN (sqlc.slice(holds)) ORDER BY r.entry, r.id;

-- name: RowsNearBays :many
SELECT r.*, t.arithmetic, t.revised AS worked_out, t.says FROM rivet_rows r LEFT JOIN row_standings t ON t.row_id = r.id WHERE r.assembly_id IN (sqlc.slice('assemblies')) AND r.bay_id IS NULL AND r.withdrawn = '' ORDER BY r.entry;
