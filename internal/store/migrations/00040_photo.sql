-- +goose Up
-- A photo that was kept by mistake is taken off what it was kept with; the picture stays in the record.
ALTER TABLE photos ADD COLUMN taken_back TEXT NOT NULL DEFAULT ''; -- why; '' where it was not
ALTER TABLE photos ADD COLUMN revised INTEGER NOT NULL DEFAULT 0;
UPDATE photos SET revised = entry;
DROP VIEW findable;
CREATE VIEW findable AS
SELECT CAST('aircraft' AS TEXT) AS sort, CAST(id AS TEXT) AS id, CAST(id AS TEXT) AS page, CAST(id AS TEXT) AS frame, CAST(name AS TEXT) AS title, CAST(description AS TEXT) AS more, CAST('' AS TEXT) AS place, CAST(withdrawn <> '' AS INTEGER) AS gone, CAST(max(entry, revised) AS INTEGER) AS changed FROM airframes
UNION ALL SELECT 'assembly', a.id, a.id, a.airframe_id, a.name, a.part, f.name, a.withdrawn <> '', max(a.entry, a.revised) FROM assemblies a JOIN airframes f ON f.id = a.airframe_id
UNION ALL SELECT 'instrument', id, id, '', name, sort || ' ' || type || ' ' || resolution || ' ' || serial, '', withdrawn <> '', max(entry, revised) FROM instruments
UNION ALL SELECT 'setup', s.id, s.id, a.airframe_id, s.name, '', coalesce(a.name, ''), s.withdrawn <> '', s.entry FROM setups s LEFT JOIN assemblies a ON a.id = s.assembly_id
UNION ALL SELECT 'check', c.id, c.setup_id, a.airframe_id, c.name, replace(c.kind, '-', ' '), trim(coalesce(a.name, '') || ' ' || s.name), c.withdrawn <> '' OR s.withdrawn <> '', max(c.entry, c.revised) FROM checks c JOIN setups s ON s.id = c.setup_id LEFT JOIN assemblies a ON a.id = s.assembly_id
UNION ALL SELECT 'hold', h.id, h.id, a.airframe_id, h.name, h.step || ' ' || h.permanent || CASE WHEN h.done = 1 THEN ' · done' WHEN h.released <> '' THEN ' · released' ELSE '' END, a.name, h.withdrawn <> '', max(h.entry, h.revised) FROM holds h JOIN assemblies a ON a.id = h.assembly_id
UNION ALL SELECT 'row', r.id, r.id, a.airframe_id, r.name, '', a.name, r.withdrawn <> '', max(r.entry, r.revised) FROM rivet_rows r JOIN assemblies a ON a.id = r.assembly_id
UNION ALL SELECT 'bay', b.id, b.id, a.airframe_id, b.name, 'closing', a.name, b.withdrawn <> '', max(b.entry, b.revised) FROM bays b JOIN assemblies a ON a.id = b.assembly_id
UNION ALL SELECT 'part', p.id, p.id, p.airframe_id, trim(p.number || ' ' || p.name), trim(p.hand || ' lot ' || p.lot || ' ' || p.supplier), p.place, p.withdrawn <> '', max(p.entry, p.revised) FROM parts p
UNION ALL SELECT 'stock', id, id, airframe_id, name, sort || ' ' || note, place, withdrawn <> '', max(entry, revised) FROM stock_counts
UNION ALL SELECT 'notice', id, id, airframe_id, title, numbers || ' ' || lots || ' ' || note, '', withdrawn <> '', max(entry, revised) FROM notices
UNION ALL SELECT 'order', id, id, airframe_id, name, supplier || ' ' || ref, place, withdrawn <> '', max(entry, revised) FROM plan_orders
UNION ALL SELECT 'step', p.id, p.id, p.airframe_id, p.name, CASE WHEN p.done_at <> '' THEN 'done' ELSE '' END, coalesce(a.name, ''), p.withdrawn <> '', max(p.entry, p.revised) FROM plan_steps p LEFT JOIN assemblies a ON a.id = p.assembly_id
UNION ALL SELECT 'question', id, id, airframe_id, text, whom || ' ' || evidence || ' ' || answer, '', withdrawn <> '', max(entry, revised) FROM questions
UNION ALL SELECT 'slip', s.id, s.id, s.airframe_id, s.what, s.cause || ' ' || s.found || ' ' || s.lesson, s.place, 0, max(s.entry, s.revised) FROM slips s
UNION ALL SELECT 'material', id, id, '', name, caution, '', withdrawn <> '', max(entry, revised) FROM materials
UNION ALL SELECT 'person', id, id, '', name, role, '', left_at <> '', max(entry, revised) FROM people
UNION ALL SELECT 'photo', id, id, '', caption, '', '', taken_back <> '', max(entry, revised) FROM photos WHERE caption <> '';

