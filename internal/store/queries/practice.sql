-- name: AddAttempt :exec
INSERT INTO practice_attempts (id, number, exercise, seed, who, setup_id, begun_at) VALUES (?, ?, ?, ?, ?, ?, ?)
ON CONFLICT (id) DO NOTHING;

-- name: Attempt :one
SELECT * FROM practice_attempts WHERE id = ?;

-- name: OpenAttempts :many
SELECT * FROM practice_attempts WHERE ended_at = '' ORDER BY number;

-- name: Attempts :one
SELECT count(*) FROM practice_attempts;

-- name: EndAttempt :exec
UPDATE practice_attempts SET ended_at = ?, drilled = ?, good = ?, readings = ?, missed = ?, borne = ?, fewest = ?, stood = ? WHERE id = ? AND ended_at = '';

-- name: Progress :many
SELECT exercise, count(*) AS played, CAST(sum(CASE WHEN drilled = good AND borne = 1 THEN 1 ELSE 0 END) AS INTEGER) AS well FROM practice_attempts
WHERE who = ? AND ended_at <> '' GROUP BY exercise;
