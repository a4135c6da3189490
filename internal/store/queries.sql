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
INSERT INTO holds (id, assembly_id, setup_id, name, step, permanent, why, required, entry) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: ChangeHold :exec
UPDATE holds SET required = ? WHERE id = ?;

-- name: Releases :many
SELECT * FROM releases WHERE hold_id = ? ORDER BY entry;

-- name: AllReleases :many
SELECT * FROM releases ORDER BY entry;

-- name: AddRelease :exec
INSERT INTO releases (id, hold_id, by_name, at, standing, reason, answered_by, answer, evidence, entry) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: LapseReleases :exec
UPDATE releases SET lapsed = sqlc.arg(event)
WHERE lapsed IS NULL
  AND hold_id IN (SELECT h.id FROM holds h WHERE h.setup_id = sqlc.arg(setup))
  AND id NOT IN (SELECT release_id FROM steps);

-- name: Steps :many
SELECT * FROM steps WHERE hold_id = ? ORDER BY entry;

-- name: AllSteps :many
SELECT * FROM steps ORDER BY entry;

-- name: AddStep :exec
INSERT INTO steps (id, release_id, hold_id, by_name, note, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?);
