-- name: AddPart :exec
INSERT INTO parts (id, airframe_id, number, name, hand, supplier, lot, process, condition, place, clue, assembly_id, row_id, check_id, entry, revised) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: Part :one
SELECT * FROM parts WHERE id = ?;

-- name: Parts :many
SELECT * FROM parts WHERE airframe_id = ? AND withdrawn = '' ORDER BY entry;

-- name: PartsByID :many
SELECT * FROM parts WHERE id IN (sqlc.slice('ids')) ORDER BY entry;

-- name: RowOfPart :one
SELECT assembly_id FROM rivet_rows WHERE id = ?;

-- name: CheckOfPart :one
SELECT c.kind, a.airframe_id FROM checks c JOIN setups s ON s.id = c.setup_id JOIN assemblies a ON a.id = s.assembly_id WHERE c.id = ?;

-- name: MovePart :exec
UPDATE parts SET place = ?, assembly_id = ?, row_id = ?, check_id = ?, condition = ?, revised = ? WHERE id = ?;

-- name: ChangePart :exec
UPDATE parts SET number = ?, name = ?, hand = ?, supplier = ?, lot = ?, process = ?, condition = ?, clue = ?, revised = ? WHERE id = ?;

-- name: WithdrawPart :exec
UPDATE parts SET withdrawn = ?, revised = ? WHERE id = ?;

-- name: Notice :one
SELECT * FROM notices WHERE id = ?;

-- name: ChangeNotice :exec
UPDATE notices SET title = ?, numbers = ?, lots = ?, processes = ?, note = ?, revised = ? WHERE id = ?;

-- name: WithdrawNotice :exec
UPDATE notices SET withdrawn = ?, revised = ? WHERE id = ?;

-- name: StockCounts :many
SELECT * FROM stock_counts WHERE airframe_id = ? AND withdrawn = '' ORDER BY entry DESC LIMIT ?;

-- name: StockCount :one
SELECT * FROM stock_counts WHERE id = ?;

-- name: ChangeStockCount :exec
UPDATE stock_counts SET sort = ?, name = ?, number = ?, note = ?, place = ?, revised = ? WHERE id = ?;

-- name: WithdrawStockCount :exec
UPDATE stock_counts SET withdrawn = ?, revised = ? WHERE id = ?;

-- name: AddNotice :exec
INSERT INTO notices (id, airframe_id, title, numbers, lots, processes, note, at, entry, revised) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: Notices :many
SELECT * FROM notices WHERE airframe_id = ? AND withdrawn = '' ORDER BY entry DESC;

-- name: AddStockCount :exec
INSERT INTO stock_counts (id, airframe_id, sort, name, number, note, place, at, entry, revised) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: StockPlaces :many
SELECT name, place FROM stock_counts WHERE airframe_id = ? AND withdrawn = '' AND place <> '' ORDER BY entry DESC;

-- name: StockTotals :many
SELECT sort, name, CAST(sum(number) AS INTEGER) AS number FROM stock_counts WHERE airframe_id = ? AND withdrawn = '' GROUP BY sort, name ORDER BY sort, name;

-- name: AddPartLies :exec
INSERT INTO part_lies (part_id, kind, of, entry) VALUES (?, ?, ?, ?);

-- name: ClearPartLies :exec
DELETE FROM part_lies WHERE part_id = ?;

-- name: PartsLie :many
SELECT l.* FROM part_lies l JOIN parts p ON p.id = l.part_id WHERE p.airframe_id = ? AND p.withdrawn = '' ORDER BY l.part_id, l.kind, l.of;

-- name: FindOfNotice :exec
INSERT INTO notice_findings (notice_id, part_id, answer, found, by_name, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?)
    ON CONFLICT (notice_id, part_id) DO UPDATE SET answer = excluded.answer, found = excluded.found, by_name = excluded.by_name, at = excluded.at, entry = excluded.entry;

-- name: FoundOfNotices :many
SELECT f.* FROM notice_findings f JOIN notices n ON n.id = f.notice_id WHERE n.airframe_id = ? ORDER BY f.entry;

-- name: PartsInRow :many
SELECT p.* FROM parts p WHERE p.withdrawn = '' AND p.supplier <> '' AND (p.row_id = sqlc.arg(row) OR p.id IN (SELECT part_id FROM part_lies WHERE kind = 'row' AND of = sqlc.arg(of))) ORDER BY p.entry;

-- name: NoticedParts :many
SELECT n.id, n.title, n.numbers, n.lots, n.processes, p.id AS part_id, p.number, p.name, p.lot, p.process, CAST(coalesce(p.assembly_id, '') AS TEXT) AS assembly_id, CAST(coalesce(p.row_id, '') AS TEXT) AS row_id,
    CAST(coalesce((SELECT group_concat(l.of, ' ') FROM part_lies l WHERE l.part_id = p.id), '') AS TEXT) AS lies, CAST(coalesce(f.answer, '') AS TEXT) AS found
FROM notices n JOIN parts p ON p.airframe_id = n.airframe_id LEFT JOIN notice_findings f ON f.notice_id = n.id AND f.part_id = p.id
WHERE n.withdrawn = '' AND p.withdrawn = '' AND (p.row_id IS NOT NULL OR p.assembly_id IS NOT NULL) AND n.airframe_id IN (SELECT a.airframe_id FROM assemblies a WHERE a.id IN (sqlc.slice('assemblies'))) ORDER BY n.entry, p.entry;
