package archive

// tables are those of a spreadsheet, by the names of things. What is withdrawn or superseded
// says so in a column of its own.
var tables = []table{
	{"aircraft", `SELECT name, description, length_unit AS unit, withdrawn FROM airframes ORDER BY id`},
	{"assemblies", `SELECT f.name AS aircraft, a.name AS assembly, a.before_us AS "done before", a.withdrawn
		FROM assemblies a JOIN airframes f ON f.id = a.airframe_id ORDER BY a.entry, a.id`},
	{"instruments", `SELECT name, sort, measures, resolution, offset_max AS "constant error", per_metre AS "per metre", spread, own AS "own angle", zero, zero_at AS "zero at",
		spread_found AS "spread found", spread_from AS placings, spread_at AS "spread at", offset_found AS "error found", offset_at AS "error at", withdrawn FROM instruments ORDER BY entry, id`},
	{"zero-tests", `SELECT i.name AS instrument, z.first, z.turned, z.zero, z.at FROM zero_tests z JOIN instruments i ON i.id = z.instrument_id ORDER BY z.entry, z.id`},
	{"checks", `SELECT coalesce(f.name, '') AS aircraft, coalesce(a.name, '') AS assembly, s.name AS setup, c.name AS "check", c.kind, c.definition, c.withdrawn
		FROM checks c JOIN setups s ON s.id = c.setup_id LEFT JOIN assemblies a ON a.id = s.assembly_id LEFT JOIN airframes f ON f.id = a.airframe_id ORDER BY c.entry, c.position, c.id`},
	{"readings", `SELECT coalesce(f.name, '') AS aircraft, coalesce(a.name, '') AS assembly, s.name AS setup, c.name AS "check", r.list, r.point, r.field, r.text AS "as typed", r.value,
		CASE i.measures WHEN 'angle' THEN 'deg' ELSE 'mm' END AS unit, i.name AS instrument, r.turned, r.hung, r.condition, r.state, r.at, j.by_name AS "by", r.superseded, CASE WHEN r.stale_event IS NULL THEN '' ELSE 'something moved' END AS stale
		FROM readings r JOIN checks c ON c.id = r.check_id JOIN setups s ON s.id = c.setup_id JOIN instruments i ON i.id = r.instrument_id JOIN journal j ON j.seq = r.entry
		LEFT JOIN assemblies a ON a.id = s.assembly_id LEFT JOIN airframes f ON f.id = a.airframe_id ORDER BY r.entry, r.id`},
	{"holds", `SELECT f.name AS aircraft, a.name AS assembly, h.name AS hold, h.step, h.permanent, h.why, CASE WHEN h.released IS NULL THEN '' ELSE 'released' END AS released, h.released_by AS "by", h.done, h.withdrawn
		FROM holds h JOIN assemblies a ON a.id = h.assembly_id JOIN airframes f ON f.id = a.airframe_id ORDER BY h.entry, h.id`},
	{"releases", `SELECT f.name AS aircraft, a.name AS assembly, h.name AS hold, r.by_name AS "by", r.at, r.standing, r.reason, r.answered_by AS "answered by", r.answer, r.answered, r.document, CASE WHEN r.lapsed IS NULL THEN '' ELSE 'something moved' END AS lapsed, r.withdrawn, r.wrong
		FROM releases r JOIN holds h ON h.id = r.hold_id JOIN assemblies a ON a.id = h.assembly_id JOIN airframes f ON f.id = a.airframe_id ORDER BY r.entry, r.id`},
	{"done", `SELECT f.name AS aircraft, a.name AS assembly, h.name AS hold, t.by_name AS "by", t.note, t.at
		FROM steps t JOIN holds h ON h.id = t.hold_id JOIN assemblies a ON a.id = h.assembly_id JOIN airframes f ON f.id = a.airframe_id ORDER BY t.entry, t.id`},
	{"holes", `SELECT f.name AS aircraft, a.name AS assembly, w.name AS "row", o.number AS hole, o.along, o.across, o.pose, o.state, o.clean, o.over AS oversize, o.spoilt, o.keep_part AS "keep for", o.keep_step AS "keep until", w.withdrawn
		FROM holes o JOIN rivet_rows w ON w.id = o.row_id JOIN assemblies a ON a.id = w.assembly_id JOIN airframes f ON f.id = a.airframe_id ORDER BY w.entry, w.id, o.number`},
	{"hole-operations", `SELECT f.name AS aircraft, a.name AS assembly, w.name AS "row", o.number AS hole, o.what, o.cause, o.crew, o.by_name AS "by", o.at, o.fastener, o.undone
		FROM operations o JOIN rivet_rows w ON w.id = o.row_id JOIN assemblies a ON a.id = w.assembly_id JOIN airframes f ON f.id = a.airframe_id ORDER BY o.entry, o.row_id, o.number`},
	{"parts", `SELECT f.name AS aircraft, p.number, p.name, p.hand, p.supplier, p.lot, p.process, p.condition, p.place, p.clue, coalesce(a.name, '') AS assembly, p.withdrawn
		FROM parts p JOIN airframes f ON f.id = p.airframe_id LEFT JOIN assemblies a ON a.id = p.assembly_id ORDER BY p.entry, p.id`},
	{"stock", `SELECT f.name AS aircraft, s.sort, s.name, s.number, s.note, s.place, s.at, s.withdrawn FROM stock_counts s JOIN airframes f ON f.id = s.airframe_id ORDER BY s.entry, s.id`},
	{"steps", `SELECT f.name AS aircraft, p.name AS step, coalesce(a.name, '') AS assembly, p.kind, p.hours, p.people, p.cure, p.state, p.done_at AS done, p.withdrawn
		FROM plan_steps p JOIN airframes f ON f.id = p.airframe_id LEFT JOIN assemblies a ON a.id = p.assembly_id ORDER BY p.entry, p.id`},
	{"orders", `SELECT f.name AS aircraft, o.name, o.supplier, o.hand, o.count, o.price, o.lead_days AS "days", o.asked, o.promised, o.sent, o.arrived, o.place, o.came AS "wrong with it", o.returned, o.credited, o.ref, o.withdrawn
		FROM plan_orders o JOIN airframes f ON f.id = o.airframe_id ORDER BY o.entry, o.id`},
	{"hours", `SELECT f.name AS aircraft, w.who, w.category, coalesce(p.name, '') AS step, coalesce(a.name, '') AS assembly, w.from_at AS "from", w.to_at AS "to", w.withdrawn
		FROM work_sessions w JOIN airframes f ON f.id = w.airframe_id LEFT JOIN assemblies a ON a.id = w.assembly_id LEFT JOIN plan_steps p ON p.id = w.step_id ORDER BY w.entry, w.from_at, w.id`},
	{"slips", `SELECT f.name AS aircraft, coalesce(a.name, '') AS assembly, s.step, s.place, s.cause, s.what, s.found, s.minutes, s.money, s.currency, s.parts, s.lesson, s.at
		FROM slips s JOIN airframes f ON f.id = s.airframe_id LEFT JOIN assemblies a ON a.id = s.assembly_id ORDER BY s.entry, s.id`},
	{"questions", `SELECT f.name AS aircraft, q.sort, q.text, q.whom, q.by_day AS "by", q.evidence, q.provisional, q.answer, q.answered_by AS "answered by", q.answered_at AS answered, q.asked_at AS asked, q.withdrawn
		FROM questions q JOIN airframes f ON f.id = q.airframe_id ORDER BY q.entry, q.id`},
	{"photos", `SELECT p.of, p.caption, p.sha256 || CASE p.type WHEN 'image/png' THEN '.png' ELSE '.jpg' END AS file, p.width, p.height, p.at FROM photos p ORDER BY p.entry, p.id`},
}
