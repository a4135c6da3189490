package plan

import (
	"cmp"
	"fmt"
	"slices"
)

// Document writes a plan as a document of the format, which Read reads as the same plan: what was
// understood, not the text that it came from. zone is the name that the plan's zone has in the
// database of zones; "" for its own.
func (p Plan) Document(zone string) map[string]any {
	if zone == "" {
		zone = p.Zone.zone.String()
	}
	doc := map[string]any{"format": "orpine.plan", "version": 1, "zone": zone, "now": p.Zone.print(p.Now), "builder": p.Builder, "steps": p.writeSteps()}
	if week := p.writeWeek(); len(week) > 0 {
		doc["week"] = week
	}
	list(doc, "away", p.Away, func(a [2]Date) map[string]any {
		return map[string]any{"from": a[0].String(), "to": a[1].String()}
	})
	list(doc, "visits", p.Visits, func(v Visit) map[string]any {
		return map[string]any{"id": v.ID, "from": p.Zone.print(v.From), "hours": float64(v.To-v.From) / 60, "people": v.People}
	})
	if p.Warmth != nil {
		doc["shop_temperature"] = *p.Warmth
	}
	if len(p.Bays) > 0 {
		doc["bays"] = p.Bays
	}
	p.writeOrders(doc)
	list(doc, "questions", p.Questions, func(q Question) map[string]any {
		return named(map[string]any{"id": q.ID, "open": q.Open}, "text", q.Text)
	})
	list(doc, "pace", p.Pace, func(one Pace) map[string]any {
		return map[string]any{"kind": one.Kind, "estimated": one.Estimated, "actual": one.Actual}
	})
	list(doc, "sessions", p.Sessions, p.writeSession)
	if p.Money != nil {
		doc["money"] = p.writeMoney()
	}
	risk := map[string]any{}
	for _, one := range p.Risk.fields() {
		if *one.value != nil {
			risk[one.name] = **one.value
		}
	}
	if len(risk) > 0 {
		doc["risk"] = risk
	}
	return doc
}

// list puts a list into a document, where it has entries.
func list[T any](doc map[string]any, name string, of []T, write func(T) map[string]any) {
	out := make([]any, len(of))
	for i, one := range of {
		out[i] = write(one)
	}
	if len(out) > 0 {
		doc[name] = out
	}
}

// named adds a text where there is one.
func named(o map[string]any, field, text string) map[string]any {
	if text != "" {
		o[field] = text
	}
	return o
}

func (p Plan) writeWeek() map[string]any {
	week := map[string]any{}
	for day, s := range p.Week {
		if s.Minutes > 0 {
			week[days[day]] = map[string]any{"from": fmt.Sprintf("%02d:%02d", s.From/60, s.From%60), "hours": float64(s.Minutes) / 60}
		}
	}
	return week
}

func (p Plan) writeSteps() []any {
	out := make([]any, len(p.Steps))
	for i, s := range p.Steps {
		o := map[string]any{"id": s.ID, "hours": map[string]any{"low": s.Low, "likely": s.Likely, "high": s.High}, "people": s.People, "whole": s.Whole, "state": s.State}
		for field, text := range map[string]string{"name": s.Name, "kind": s.Kind, "assembly": s.Assembly} {
			named(o, field, text)
		}
		refs(o, "after", s.After, func(k int) string { return p.Steps[k].ID })
		refs(o, "inside", s.Inside, func(k int) string { return p.Bays[k] })
		refs(o, "closes", s.Closes, func(k int) string { return p.Bays[k] })
		refs(o, "needs", s.Needs, func(k int) string { return p.Orders[k].ID })
		refs(o, "waits_for", s.WaitsFor, func(k int) string { return p.Questions[k].ID })
		if s.Cure != nil {
			cure := map[string]any{"hours": s.Cure.Hours}
			if s.Cure.At != nil {
				cure["at"] = *s.Cure.At
			}
			list(cure, "table", s.Cure.Table, func(l CureAt) map[string]any { return map[string]any{"at": l.At, "hours": l.Hours} })
			o["cure"] = cure
		}
		if s.Ended != nil {
			o["done"] = p.Zone.print(*s.Ended)
		}
		out[i] = o
	}
	return out
}

func refs(o map[string]any, field string, list []int, name func(int) string) {
	out := make([]string, len(list))
	for i, k := range list {
		out[i] = name(k)
	}
	if len(out) > 0 {
		o[field] = out
	}
}

// nobody is the supplier of an order that names none.
const nobody = "somebody"

// writeOrders writes the suppliers, and what was ordered from them.
func (p Plan) writeOrders(doc map[string]any) {
	suppliers := p.Suppliers
	if slices.ContainsFunc(p.Orders, func(o Order) bool { return o.Supplier == "" }) {
		suppliers = append(slices.Clone(suppliers), Supplier{ID: nobody})
	}
	list(doc, "suppliers", suppliers, func(s Supplier) map[string]any {
		out := map[string]any{"id": s.ID}
		if len(s.Delays) > 0 {
			out["delays"] = s.Delays
		}
		return out
	})
	list(doc, "orders", p.Orders, func(o Order) map[string]any {
		out := named(map[string]any{"id": o.ID, "supplier": cmp.Or(o.Supplier, nobody)}, "name", o.Name)
		if o.Lead != nil {
			out["lead_days"] = *o.Lead
		}
		for field, d := range map[string]*Date{"asked": o.Asked, "promised": o.Promised, "sent": o.Sent, "arrived": o.Arrived} {
			if d != nil {
				out[field] = d.String()
			}
		}
		return out
	})
}

func (p Plan) writeSession(s Session) map[string]any {
	o := named(map[string]any{"who": s.Who, "category": s.Category, "from": p.Zone.print(s.From)}, "assembly", s.Assembly)
	if s.To != p.Now { // one that runs ends now
		o["to"] = p.Zone.print(s.To)
	}
	if s.Step >= 0 {
		o["step"] = p.Steps[s.Step].ID
	}
	return o
}

func (p Plan) writeMoney() map[string]any {
	m := p.Money
	out := map[string]any{"currency": m.Currency, "saved": m.Saved, "per_month": m.PerMonth, "day": m.Day, "stages": []any{}}
	if m.Total != nil {
		out["total"] = *m.Total
	}
	list(out, "stages", m.Stages, func(s Stage) map[string]any {
		o := named(map[string]any{"id": s.ID, "price": s.Price, "lead_days": s.Lead, "paid": s.Paid}, "name", s.Name)
		if s.NeededBy >= 0 {
			o["needed_by"] = p.Steps[s.NeededBy].ID
		}
		return o
	})
	return out
}
