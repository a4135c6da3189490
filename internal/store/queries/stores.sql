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
UPDATE stock_counts SET sort = ?, name = ?, number = ?, note = ?, place = ?, lot = ?, best = ?, revised = ? WHERE id = ?;

-- name: WithdrawStockCount :exec
UPDATE stock_counts SET withdrawn = ?, revised = ? WHERE id = ?;

-- name: AddNotice :exec
INSERT INTO notices (id, airframe_id, title, numbers, lots, processes, note, at, entry, revised) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: Notices :many
SELECT * FROM notices WHERE airframe_id = ? AND withdrawn = '' ORDER BY entry DESC;

-- name: AddStockCount :exec
INSERT INTO stock_counts (id, airframe_id, sort, name, number, note, place, lot, best, at, entry, revised) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: Boxes :many
SELECT name, lot, best, entry, CAST(0 AS INTEGER) AS chosen FROM stock_counts c WHERE c.airframe_id = sqlc.arg(airframe) AND c.withdrawn = '' AND c.number > 0
UNION ALL SELECT u.name, u.lot, '', u.entry, 1 FROM lots_used u WHERE u.airframe_id = sqlc.arg(airframe) ORDER BY entry;

-- name: StockOfLots :many
SELECT sort, name, lot, CAST(sum(number) AS INTEGER) AS number, CAST(max(max(entry, revised)) AS INTEGER) AS newest FROM stock_counts WHERE airframe_id = ? AND withdrawn = '' GROUP BY sort, name, lot ORDER BY sort, name, lot;

-- name: UseLot :exec
INSERT INTO lots_used (id, airframe_id, name, lot, at, entry) VALUES (?, ?, ?, ?, ?, ?);

-- name: AddHoleLot :exec
INSERT INTO hole_lots (id, row_id, numbers, lot, by_name, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?);

-- name: HoleLots :many
SELECT l.* FROM hole_lots l JOIN rivet_rows r ON r.id = l.row_id JOIN assemblies a ON a.id = r.assembly_id WHERE a.airframe_id = ? ORDER BY l.entry;

-- name: RivetsIn :many
SELECT h.row_id, r.name AS row_name, r.assembly_id, a.name AS assembly_name, h.number, o.fastener, o.entry
FROM assemblies a CROSS JOIN rivet_rows r ON r.assembly_id = a.id CROSS JOIN holes h ON h.row_id = r.id
CROSS JOIN operations o ON o.row_id = h.row_id AND o.number = h.number AND o.undone = 0 AND o.what = 'set'
WHERE (a.id IN (sqlc.slice('assemblies')) OR r.id IN (sqlc.slice('rows'))) AND r.withdrawn = '' AND h.state IN ('set', 'doubtful', 'accepted', 'bad') ORDER BY r.entry, h.number, o.entry;

-- name: Pots :many
SELECT c.id, c.what, c.entry, m.name AS material, CAST(coalesce(a.name, '') AS TEXT) AS assembly_name, CAST(coalesce(c.assembly_id, '') AS TEXT) AS assembly_id
FROM clocks c JOIN materials m ON m.id = c.material_id LEFT JOIN assemblies a ON a.id = c.assembly_id WHERE c.airframe_id = ? AND c.withdrawn = '' ORDER BY c.entry;

-- name: FindThing :exec
INSERT INTO notice_things (notice_id, thing, answer, found, by_name, at, entry) VALUES (?, ?, ?, ?, ?, ?, ?)
    ON CONFLICT (notice_id, thing) DO UPDATE SET answer = excluded.answer, found = excluded.found, by_name = excluded.by_name, at = excluded.at, entry = excluded.entry;

-- name: ThingsFound :many
SELECT f.* FROM notice_things f JOIN notices n ON n.id = f.notice_id WHERE n.airframe_id = ? ORDER BY f.entry;

-- name: NoticesOfAssemblies :many
SELECT sqlc.embed(n), CAST((SELECT json_group_array(json_object('Name', c.name, 'Lot', c.lot, 'Entry', c.entry, 'Chosen', json(CASE WHEN c.chosen = 1 THEN 'true' ELSE 'false' END))) FROM (
        SELECT name, lot, entry, 0 AS chosen FROM stock_counts WHERE airframe_id = n.airframe_id AND withdrawn = '' AND number > 0 UNION ALL SELECT name, lot, entry, 1 FROM lots_used WHERE airframe_id = n.airframe_id ORDER BY entry) c) AS TEXT) AS boxes,
    CAST((SELECT json_group_array(p.number) FROM parts p WHERE p.airframe_id = n.airframe_id AND p.withdrawn = '') AS TEXT) AS parts,
    CAST((SELECT json_group_array(m.name) FROM materials m WHERE m.withdrawn = '') AS TEXT) AS mixed,
    CAST((SELECT json_group_array(json_object('Row', l.row_id, 'Numbers', json(l.numbers), 'Lot', l.lot, 'Entry', l.entry)) FROM hole_lots l JOIN rivet_rows r ON r.id = l.row_id JOIN assemblies b ON b.id = r.assembly_id WHERE b.airframe_id = n.airframe_id) AS TEXT) AS told,
    CAST((SELECT json_group_object(f.thing, json_object('Answer', f.answer, 'Entry', f.entry)) FROM notice_things f WHERE f.notice_id = n.id) AS TEXT) AS found
FROM notices n WHERE n.withdrawn = '' AND n.airframe_id IN (SELECT a.airframe_id FROM assemblies a WHERE a.id IN (sqlc.slice('assemblies'))) ORDER BY n.entry;

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
