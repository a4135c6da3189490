-- name: Holds :many
SELECT h.* FROM holds_now h JOIN assemblies a ON a.id = h.assembly_id WHERE a.airframe_id = ? AND a.withdrawn = '' AND h.withdrawn = '' ORDER BY h.entry;

-- name: Hold :one
SELECT * FROM holds_now WHERE id = ?;

-- name: HoldsOfAssembly :many
SELECT * FROM holds_now WHERE assembly_id = ? AND withdrawn = '' ORDER BY entry;

-- name: HoldsOfSetup :many
SELECT * FROM holds_now h WHERE (h.setup_id = sqlc.arg(setup) OR h.id IN (SELECT j.hold_id FROM joint_setups j WHERE j.setup_id = sqlc.arg(setup))) AND h.withdrawn = '' ORDER BY h.entry;

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

-- name: RemoveFact :exec
DELETE FROM facts WHERE id = ?;

-- name: UnfactHold :exec
UPDATE holds SET done = 0, fact = '', revised = ? WHERE id = ?;

-- name: RemoveStep :exec
DELETE FROM steps WHERE id = ?;

-- name: AddLook :exec
INSERT INTO looks (id, need, of, what, by_name, second_name, note, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: RemoveLook :exec
DELETE FROM looks WHERE id = ?;

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
SELECT h.*, CAST(coalesce(e.signed, '') AS TEXT) AS signed, CAST(coalesce(e.basis, '') AS TEXT) AS basis, CAST(coalesce(e.cause, '') AS TEXT) AS cause, CAST(coalesce(e.ended, 0) AS INTEGER) AS ended, CAST(coalesce(e.arithmetic, 0) AS INTEGER) AS arithmetic, CAST(coalesce(e.wrong, '') AS TEXT) AS wrong, CAST(coalesce(e.stood, 0) AS INTEGER) AS stood, a.airframe_id
FROM holds h JOIN assemblies a ON a.id = h.assembly_id LEFT JOIN gate_ends e ON e.release_id = h.released
WHERE h.released IS NOT NULL AND h.withdrawn = '' AND (h.done = 0 OR CAST(sqlc.arg(spent) AS INTEGER) = 1 AND e.wrong = '') ORDER BY h.entry;

-- name: SetGateEnd :exec
INSERT INTO gate_ends (release_id, hold_id, arithmetic, signed, basis, ended, cause, why, wrong, entry, stood) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
ON CONFLICT (release_id) DO UPDATE SET arithmetic = excluded.arithmetic, signed = excluded.signed, basis = excluded.basis, ended = excluded.ended, cause = excluded.cause, why = excluded.why, wrong = excluded.wrong, stood = excluded.stood;

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
SELECT CAST('hold' AS TEXT) AS sort, h.id, h.assembly_id, h.joint, CAST(coalesce(h.setup_id, '') AS TEXT) AS setup_id, h.entry,
    CAST(coalesce((SELECT group_concat(r.id, ' ') FROM rivet_rows r WHERE r.withdrawn = '' AND (r.rivet_hold = h.id OR r.id IN (SELECT d.row_id FROM drill_holds d WHERE d.hold_id = h.id) OR h.step IN ('drill to size', 'ream') AND r.assembly_id = h.assembly_id AND r.opt_out = '' AND NOT EXISTS (SELECT 1 FROM drill_holds d WHERE d.hold_id = h.id))), '') AS TEXT) AS rows_of,
    CAST((SELECT count(*) FROM facts f WHERE f.hold_id = h.id AND f.how = 'without release') AS INTEGER) AS facts,
    CAST((SELECT count(*) FROM questions q JOIN assemblies a ON a.airframe_id = q.airframe_id WHERE a.id = h.assembly_id AND q.answered_at = '' AND q.provisional <> '' AND q.withdrawn = '' AND (q.freezes LIKE '%"hold:%' OR q.freezes LIKE '%"row:%')) AS INTEGER) AS asks,
    CAST((SELECT count(*) FROM notices n JOIN assemblies a ON a.airframe_id = n.airframe_id WHERE a.id = h.assembly_id AND n.withdrawn = '' AND (EXISTS (SELECT 1 FROM parts p WHERE p.assembly_id = h.assembly_id AND p.withdrawn = '') OR EXISTS (SELECT 1 FROM rivet_rows w WHERE w.assembly_id = h.assembly_id) OR EXISTS (SELECT 1 FROM clocks k WHERE k.assembly_id = h.assembly_id))) AS INTEGER) AS notices,
    CAST(EXISTS (SELECT 1 FROM holes WHERE until <> '') AS INTEGER) AS beyond
FROM holds h WHERE h.withdrawn = '' AND (h.assembly_id IN (sqlc.slice('assemblies')) OR h.joint <> '' AND h.joint IN (SELECT o.joint FROM holds o WHERE o.assembly_id IN (sqlc.slice('theirs'))))
UNION ALL
SELECT CAST('setup' AS TEXT) AS sort, s.id, CAST(coalesce(s.assembly_id, '') AS TEXT) AS assembly_id, CAST(coalesce((SELECT group_concat(j.hold_id, ' ') FROM joint_setups j WHERE j.setup_id = s.id), '') AS TEXT) AS joint, s.id AS setup_id, s.entry,
    '' AS rows_of, 0 AS facts, 0 AS asks, 0 AS notices, 0 AS beyond
FROM setups s WHERE s.withdrawn = '' AND (s.assembly_id IN (sqlc.slice('setups')) OR s.id IN (SELECT j.setup_id FROM joint_setups j JOIN holds o ON o.id = j.hold_id WHERE o.assembly_id IN (sqlc.slice('also'))))
ORDER BY 1, 6;

-- name: AddFact :exec
INSERT INTO facts (id, hold_id, row_id, numbers, how, by_name, day, reason, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: FactsOfHolds :many
SELECT * FROM facts WHERE hold_id IN (sqlc.slice('holds')) ORDER BY entry;

-- name: FactHold :exec
UPDATE holds SET done = 1, fact = ?, revised = ? WHERE id = ?;

-- name: GateOfRow :many
SELECT h.id, h.name, h.step, h.scope, h.released, h.done, h.ended, h.ended_why FROM holds_now h
WHERE h.withdrawn = '' AND h.id IN (SELECT g.hold_id FROM row_guards g WHERE g.row_id = sqlc.arg(row))
ORDER BY h.entry;

-- name: ProvisionalOf :many
SELECT q.id, q.text, q.provisional, q.freezes FROM questions q WHERE q.answered_at = '' AND q.provisional <> '' AND q.withdrawn = '' AND q.freezes <> '[]'
AND q.airframe_id IN (SELECT a.airframe_id FROM assemblies a WHERE a.id IN (sqlc.slice('assemblies'))) ORDER BY q.entry;

-- name: OpenFreezes :many
SELECT * FROM questions WHERE answered_at = '' AND provisional = '' AND withdrawn = '' AND freezes <> '[]' ORDER BY entry;

-- name: StepsTiedTo :many
SELECT id, name FROM plan_steps WHERE withdrawn = '' AND tied_to LIKE CAST(sqlc.arg(hold) AS TEXT) ORDER BY entry;

-- name: FreshenLooks :exec
UPDATE looks SET stale_event = NULL WHERE stale_event = ?;

-- name: HoldEntered :one
SELECT j.at FROM holds h JOIN journal j ON j.seq = h.entry WHERE h.id = ?;

-- name: RowsToCoat :many
SELECT r.name, t.says FROM rivet_rows r LEFT JOIN row_standings t ON t.row_id = r.id WHERE r.assembly_id = ? AND r.withdrawn = '' ORDER BY r.entry;

-- name: GatesThen :many
SELECT g.hold_id, g.release_id, g.ended, g.why, r.by_name FROM gate_ends g JOIN releases r ON r.id = g.release_id
WHERE g.stood <= sqlc.arg(known) AND (g.ended = 0 OR g.ended > sqlc.arg(known)) AND r.withdrawn = '' AND g.hold_id IN (sqlc.slice('holds')) ORDER BY g.entry DESC;
