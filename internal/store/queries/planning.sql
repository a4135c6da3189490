-- name: AddPlanStep :exec
INSERT INTO plan_steps (id, airframe_id, name, assembly_id, kind, hours, people, whole, cure, after, needs, before, bring, state, done_at, entry, revised) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: PlanStep :one
SELECT * FROM plan_steps WHERE id = ?;

-- name: PlanSteps :many
SELECT * FROM plan_steps WHERE airframe_id = ? AND withdrawn = '' ORDER BY entry, rowid;

-- name: SetPlanStepState :exec
UPDATE plan_steps SET state = ?, done_at = ?, revised = ? WHERE id = ?;

-- name: SplitPlanStep :exec
UPDATE plan_steps SET name = ?, hours = ?, after = ?, revised = ? WHERE id = ?;

-- name: MoveWorkSessions :exec
UPDATE work_sessions SET step_id = sqlc.arg(into), revised = sqlc.arg(revised) WHERE step_id = sqlc.arg(step);

-- name: DetachWorkSession :exec
UPDATE work_sessions SET step_id = '', category = ?, revised = ? WHERE id = ?;

-- name: RunningSessions :many
SELECT s.*, COALESCE(p.name, '') AS step FROM work_sessions s LEFT JOIN plan_steps p ON p.id = s.step_id WHERE s.to_at = '' AND s.withdrawn = '' ORDER BY s.from_at;

-- name: LastSession :one
SELECT CAST(COALESCE(max(CASE WHEN to_at = '' THEN from_at ELSE to_at END), '') AS TEXT) AS at FROM work_sessions WHERE airframe_id = ? AND withdrawn = '';

-- name: ChangePlanStep :exec
UPDATE plan_steps SET name = ?, kind = ?, after = ?, needs = ?, before = ?, bring = ?, assembly_id = ?, hours = ?, people = ?, whole = ?, cure = ?, revised = ? WHERE id = ?;

-- name: WithdrawPlanStep :exec
UPDATE plan_steps SET withdrawn = ?, revised = ? WHERE id = ?;

-- name: SetPlanWeek :exec
INSERT INTO plan_weeks (airframe_id, days, entry) VALUES (?, ?, ?) ON CONFLICT (airframe_id) DO UPDATE SET days = excluded.days, entry = excluded.entry;

-- name: SetPlanAway :exec
INSERT INTO plan_aways (airframe_id, days, entry) VALUES (?, ?, ?) ON CONFLICT (airframe_id) DO UPDATE SET days = excluded.days, entry = excluded.entry;

-- name: PlanAway :one
SELECT days FROM plan_aways WHERE airframe_id = ?;

-- name: PlanWeek :one
SELECT days FROM plan_weeks WHERE airframe_id = ?;

-- name: AddPlanVisit :exec
INSERT INTO plan_visits (id, airframe_id, from_wall, hours, people, who, entry, revised) VALUES (?, ?, ?, ?, ?, ?, ?, ?);

-- name: PlanVisit :one
SELECT * FROM plan_visits WHERE id = ?;

-- name: PlanVisits :many
SELECT * FROM plan_visits WHERE airframe_id = ? AND withdrawn = '' ORDER BY from_wall, entry;

-- name: ChangePlanVisit :exec
UPDATE plan_visits SET from_wall = ?, hours = ?, people = ?, who = ?, revised = ? WHERE id = ?;

-- name: WithdrawPlanVisit :exec
UPDATE plan_visits SET withdrawn = ?, revised = ? WHERE id = ?;

-- name: AddWorkSession :exec
INSERT INTO work_sessions (id, airframe_id, who, category, step_id, assembly_id, from_at, to_at, entry, revised) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: WorkSession :one
SELECT * FROM work_sessions WHERE id = ?;

-- name: WorkSessions :many
SELECT * FROM work_sessions WHERE airframe_id = ? AND withdrawn = '' ORDER BY from_at, entry;

-- name: StopWorkSession :exec
UPDATE work_sessions SET to_at = ?, revised = ? WHERE id = ?;

-- name: ChangeWorkSession :exec
UPDATE work_sessions SET who = ?, category = ?, assembly_id = ?, step_id = ?, from_at = ?, to_at = ?, revised = ? WHERE id = ?;

-- name: WithdrawWorkSession :exec
UPDATE work_sessions SET withdrawn = ?, revised = ? WHERE id = ?;

-- name: AddPlanOrder :exec
INSERT INTO plan_orders (id, airframe_id, name, supplier, lead_days, asked, promised, sent, arrived, hand, count, price, ref, entry, revised) VALUES (?, ?, ?, ?, ?, ?, ?, '', '', ?, ?, ?, ?, ?, ?);

-- name: PlanOrder :one
SELECT * FROM plan_orders WHERE id = ?;

-- name: PlanOrders :many
SELECT * FROM plan_orders WHERE airframe_id = ? AND withdrawn = '' ORDER BY entry, id;

-- name: MovePlanOrder :exec
UPDATE plan_orders SET lead_days = ?, asked = ?, promised = ?, sent = ?, arrived = ?, place = ?, came = ?, returned = ?, credited = ?, ref = ?, price = ?, revised = ? WHERE id = ?;

-- name: ChangePlanOrder :exec
UPDATE plan_orders SET name = ?, supplier = ?, lead_days = ?, asked = ?, promised = ?, sent = ?, arrived = ?, hand = ?, count = ?, price = ?, place = ?, returned = ?, credited = ?, revised = ? WHERE id = ?;

-- name: WithdrawPlanOrder :exec
UPDATE plan_orders SET withdrawn = ?, revised = ? WHERE id = ?;

-- name: SetPlanMoney :exec
INSERT INTO plan_money (airframe_id, currency, saved, per_month, day, total, entry) VALUES (?, ?, ?, ?, ?, ?, ?)
    ON CONFLICT (airframe_id) DO UPDATE SET total = excluded.total, currency = excluded.currency, saved = excluded.saved, per_month = excluded.per_month, day = excluded.day, entry = excluded.entry;

-- name: PlanMoney :one
SELECT * FROM plan_money WHERE airframe_id = ?;

-- name: AddPlanStage :exec
INSERT INTO plan_stages (id, airframe_id, name, price, lead_days, needed_by, paid, entry, revised) VALUES (?, ?, ?, ?, ?, ?, 0, ?, ?);

-- name: PlanStage :one
SELECT * FROM plan_stages WHERE id = ?;

-- name: PlanStages :many
SELECT * FROM plan_stages WHERE airframe_id = ? AND withdrawn = '' ORDER BY entry, id;

-- name: PayPlanStage :exec
UPDATE plan_stages SET paid = ?, revised = ? WHERE id = ?;

-- name: ChangePlanStage :exec
UPDATE plan_stages SET name = ?, price = ?, lead_days = ?, needed_by = ?, revised = ? WHERE id = ?;

-- name: WithdrawPlanStage :exec
UPDATE plan_stages SET withdrawn = ?, revised = ? WHERE id = ?;

-- name: PlanStepsBefore :many
SELECT name, before FROM plan_steps WHERE airframe_id = sqlc.arg(airframe_id) AND state <> 'done' AND withdrawn = '' AND before LIKE CAST(sqlc.arg(what) AS TEXT) ORDER BY entry;

-- name: TiePlanStep :exec
UPDATE plan_steps SET tied_to = ?, untied = ?, revised = ? WHERE id = ?;

-- name: LastClockOfStep :one
SELECT * FROM clocks WHERE step_id = ? AND ended_at = '' AND withdrawn = '' ORDER BY entry DESC LIMIT 1;
