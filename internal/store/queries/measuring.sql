-- name: Setup :one
SELECT sqlc.embed(s), CAST(coalesce(a.name, '') AS TEXT) AS assembly, CAST(coalesce(a.shape, '{}') AS TEXT) AS shape, CAST(coalesce(f.id, '') AS TEXT) AS frame, CAST(coalesce(f.name, '') AS TEXT) AS frame_name,
    CAST(coalesce(f.length_unit, '') AS TEXT) AS length_unit, CAST(coalesce(f.schools, '{}') AS TEXT) AS frame_schools, CAST(coalesce(f.revised, 0) AS INTEGER) AS frame_revised
FROM setups s LEFT JOIN assemblies a ON a.id = s.assembly_id LEFT JOIN airframes f ON f.id = a.airframe_id WHERE s.id = ?;

-- name: SetupsOfAssembly :many
SELECT * FROM setups WHERE assembly_id = ? AND withdrawn = '' ORDER BY entry;

-- name: FreeSetups :many
SELECT * FROM setups WHERE assembly_id IS NULL AND withdrawn = '' ORDER BY entry;

-- name: SetupRow :one
SELECT * FROM setups WHERE id = ?;

-- name: SetupsOfAirframe :many
SELECT s.*, a.name AS assembly FROM setups s JOIN assemblies a ON a.id = s.assembly_id WHERE a.airframe_id = ? AND a.withdrawn = '' AND s.withdrawn = '' ORDER BY s.entry;

-- name: AddSetup :exec
INSERT INTO setups (id, assembly_id, name, begun_at, state, steady_at, unit, entry) VALUES (?, ?, ?, ?, 1, ?, ?, ?);

-- name: KeepSetup :exec
UPDATE setups SET assembly_id = ?, unit = '' WHERE id = ?;

-- name: RenameSetup :exec
UPDATE setups SET name = ? WHERE id = ?;

-- name: WithdrawSetup :exec
UPDATE setups SET withdrawn = ? WHERE id = ?;

-- name: WithdrawCheck :exec
UPDATE checks SET withdrawn = ?, revised = ? WHERE id = ?;

-- name: ConfirmCheck :exec
UPDATE checks SET assumed = '[]', redefined = ?, revised = ? WHERE id = ?;

-- name: ReviseSurveyed :exec
UPDATE checks SET revised = ? WHERE survey = ?;

-- name: RenamePoint :exec
UPDATE readings SET point = sqlc.arg(name) WHERE check_id = sqlc.arg(check_id) AND point = sqlc.arg(was);

-- name: WarmthOfSetup :exec
UPDATE setups SET material = ?, temperature = ? WHERE id = ?;

-- name: ReviseChecksOfSetup :exec
UPDATE checks SET revised = ? WHERE setup_id = ?;

-- name: NextState :exec
UPDATE setups SET state = ?, steady_at = ?, last_event = ? WHERE id = ?;

-- name: Checks :many
SELECT sqlc.embed(c), j.hash AS version FROM checks c JOIN journal j ON j.seq = c.revised WHERE c.setup_id = ? AND c.withdrawn = '' ORDER BY c.position;

-- name: Check :one
SELECT sqlc.embed(c), j.hash AS version, sqlc.embed(s), CAST(coalesce(a.name, '') AS TEXT) AS assembly, CAST(coalesce(a.shape, '{}') AS TEXT) AS shape, CAST(coalesce(f.id, '') AS TEXT) AS frame, CAST(coalesce(f.name, '') AS TEXT) AS frame_name,
    CAST(coalesce(f.length_unit, '') AS TEXT) AS length_unit, CAST(coalesce(f.schools, '{}') AS TEXT) AS frame_schools, CAST(coalesce(f.revised, 0) AS INTEGER) AS frame_revised
FROM checks c JOIN journal j ON j.seq = c.revised JOIN setups s ON s.id = c.setup_id LEFT JOIN assemblies a ON a.id = s.assembly_id LEFT JOIN airframes f ON f.id = a.airframe_id WHERE c.id = ?;

-- name: ChecksOfKind :many
SELECT c.*, s.name AS setup FROM checks c JOIN setups s ON s.id = c.setup_id JOIN assemblies a ON a.id = s.assembly_id WHERE a.airframe_id = ? AND c.kind = ? AND c.withdrawn = '' AND s.withdrawn = '' ORDER BY c.entry, c.position;

