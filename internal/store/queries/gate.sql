-- name: Holds :many
SELECT h.* FROM holds_now h JOIN assemblies a ON a.id = h.assembly_id WHERE a.airframe_id = ? AND a.withdrawn = '' AND h.withdrawn = '' ORDER BY h.entry;

-- name: Hold :one
SELECT * FROM holds_now WHERE id = ?;

-- name: HoldsOfAssembly :many
SELECT * FROM holds_now WHERE assembly_id = ? AND withdrawn = '' ORDER BY entry;

-- name: HoldsOfSetup :many
SELECT * FROM holds_now WHERE setup_id = ? AND withdrawn = '' ORDER BY entry;

-- name: HoldsByID :many
SELECT * FROM holds_now WHERE id IN (sqlc.slice('ids'));

-- name: HoldNamed :one
SELECT h.* FROM holds_now h JOIN assemblies a ON a.id = h.assembly_id WHERE a.airframe_id = ? AND lower(h.name) = lower(sqlc.arg(name)) AND h.withdrawn = '' ORDER BY h.entry LIMIT 1;

-- name: AddHold :exec
INSERT INTO holds (id, assembly_id, setup_id, name, step, permanent, why, required, scope, joint, entry, revised) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: ChangeHold :exec
UPDATE holds SET required = ?, revised = ? WHERE id = ?;

-- name: AmendHold :exec
UPDATE holds SET name = ?, permanent = ?, why = ?, required = ?, revised = ? WHERE id = ?;

-- name: WithdrawHold :exec
UPDATE holds SET withdrawn = ?, revised = ? WHERE id = ?;

-- name: MarkRelease :exec
UPDATE releases SET wrong = ? WHERE id = ?;

-- name: HoldsReadWith :many
SELECT DISTINCT h.* FROM holds_now h JOIN checks c ON c.setup_id = h.setup_id JOIN readings r ON r.check_id = c.id WHERE r.instrument_id = ? AND r.superseded = '' AND r.stale_event IS NULL ORDER BY h.entry;

-- name: ReleaseHold :exec
UPDATE holds SET released = ?, released_by = ?, revised = ? WHERE id = ?;

-- name: DoneHold :exec
UPDATE holds SET done = 1, revised = ? WHERE id = ?;

-- name: Releases :many
SELECT r.*, e.what AS event FROM releases r LEFT JOIN events e ON e.id = r.lapsed WHERE r.hold_id = ? ORDER BY r.entry;

-- name: AddRelease :exec
INSERT INTO releases (id, hold_id, by_name, at, standing, reason, answered_by, answer, answered, document, evidence, entry) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: ReleasesThatMayLapse :many
SELECT h.released FROM holds h WHERE h.released IS NOT NULL AND h.done = 0
  AND (h.setup_id = sqlc.arg(setup) OR (h.setup_id IS NULL AND h.assembly_id = sqlc.arg(assembly))) ORDER BY h.entry;

-- name: ReleasesOfSetup :many
SELECT h.released FROM holds h WHERE h.released IS NOT NULL AND h.done = 0 AND h.setup_id = ? ORDER BY h.entry;

-- name: LapseRelease :exec
UPDATE releases SET lapsed = ? WHERE id = ?;

-- name: WithdrawRelease :exec
UPDATE releases SET withdrawn = ? WHERE id = ?;

-- name: UnreleaseHold :exec
UPDATE holds SET released = NULL, released_by = '', revised = ? WHERE holds.released = sqlc.arg(release);

-- name: UndoneHold :exec
UPDATE holds SET done = 0, released = NULL, released_by = '', revised = ? WHERE id = ?;

-- name: DoneAfter :many
SELECT h.name FROM steps s JOIN holds h ON h.id = s.hold_id
WHERE s.entry > (SELECT max(c.entry) FROM steps c WHERE c.hold_id = sqlc.arg(hold)) AND h.done = 1 AND h.assembly_id IN (sqlc.slice(assemblies)) ORDER BY s.entry;

-- name: Steps :many
SELECT * FROM steps WHERE hold_id = ? ORDER BY entry;

-- name: AddStep :exec
INSERT INTO steps (id, release_id, hold_id, by_name, note, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?);

