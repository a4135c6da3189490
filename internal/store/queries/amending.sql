-- name: AddAlteration :exec
INSERT INTO alterations (id, of_kind, of_id, how, reason, by_name, title, changes, releases, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: AlterationsOf :many
SELECT * FROM alterations WHERE of_id = ? ORDER BY entry;