-- name: Definitions :many
SELECT c.kind, c.definition FROM checks c JOIN setups s ON s.id = c.setup_id JOIN assemblies a ON a.id = s.assembly_id WHERE a.airframe_id = ? AND c.withdrawn = '' AND s.withdrawn = '' ORDER BY c.redefined, c.position;

-- name: AddCheck :exec
INSERT INTO checks (id, setup_id, position, name, kind, definition, instrument_id, accepts, schools, after_of, assumed, survey, first_limits, entry, redefined, revised) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: ChangeCheck :exec
UPDATE checks SET name = sqlc.arg(name), definition = sqlc.arg(definition), schools = sqlc.arg(schools), first_limits = CASE WHEN first_limits = '' THEN CAST(sqlc.arg(limits) AS TEXT) ELSE first_limits END, assumed = CASE WHEN CAST(sqlc.arg(assumed) AS TEXT) = '' THEN assumed ELSE CAST(sqlc.arg(assumed) AS TEXT) END, limits_set = CASE WHEN COALESCE(json_extract(definition, '$.limits'), '') IS COALESCE(json_extract(CAST(sqlc.arg(definition) AS TEXT), '$.limits'), '') THEN limits_set ELSE sqlc.arg(redefined) END, redefined = sqlc.arg(redefined), revised = sqlc.arg(revised) WHERE id = sqlc.arg(id);

-- name: AmendCheck :exec
UPDATE checks SET name = sqlc.arg(name), definition = sqlc.arg(definition), first_limits = CASE WHEN first_limits = '' THEN CAST(sqlc.arg(limits) AS TEXT) ELSE first_limits END, limits_set = CASE WHEN COALESCE(json_extract(definition, '$.limits'), '') IS COALESCE(json_extract(CAST(sqlc.arg(definition) AS TEXT), '$.limits'), '') THEN limits_set ELSE sqlc.arg(redefined) END, redefined = sqlc.arg(redefined), revised = sqlc.arg(revised) WHERE id = sqlc.arg(id);

-- name: ReviseCheck :exec
UPDATE checks SET revised = ? WHERE id = ?;

-- name: OfferInstrument :exec
UPDATE checks SET instrument_id = ?, revised = ? WHERE id = ?;

-- name: Counting :many
SELECT * FROM readings WHERE check_id IN (sqlc.slice('checks')) AND superseded = '' AND stale_event IS NULL ORDER BY entry;

-- name: Stale :many
SELECT r.check_id, r.list, r.point, r.field, r.text, e.what AS event, CAST(max(r.entry) AS INTEGER) AS newest FROM readings r JOIN events e ON e.id = r.stale_event
WHERE r.check_id IN (sqlc.slice('checks')) AND r.superseded = '' AND r.stale_event IS NOT NULL GROUP BY r.check_id, r.list, r.point, r.field;

-- name: ReadingsAtSpot :many
SELECT r.*, e.what AS event FROM readings r LEFT JOIN events e ON e.id = r.stale_event WHERE r.check_id = ? AND r.list = ? AND r.point = ? AND r.field = ? ORDER BY r.entry DESC LIMIT ?;

-- name: Reading :one
SELECT * FROM readings WHERE id = ?;

-- name: AddReading :exec
INSERT INTO readings (id, check_id, list, point, field, text, value, instrument_id, turned, hung, aid, condition, state, at, entry, sent, moved) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: SupersedeReadings :exec
UPDATE readings SET superseded = ? WHERE id IN (sqlc.slice('ids'));

-- name: MakeStale :exec
UPDATE readings SET stale_event = ? WHERE id IN (sqlc.slice('ids'));

-- name: AddEvent :exec
INSERT INTO events (id, setup_id, what, at, entry) VALUES (?, ?, ?, ?, ?);

-- name: StandingsOfAirframe :many
SELECT c.id, c.setup_id, c.position, c.name, c.kind, c.revised, c.after_of, t.arithmetic, t.revised AS worked_out, t.basis, t.says, f.revised AS frame
FROM checks c JOIN setups s ON s.id = c.setup_id JOIN assemblies a ON a.id = s.assembly_id LEFT JOIN airframes f ON f.id = a.airframe_id LEFT JOIN standings t ON t.check_id = c.id WHERE a.airframe_id = ? AND a.withdrawn = '' AND c.withdrawn = '' AND s.withdrawn = '' ORDER BY s.entry, c.position;

