-- name: LastEntry :one
SELECT * FROM journal ORDER BY seq DESC LIMIT 1;

-- name: EntryByID :one
SELECT * FROM journal WHERE id = ?;

-- name: AddEntry :exec
INSERT INTO journal (seq, id, at, kind, by_name, content, prev, hash) VALUES (?, ?, ?, ?, ?, ?, ?, ?);

-- name: Entries :many
SELECT * FROM journal WHERE seq > sqlc.arg(after) ORDER BY seq LIMIT sqlc.arg(most);

-- name: EntriesBefore :many
SELECT * FROM journal WHERE seq < sqlc.arg(before) ORDER BY seq DESC LIMIT sqlc.arg(most);

-- name: Airframes :many
SELECT * FROM airframes ORDER BY entry;

-- name: Airframe :one
SELECT * FROM airframes WHERE id = ?;

-- name: AddAirframe :exec
INSERT INTO airframes (id, name, description, length_unit, entry) VALUES (?, ?, ?, ?, ?);

-- name: ChangeAirframeSchools :exec
UPDATE airframes SET schools = ? WHERE id = ?;

-- name: Assemblies :many
SELECT * FROM assemblies WHERE airframe_id = ? ORDER BY entry;

-- name: Assembly :one
SELECT * FROM assemblies WHERE id = ?;

-- name: AddAssembly :exec
INSERT INTO assemblies (id, airframe_id, name, shape, before_us, entry) VALUES (?, ?, ?, ?, ?, ?);

-- name: Instruments :many
SELECT * FROM instruments ORDER BY entry;

-- name: AddInstrument :exec
INSERT INTO instruments (id, name, sort, measures, resolution, offset_max, spread, own, due_days, entry) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: ZeroTests :many
SELECT * FROM zero_tests ORDER BY entry DESC;

-- name: AddZeroTest :exec
INSERT INTO zero_tests (id, instrument_id, first, turned, zero, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?);

-- name: Proofs :many
SELECT * FROM proofs ORDER BY entry DESC;

-- name: AddProof :exec
INSERT INTO proofs (id, instrument_id, what, texts, value, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?);

-- name: Setups :many
SELECT s.* FROM setups s JOIN assemblies a ON a.id = s.assembly_id WHERE a.airframe_id = ? ORDER BY s.entry;

-- name: Setup :one
SELECT * FROM setups WHERE id = ?;

-- name: AddSetup :exec
INSERT INTO setups (id, assembly_id, name, begun_at, steady_at, entry) VALUES (?, ?, ?, ?, ?, ?);

-- name: NextState :exec
UPDATE setups SET state = state + 1, steady_at = ? WHERE id = ?;

-- name: Checks :many
SELECT * FROM checks WHERE setup_id = ? ORDER BY position;

-- name: Check :one
SELECT * FROM checks WHERE id = ?;

-- name: AddCheck :exec
INSERT INTO checks (id, setup_id, position, name, definition, instrument_id, accepts, schools, after_of, entry) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: ChangeCheck :exec
UPDATE checks SET name = ?, definition = ?, schools = ? WHERE id = ?;

-- name: ReadingsOfSetup :many
SELECT r.* FROM readings r JOIN checks c ON c.id = r.check_id WHERE c.setup_id = ? ORDER BY r.entry;

-- name: Reading :one
SELECT * FROM readings WHERE id = ?;

-- name: AllReadings :many
SELECT * FROM readings ORDER BY entry;

-- name: AddReading :exec
INSERT INTO readings (id, check_id, list, point, field, text, value, instrument_id, turned, condition, state, at, entry)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: SupersedeReading :exec
UPDATE readings SET superseded = ? WHERE id = ?;

-- name: MakeStale :exec
UPDATE readings SET stale_event = ? WHERE id = ?;

-- name: AddEvent :exec
INSERT INTO events (id, setup_id, what, at, entry) VALUES (?, ?, ?, ?, ?);

-- name: EventsOfSetup :many
SELECT * FROM events WHERE setup_id = ? ORDER BY entry;

-- name: Holds :many
SELECT h.* FROM holds h JOIN assemblies a ON a.id = h.assembly_id WHERE a.airframe_id = ? ORDER BY h.entry;

-- name: Hold :one
SELECT * FROM holds WHERE id = ?;

-- name: AddHold :exec
INSERT INTO holds (id, assembly_id, setup_id, name, step, permanent, why, required, scope, entry) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: HoldsOfAssembly :many
SELECT * FROM holds WHERE assembly_id = ? ORDER BY entry;

-- name: ChangeHold :exec
UPDATE holds SET required = ? WHERE id = ?;

-- name: Releases :many
SELECT * FROM releases WHERE hold_id = ? ORDER BY entry;

-- name: AllReleases :many
SELECT * FROM releases ORDER BY entry;