-- +goose Down
DROP VIEW findable;
CREATE VIEW findable AS
SELECT CAST('aircraft' AS TEXT) AS sort, CAST(id AS TEXT) AS id, CAST(id AS TEXT) AS page, CAST(id AS TEXT) AS frame, CAST(name AS TEXT) AS title, CAST(description AS TEXT) AS more, CAST('' AS TEXT) AS place, CAST(withdrawn <> '' AS INTEGER) AS gone, CAST(max(entry, revised) AS INTEGER) AS changed FROM airframes
UNION ALL SELECT 'assembly', a.id, a.id, a.airframe_id, a.name, a.part, f.name, a.withdrawn <> '', max(a.entry, a.revised) FROM assemblies a JOIN airframes f ON f.id = a.airframe_id
UNION ALL SELECT 'instrument', id, id, '', name, sort || ' ' || type || ' ' || resolution || ' ' || serial, '', withdrawn <> '', max(entry, revised) FROM instruments
UNION ALL SELECT 'setup', s.id, s.id, a.airframe_id, s.name, '', coalesce(a.name, ''), s.withdrawn <> '', s.entry FROM setups s LEFT JOIN assemblies a ON a.id = s.assembly_id
UNION ALL SELECT 'check', c.id, c.setup_id, a.airframe_id, c.name, replace(c.kind, '-', ' '), trim(coalesce(a.name, '') || ' ' || s.name), c.withdrawn <> '' OR s.withdrawn <> '', max(c.entry, c.revised) FROM checks c JOIN setups s ON s.id = c.setup_id LEFT JOIN assemblies a ON a.id = s.assembly_id
UNION ALL SELECT 'hold', h.id, h.id, a.airframe_id, h.name, h.step || ' ' || h.permanent || CASE WHEN h.done = 1 THEN ' · done' WHEN h.released <> '' THEN ' · released' ELSE '' END, a.name, h.withdrawn <> '', max(h.entry, h.revised) FROM holds h JOIN assemblies a ON a.id = h.assembly_id
UNION ALL SELECT 'row', r.id, r.id, a.airframe_id, r.name, '', a.name, r.withdrawn <> '', max(r.entry, r.revised) FROM rivet_rows r JOIN assemblies a ON a.id = r.assembly_id
UNION ALL SELECT 'bay', b.id, b.id, a.airframe_id, b.name, 'closing', a.name, b.withdrawn <> '', max(b.entry, b.revised) FROM bays b JOIN assemblies a ON a.id = b.assembly_id
UNION ALL SELECT 'part', p.id, p.id, p.airframe_id, trim(p.number || ' ' || p.name), trim(p.hand || ' lot ' || p.lot || ' ' || p.supplier), p.place, p.withdrawn <> '', max(p.entry, p.revised) FROM parts p
UNION ALL SELECT 'stock', id, id, airframe_id, name, sort || ' ' || note, place, withdrawn <> '', max(entry, revised) FROM stock_counts
UNION ALL SELECT 'notice', id, id, airframe_id, title, numbers || ' ' || lots || ' ' || note, '', withdrawn <> '', max(entry, revised) FROM notices
UNION ALL SELECT 'order', id, id, airframe_id, name, supplier || ' ' || ref, place, withdrawn <> '', max(entry, revised) FROM plan_orders
UNION ALL SELECT 'step', p.id, p.id, p.airframe_id, p.name, CASE WHEN p.done_at <> '' THEN 'done' ELSE '' END, coalesce(a.name, ''), p.withdrawn <> '', max(p.entry, p.revised) FROM plan_steps p LEFT JOIN assemblies a ON a.id = p.assembly_id
UNION ALL SELECT 'question', id, id, airframe_id, text, whom || ' ' || evidence || ' ' || answer, '', withdrawn <> '', max(entry, revised) FROM questions
UNION ALL SELECT 'slip', s.id, s.id, s.airframe_id, s.what, s.cause || ' ' || s.found || ' ' || s.lesson, s.place, 0, max(s.entry, s.revised) FROM slips s
UNION ALL SELECT 'material', id, id, '', name, caution, '', withdrawn <> '', max(entry, revised) FROM materials
UNION ALL SELECT 'person', id, id, '', name, role, '', left_at <> '', max(entry, revised) FROM people
UNION ALL SELECT 'photo', id, id, '', caption, '', '', 0, entry FROM photos WHERE caption <> '';
ALTER TABLE photos DROP COLUMN revised;
ALTER TABLE photos DROP COLUMN taken_back;
