-- name: AddQuestion :exec
INSERT INTO questions (id, airframe_id, sort, text, whom, by_day, evidence, provisional, again, freezes, last, asked_at, entry, revised) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: Question :one
SELECT * FROM questions WHERE id = ?;

-- name: Questions :many
SELECT * FROM questions WHERE airframe_id = ? AND withdrawn = '' ORDER BY answered_at <> '', entry DESC;

-- name: AnswerQuestion :exec
UPDATE questions SET answer = ?, answered_by = ?, answered_at = ?, revised = ? WHERE id = ?;

-- name: ChangeQuestion :exec
UPDATE questions SET text = ?, whom = ?, by_day = ?, evidence = ?, provisional = ?, again = ?, revised = ? WHERE id = ?;

-- name: WithdrawQuestion :exec
UPDATE questions SET withdrawn = ?, revised = ? WHERE id = ?;