-- name: AddLook :exec
INSERT INTO looks (id, need, of, what, by_name, second_name, note, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: LooksOf :many
SELECT l.*, e.what AS event FROM looks l LEFT JOIN events e ON e.id = l.stale_event WHERE l.of IN (sqlc.slice('ids')) ORDER BY l.entry;

-- name: LooksThatMayGoStale :many
SELECT id, need FROM looks WHERE stale_event IS NULL AND need IN ('prepared', 'seconded') AND (
    looks.of IN (SELECT r.id FROM rivet_rows r WHERE r.assembly_id = sqlc.arg(assembly))
    OR looks.of IN (SELECT h.id FROM holds h WHERE h.assembly_id = sqlc.arg(assembly))) ORDER BY entry, id;

-- name: MakeLookStale :exec
UPDATE looks SET stale_event = ? WHERE id = ?;

-- name: NameOfRow :one
SELECT name FROM rivet_rows WHERE id = ?;

-- name: NameOfPart :one
SELECT name FROM parts WHERE id = ?;

-- name: NameOfBay :one
SELECT name FROM bays WHERE id = ?;

-- name: DispositionsOfAssembly :many
SELECT r.*, h.name AS hold FROM releases r JOIN holds h ON h.id = r.hold_id WHERE h.assembly_id = ? AND r.answered_by <> '' ORDER BY r.entry;

-- name: NameOfHoldAsking :one
SELECT name FROM holds WHERE withdrawn = '' AND required LIKE '%"of":"' || sqlc.arg(of) || '"%' ORDER BY entry LIMIT 1;

-- name: SpentReleases :many
SELECT release_id FROM steps WHERE hold_id IN (sqlc.slice('holds')) ORDER BY entry;

-- name: WaitingHolds :many
SELECT h.*, CAST(coalesce(e.signed, '') AS TEXT) AS signed, CAST(coalesce(e.basis, '') AS TEXT) AS basis, CAST(coalesce(e.cause, '') AS TEXT) AS cause, CAST(coalesce(e.ended, 0) AS INTEGER) AS ended, CAST(coalesce(e.arithmetic, 0) AS INTEGER) AS arithmetic, a.airframe_id
FROM holds h JOIN assemblies a ON a.id = h.assembly_id LEFT JOIN gate_ends e ON e.release_id = h.released
WHERE h.released IS NOT NULL AND h.done = 0 AND h.withdrawn = '' ORDER BY h.entry;

-- name: SpentHolds :many
SELECT h.*, CAST(coalesce(e.signed, '') AS TEXT) AS signed, CAST(coalesce(e.basis, '') AS TEXT) AS basis, CAST(coalesce(e.wrong, '') AS TEXT) AS wrong, a.airframe_id
FROM holds h JOIN assemblies a ON a.id = h.assembly_id JOIN gate_ends e ON e.release_id = h.released
WHERE h.released IS NOT NULL AND h.done = 1 ORDER BY h.entry;

-- name: SetGateEnd :exec
INSERT INTO gate_ends (release_id, hold_id, arithmetic, signed, basis, ended, cause, why, wrong, entry) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
ON CONFLICT (release_id) DO UPDATE SET arithmetic = excluded.arithmetic, signed = excluded.signed, basis = excluded.basis, ended = excluded.ended, cause = excluded.cause, why = excluded.why, wrong = excluded.wrong;

-- name: EndGate :exec
UPDATE gate_ends SET ended = ?, cause = ?, why = ? WHERE release_id = ?;

-- name: WrongGate :exec
UPDATE gate_ends SET wrong = ? WHERE release_id = ?;

-- name: GateEndsOfHold :many
SELECT * FROM gate_ends WHERE hold_id = ? ORDER BY entry;

-- name: GateEnds :many
SELECT * FROM gate_ends ORDER BY entry;

-- name: ReleasesToReckon :one
SELECT CAST(count(*) AS INTEGER) FROM releases r LEFT JOIN gate_ends e ON e.release_id = r.id WHERE e.release_id IS NULL OR e.arithmetic <> sqlc.arg(arithmetic);

-- name: ReleaseByID :one
SELECT * FROM releases WHERE id = ?;

-- name: AddJointSetup :exec
INSERT INTO joint_setups (setup_id, hold_id, entry) VALUES (?, ?, ?) ON CONFLICT DO NOTHING;

-- name: JointsOfAssemblies :many
SELECT h.id, h.assembly_id, h.joint, h.setup_id, h.step, h.name, h.done,
    CAST(coalesce((SELECT group_concat(r.id, ' ') FROM rivet_rows r WHERE r.withdrawn = '' AND (r.rivet_hold = h.id OR r.id IN (SELECT d.row_id FROM drill_holds d WHERE d.hold_id = h.id))), '') AS TEXT) AS rows_of
FROM holds h WHERE h.withdrawn = '' AND (h.assembly_id IN (sqlc.slice('assemblies')) OR h.joint <> '' AND h.joint IN (SELECT o.joint FROM holds o WHERE o.assembly_id IN (sqlc.slice('theirs')))) ORDER BY h.entry;

-- name: SetupsOfAssemblies :many
SELECT s.id, s.assembly_id, s.name, CAST(coalesce((SELECT group_concat(j.hold_id, ' ') FROM joint_setups j WHERE j.setup_id = s.id), '') AS TEXT) AS joints
FROM setups s WHERE s.withdrawn = '' AND (s.assembly_id IN (sqlc.slice('assemblies')) OR s.id IN (SELECT j.setup_id FROM joint_setups j JOIN holds o ON o.id = j.hold_id WHERE o.assembly_id IN (sqlc.slice('theirs')))) ORDER BY s.entry;

-- name: AddFact :exec
INSERT INTO facts (id, hold_id, row_id, numbers, how, by_name, day, reason, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: FactsOfHolds :many
SELECT * FROM facts WHERE hold_id IN (sqlc.slice('holds')) ORDER BY entry;

-- name: FactHold :exec
UPDATE holds SET done = 1, fact = ?, revised = ? WHERE id = ?;

-- name: GateOfRow :many
SELECT h.id, h.name, h.step, h.scope, h.released, h.done, h.ended FROM holds_now h
WHERE h.withdrawn = '' AND (h.id = (SELECT r.rivet_hold FROM rivet_rows r WHERE r.id = sqlc.arg(row)) OR h.id IN (SELECT d.hold_id FROM drill_holds d WHERE d.row_id = sqlc.arg(row)))
ORDER BY h.entry;
