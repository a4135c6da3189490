-- name: AddSlip :exec
INSERT INTO slips (id, airframe_id, assembly_id, step, place, cause, currency, at, entry, revised)
VALUES (sqlc.arg(id), sqlc.arg(airframe_id), sqlc.arg(assembly_id), sqlc.arg(step), sqlc.arg(place), sqlc.arg(cause),
  coalesce((SELECT s.currency FROM slips s ORDER BY s.revised DESC LIMIT 1), CAST(sqlc.arg(currency) AS TEXT)), sqlc.arg(at), sqlc.arg(entry), sqlc.arg(revised));

-- name: Slip :one
SELECT * FROM slips WHERE id = ?;

-- name: TellSlip :exec
UPDATE slips SET what = sqlc.arg(what), found = sqlc.arg(found), minutes = sqlc.arg(minutes), money = sqlc.arg(money), currency = coalesce(nullif(CAST(sqlc.arg(named) AS TEXT), ''), currency), parts = sqlc.arg(parts), lesson = sqlc.arg(lesson), revised = sqlc.arg(revised) WHERE id = sqlc.arg(id);

-- name: Slips :many
SELECT s.*, a.name AS assembly FROM slips s LEFT JOIN assemblies a ON a.id = s.assembly_id WHERE s.entry < sqlc.arg(before) ORDER BY s.entry DESC LIMIT sqlc.arg(most);

-- name: SlipsOfAssembly :many
SELECT s.*, a.name AS assembly FROM slips s LEFT JOIN assemblies a ON a.id = s.assembly_id WHERE s.assembly_id = ? ORDER BY s.entry;

-- name: SlipMinutes :one
SELECT CAST(count(*) AS INTEGER) AS number, CAST(coalesce(sum(minutes), 0) AS INTEGER) AS minutes FROM slips;

-- name: Lessons :many
SELECT s.lesson, s.step, a.name AS assembly, CAST(coalesce(a.name IN (sqlc.arg(assembly), sqlc.arg(twin)), 0) AS INTEGER) AS near FROM slips s LEFT JOIN assemblies a ON a.id = s.assembly_id
WHERE s.airframe_id = sqlc.arg(airframe) AND s.lesson <> '' AND (a.name IN (sqlc.arg(assembly), sqlc.arg(twin)) OR s.step = sqlc.arg(step))
ORDER BY near DESC, s.entry DESC LIMIT sqlc.arg(most);

-- name: SlipsByCause :many
SELECT cause, currency, CAST(count(*) AS INTEGER) AS number, CAST(coalesce(sum(minutes), 0) AS INTEGER) AS minutes, CAST(coalesce(sum(money), 0) AS INTEGER) AS money FROM slips WHERE airframe_id = ? GROUP BY cause, currency ORDER BY minutes DESC, cause;

-- name: LastEntries :many
SELECT at FROM journal ORDER BY seq DESC LIMIT 60;
