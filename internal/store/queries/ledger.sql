-- name: Head :one
SELECT seq, hash FROM head WHERE one = 1;

-- name: SetHead :exec
INSERT INTO head (one, seq, hash) VALUES (1, sqlc.arg(seq), sqlc.arg(hash))
ON CONFLICT (one) DO UPDATE SET seq = excluded.seq, hash = excluded.hash;

-- name: EntryByID :one
SELECT * FROM journal WHERE id = ?;

-- name: Entry :one
SELECT * FROM journal WHERE seq = ?;

-- name: AddEntry :exec
INSERT INTO journal (seq, id, at, kind, by_name, content, prev, hash) VALUES (?, ?, ?, ?, ?, ?, ?, ?);

-- name: Entries :many
SELECT * FROM journal WHERE seq > sqlc.arg(after) ORDER BY seq LIMIT sqlc.arg(most);

-- name: EntriesBefore :many
SELECT * FROM journal WHERE seq < sqlc.arg(before) ORDER BY seq DESC LIMIT sqlc.arg(most);

-- name: LastEntry :one
SELECT * FROM journal ORDER BY seq DESC LIMIT 1;

-- name: AddFile :exec
INSERT INTO files (sha256, content) VALUES (?, ?) ON CONFLICT (sha256) DO NOTHING;

-- name: File :one
SELECT content FROM files WHERE sha256 = ?;

-- name: TimesOf :many
SELECT seq, at FROM journal WHERE seq IN (sqlc.slice('seqs'));