-- name: StandingsOfSetups :many
SELECT c.id, c.setup_id, c.position, c.name, c.kind, c.revised, c.after_of, t.arithmetic, t.revised AS worked_out, t.basis, t.says, f.revised AS frame
FROM checks c JOIN setups s ON s.id = c.setup_id LEFT JOIN assemblies a ON a.id = s.assembly_id LEFT JOIN airframes f ON f.id = a.airframe_id LEFT JOIN standings t ON t.check_id = c.id WHERE c.setup_id IN (sqlc.slice('setups')) AND c.withdrawn = '' ORDER BY c.setup_id, c.position;

-- name: SetStanding :exec
INSERT INTO standings (check_id, arithmetic, revised, basis, says) VALUES (?, ?, ?, ?, ?)
ON CONFLICT (check_id) DO UPDATE SET arithmetic = excluded.arithmetic, revised = excluded.revised, basis = excluded.basis, says = excluded.says;

-- name: SupersededOf :many
SELECT * FROM readings WHERE check_id = ? AND superseded <> '' AND stale_event IS NULL ORDER BY entry DESC LIMIT 20;

-- name: Event :one
SELECT * FROM events WHERE id = ?;

-- name: LastEventOf :one
SELECT * FROM events WHERE setup_id = ? AND undone = '' ORDER BY entry DESC LIMIT 1;

-- name: ReadingsStaleBy :many
SELECT id, check_id FROM readings WHERE stale_event = ? ORDER BY entry;

-- name: ReadingsOfState :one
SELECT CAST(count(*) AS INTEGER) FROM readings r JOIN checks c ON c.id = r.check_id WHERE c.setup_id = ? AND r.state >= ?;

-- name: FreshenReadings :exec
UPDATE readings SET stale_event = NULL WHERE stale_event = ?;

-- name: UndoEvent :exec
UPDATE events SET undone = ? WHERE id = ?;

-- name: AllStandings :many
SELECT t.check_id, t.basis, t.says, f.revised AS frame, c.setup_id FROM standings t JOIN checks c ON c.id = t.check_id JOIN setups s ON s.id = c.setup_id
LEFT JOIN assemblies a ON a.id = s.assembly_id LEFT JOIN airframes f ON f.id = a.airframe_id WHERE t.arithmetic = sqlc.arg(arithmetic) AND t.revised = c.revised AND c.withdrawn = '' ORDER BY t.check_id;

-- name: EventBefore :one
SELECT * FROM events WHERE setup_id = ? AND undone = '' AND entry < ? ORDER BY entry DESC LIMIT 1;

-- name: LiesOnSurvey :one
SELECT CAST(count(*) AS INTEGER) FROM checks WHERE setup_id = ? AND survey = ? AND withdrawn = '';

-- name: AddPlacing :exec
INSERT INTO placings (setup_id, other_id, entry) VALUES (?, ?, ?) ON CONFLICT DO NOTHING;

-- name: PartPlacing :exec
DELETE FROM placings WHERE setup_id = ? AND other_id = ?;

-- name: PlacedAs :many
SELECT CAST(CASE WHEN p.setup_id = sqlc.arg(setup) THEN p.other_id ELSE p.setup_id END AS TEXT) AS id FROM placings p WHERE p.setup_id = sqlc.arg(also) OR p.other_id = sqlc.arg(too) ORDER BY id;

-- name: StandingBefore :many
SELECT s.id, s.name, CAST(EXISTS (SELECT 1 FROM placings p WHERE p.setup_id = m.id AND p.other_id = s.id) AS INTEGER) AS still
FROM setups m JOIN setups s ON s.assembly_id = m.assembly_id AND s.entry < m.entry AND s.withdrawn = ''
WHERE m.id = ? AND EXISTS (SELECT 1 FROM checks c JOIN readings r ON r.check_id = c.id AND r.superseded = '' AND r.stale_event IS NULL WHERE c.setup_id = s.id AND c.withdrawn = '') ORDER BY s.entry DESC;

-- name: EventsOfEntry :many
SELECT * FROM events WHERE entry = ? ORDER BY id;

-- name: LifeOfSetups :many
SELECT sqlc.embed(r), CAST(COALESCE(e.entry, 0) AS INTEGER) AS gone FROM readings r JOIN checks c ON c.id = r.check_id LEFT JOIN events e ON e.id = r.stale_event
WHERE c.setup_id IN (sqlc.slice('setups')) AND c.withdrawn = '' AND r.superseded = '' ORDER BY r.entry;

-- name: EventsOfSetups :many
SELECT * FROM events WHERE setup_id IN (sqlc.slice('setups')) AND undone = '' ORDER BY entry;
