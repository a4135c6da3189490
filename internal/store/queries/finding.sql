-- name: Findable :many
SELECT sort, id, page, coalesce(frame, '') AS frame, title, more, coalesce(place, '') AS place, gone, changed FROM findable WHERE changed > sqlc.arg(since);
