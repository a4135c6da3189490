-- name: AddPhoto :exec
INSERT INTO photos (id, of, caption, type, width, height, sha256, thumb, at, entry, revised) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: PhotosOf :many
SELECT * FROM photos WHERE taken_back = '' AND of IN (sqlc.slice('ids')) ORDER BY entry;

-- name: PhotoCounts :many
SELECT of, count(*) AS number FROM photos p WHERE taken_back = '' AND of IN (sqlc.slice('ids')) AND p.entry > (SELECT coalesce(max(r.entry), 0) FROM reopenings r WHERE r.bay_id = p.of) GROUP BY of;

-- name: Photo :one
SELECT * FROM photos WHERE id = ?;

-- name: Photographed :one
SELECT b.name AS name FROM bays b WHERE b.id = sqlc.arg(id)
UNION ALL SELECT p.name FROM parts p WHERE p.id = sqlc.arg(id)
UNION ALL SELECT h.name FROM holds h WHERE h.id = sqlc.arg(id)
UNION ALL SELECT 'slip: ' || s.cause FROM slips s WHERE s.id = sqlc.arg(id);

-- name: TakePhotoBack :exec
UPDATE photos SET taken_back = ?, revised = ? WHERE id = ?;

-- name: RestingOnPhoto :many
SELECT l.entry, l.by_name, j.content FROM looks l JOIN journal j ON j.seq = l.entry WHERE l.need = 'handed' AND l.second_name = '' ORDER BY l.entry;