-- name: AddRelease :exec
INSERT INTO releases (id, hold_id, by_name, at, standing, reason, answered_by, answer, answered, document, evidence, entry) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: LapseReleases :exec
UPDATE releases SET lapsed = sqlc.arg(event)
WHERE lapsed IS NULL
  AND hold_id IN (SELECT h.id FROM holds h WHERE h.setup_id = sqlc.arg(setup) OR (h.setup_id IS NULL AND h.assembly_id = sqlc.arg(assembly)))
  AND id NOT IN (SELECT release_id FROM steps);

-- name: WithdrawReleasesOfSetup :exec
UPDATE releases SET withdrawn = sqlc.arg(why)
WHERE lapsed IS NULL AND withdrawn = ''
  AND hold_id IN (SELECT h.id FROM holds h WHERE h.setup_id = sqlc.arg(setup))
  AND id NOT IN (SELECT release_id FROM steps);

-- name: WithdrawReleasesOfHold :exec
UPDATE releases SET withdrawn = sqlc.arg(why)
WHERE lapsed IS NULL AND withdrawn = '' AND releases.hold_id = sqlc.arg(hold)
  AND id NOT IN (SELECT release_id FROM steps);

-- name: ReleaseInForce :one
SELECT r.id, r.by_name, CAST(EXISTS (SELECT 1 FROM steps s WHERE s.release_id = r.id) AS INTEGER) AS spent FROM releases r
WHERE r.hold_id = ? AND r.lapsed IS NULL AND r.withdrawn = '' ORDER BY r.entry DESC LIMIT 1;

-- name: Steps :many
SELECT * FROM steps WHERE hold_id = ? ORDER BY entry;

-- name: AllSteps :many
SELECT * FROM steps ORDER BY entry;

-- name: AddStep :exec
INSERT INTO steps (id, release_id, hold_id, by_name, note, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?);

-- name: Event :one
SELECT * FROM events WHERE id = ?;

-- name: AddBay :exec
INSERT INTO bays (id, assembly_id, name, closed_by, entry) VALUES (?, ?, ?, ?, ?);

-- name: Bay :one
SELECT * FROM bays WHERE id = ?;

-- name: BaysOfAssembly :many
SELECT * FROM bays WHERE assembly_id = ? ORDER BY entry;

-- name: AddTask :exec
INSERT INTO tasks (id, bay_id, what, entry) VALUES (?, ?, ?, ?);

-- name: TasksOfBay :many
SELECT * FROM tasks WHERE bay_id = ? ORDER BY entry;

-- name: FinishTask :exec
UPDATE tasks SET done_by = ?, done_at = ?, note = ? WHERE id = ?;

-- name: AddCount :exec
INSERT INTO counts (id, bay_id, thing, number, by_name, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?);

-- name: CountsOfBay :many
SELECT * FROM counts WHERE bay_id = ? ORDER BY entry;

-- name: AddRow :exec
INSERT INTO rivet_rows (id, assembly_id, name, plan, line, final, rivet_hold, bay_id, entry) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: Row :one
SELECT * FROM rivet_rows WHERE id = ?;

-- name: RowsOfAssembly :many
SELECT * FROM rivet_rows WHERE assembly_id = ? ORDER BY entry;

-- name: RowsOfAirframe :many
SELECT r.* FROM rivet_rows r JOIN assemblies a ON a.id = r.assembly_id WHERE a.airframe_id = ? ORDER BY r.entry;

-- name: RowsOfBay :many
SELECT * FROM rivet_rows WHERE bay_id = ? ORDER BY entry;

-- name: RowsOfHold :many
SELECT * FROM rivet_rows r WHERE r.rivet_hold = sqlc.arg(hold) OR r.id IN (SELECT d.row_id FROM drill_holds d WHERE d.hold_id = sqlc.arg(hold)) ORDER BY r.entry;

-- name: ChangeRow :exec
UPDATE rivet_rows SET name = ?, plan = ?, line = ? WHERE id = ?;

-- name: TurnMatchDrilled :exec
UPDATE rivet_rows SET final = 0 WHERE id = ?;

-- name: ChooseBarrier :exec
UPDATE rivet_rows SET barrier = ? WHERE id = ?;

-- name: AddDrillHold :exec
INSERT INTO drill_holds (row_id, hold_id) VALUES (?, ?);

-- name: DrillHolds :many
SELECT h.* FROM holds h JOIN drill_holds d ON d.hold_id = h.id WHERE d.row_id = ? ORDER BY h.entry;

-- name: AddHole :exec
INSERT INTO holes (row_id, number, along, across, pose, state, keep_part, keep_step, keep_hold) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: Holes :many
SELECT * FROM holes WHERE row_id = ? ORDER BY number;

-- name: AllHoles :many
SELECT * FROM holes ORDER BY row_id, number;

-- name: ChangeHole :exec
UPDATE holes SET state = ?, clean = ?, over = ?, spoilt = ?, tried = ?, keep_part = ?, keep_step = ?, keep_hold = ? WHERE row_id = ? AND number = ?;

