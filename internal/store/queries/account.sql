-- name: AddPerson :exec
INSERT INTO people (id, name, role, entry, revised) VALUES (?, ?, ?, ?, ?);

-- name: Person :one
SELECT * FROM people WHERE id = ?;

-- name: People :many
SELECT * FROM people ORDER BY left_at <> '', entry;

-- name: ChangePerson :exec
UPDATE people SET role = ?, left_at = ?, revised = ? WHERE id = ?;

-- name: NobodyYet :one
SELECT NOT EXISTS (SELECT 1 FROM people);