-- name: HoleCounts :many
SELECT h.row_id, h.state, CAST(h.keep_part <> '' AS INTEGER) AS kept, count(*) AS number, CAST(sum(h.spoilt) AS INTEGER) AS spoilt
FROM holes h JOIN rivet_rows r ON r.id = h.row_id JOIN assemblies a ON a.id = r.assembly_id WHERE a.airframe_id = ? GROUP BY 1, 2, 3;

-- name: AddDeed :exec
INSERT INTO hole_deeds (entry, row_id, number, what, cause, crew, fastener, before) VALUES (?, ?, ?, ?, ?, ?, ?, ?);

-- name: LastDeeds :many
SELECT * FROM hole_deeds WHERE hole_deeds.row_id = sqlc.arg(row) AND hole_deeds.entry IN (
    SELECT DISTINCT d.entry FROM hole_deeds d WHERE d.row_id = sqlc.arg(row) ORDER BY d.entry DESC LIMIT sqlc.arg(most)
) ORDER BY hole_deeds.entry DESC, hole_deeds.number;

-- name: UndoDeeds :exec
UPDATE hole_deeds SET undone = 1 WHERE row_id = ? AND entry = ?;

-- name: RivetsOfAirframe :many
SELECT d.row_id, d.number, d.what, d.cause, d.crew, d.fastener, d.before FROM hole_deeds d
JOIN rivet_rows r ON r.id = d.row_id JOIN assemblies a ON a.id = r.assembly_id
WHERE a.airframe_id = ? AND d.undone = 0 AND d.what IN ('set', 'bad') ORDER BY d.entry, d.number;

-- name: RivetsOfRow :many
SELECT row_id, number, what, cause, crew, fastener, before FROM hole_deeds WHERE row_id = ? AND undone = 0 AND what IN ('set', 'bad') ORDER BY entry, number;

-- name: SettersOfRow :many
SELECT j.by_name, d.crew, count(*) AS rivets, CAST(max(j.at) AS TEXT) AS last_at FROM hole_deeds d JOIN journal j ON j.seq = d.entry
WHERE d.row_id = ? AND d.what = 'set' AND d.undone = 0 GROUP BY 1, 2 ORDER BY 4;

-- name: AddLook :exec
INSERT INTO looks (id, need, of, what, by_name, second_name, note, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: LooksOf :many
SELECT l.*, e.what AS event FROM looks l LEFT JOIN events e ON e.id = l.stale_event WHERE l.of = ? ORDER BY l.entry;

-- name: MakeLooksStale :exec
UPDATE looks SET stale_event = sqlc.arg(event) WHERE stale_event IS NULL AND need = sqlc.arg(need) AND (
    looks.of IN (SELECT r.id FROM rivet_rows r WHERE r.assembly_id = sqlc.arg(assembly))
    OR looks.of IN (SELECT h.id FROM holds h WHERE h.assembly_id = sqlc.arg(assembly)));

-- name: AllLooks :many
SELECT * FROM looks ORDER BY entry;

-- name: AllCounts :many
SELECT * FROM counts ORDER BY entry;

-- name: AddPart :exec
INSERT INTO parts (id, airframe_id, number, name, hand, supplier, lot, process, condition, place, clue, assembly_id, row_id, check_id, entry)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: Part :one
SELECT * FROM parts WHERE id = ?;

-- name: Parts :many
SELECT * FROM parts WHERE airframe_id = ? ORDER BY entry;

-- name: MovePart :exec
UPDATE parts SET place = ?, assembly_id = ?, row_id = ?, check_id = ?, condition = ? WHERE id = ?;

-- name: AddNotice :exec
INSERT INTO notices (id, airframe_id, title, numbers, lots, processes, note, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: Notices :many
SELECT * FROM notices WHERE airframe_id = ? ORDER BY entry DESC;

-- name: AddStockCount :exec
INSERT INTO stock_counts (id, airframe_id, sort, name, number, note, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?, ?);

-- name: StockCounts :many
SELECT * FROM stock_counts WHERE airframe_id = ? ORDER BY entry;

-- name: AddPhoto :exec
INSERT INTO photos (id, of, caption, type, width, height, sha256, content, thumb, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: PhotosOf :many
SELECT id, caption, type, width, height, sha256, at, entry FROM photos WHERE of = ? ORDER BY entry;

-- name: Photo :one
SELECT type, content FROM photos WHERE id = ?;

-- name: AllPhotos :many
SELECT id, of, caption, sha256, entry FROM photos ORDER BY entry;

-- name: Thumb :one
SELECT thumb FROM photos WHERE id = ?;

-- name: AddSlip :exec
INSERT INTO slips (id, airframe_id, assembly_id, step, place, cause, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?, ?);

-- name: Slip :one
SELECT * FROM slips WHERE id = ?;

-- name: ChangeSlip :exec
UPDATE slips SET what = ?, found = ?, minutes = ?, money = ?, currency = ?, parts = ?, lesson = ? WHERE id = ?;

-- name: Slips :many
SELECT * FROM slips WHERE airframe_id = ? ORDER BY entry DESC;
