package airframe

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/core/shape"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// NewAircraft is an aircraft to be begun from a generic form: all its assemblies at
// once, named and placed.
type NewAircraft struct {
	ledger.Form
	Name        string            `json:"name" form:"name"`
	Description string            `json:"description,omitempty" form:"description" text:"lines"`
	Unit        string            `json:"unit" form:"unit"` // mm or in
	Planform    string            `json:"planform" form:"planform"`
	Sizes       map[string]string `json:"sizes" form:"-"` // as typed; one that is empty is assumed
}

// placed is the assemblies of an aircraft as they were made.
type placed struct {
	Assemblies []placedAssembly `json:"assemblies"`
}

type placedAssembly struct {
	ID    string          `json:"id"`
	Name  string          `json:"name"`
	Part  string          `json:"part"`
	Shape json.RawMessage `json:"shape"`
}

var begun = &ledger.Kind[NewAircraft, placed]{
	Name: "aircraft", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewAircraft, f placed) error {
		if err := q.AddAirframe(ctx, query.AddAirframeParams{ID: e.ID, Name: n.Name, Description: n.Description, LengthUnit: n.Unit, Schools: "{}", Entry: e.Seq, Revised: e.Seq}); err != nil {
			return err
		}
		for _, a := range f.Assemblies {
			if err := q.AddAssembly(ctx, query.AddAssemblyParams{ID: a.ID, AirframeID: e.ID, Name: a.Name, Shape: string(a.Shape), Part: a.Part, Entry: e.Seq, Revised: e.Seq}); err != nil {
				return err
			}
		}
		return nil
	},
	Words: func(n NewAircraft, f placed) ledger.Words {
		return ledger.Words{What: "aircraft begun: " + n.Name, Detail: fmt.Sprintf("%s, %d assemblies", n.Planform, len(f.Assemblies))}
	},
	Travel: ledger.Travel[NewAircraft, placed]{Aircraft: true, Names: func(id string, n *NewAircraft, _ *placed, name func(thing, was string) string) error {
		n.Name = name(id, n.Name)
		return nil
	}},
}

// Parts reads the sizes of an aircraft and returns the assemblies that they make.
// Problems are at "size.KEY".
func (n NewAircraft) Parts(wrong ledger.Problems) []shape.Part {
	p, ok := shape.PlanformOf(n.Planform)
	if !ok {
		wrong.Add("planform", "which form is it? Choose one of the list")
		return nil
	}
	unit := quantity.Millimetre
	if n.Unit == "in" {
		unit = quantity.Inch
	}
	stated := map[string]float64{}
	for _, s := range p.Sizes {
		text := strings.TrimSpace(n.Sizes[s.Key])
		if text == "" {
			continue
		}
		v, err := quantity.ParseLength(text, unit)
		switch {
		case err != nil:
			wrong.Add("size."+s.Key, err.Error())
		case v <= 0 && s.Key != "sweep" && s.Key != "wing_x" && s.Key != "fore_x":
			wrong.Add("size."+s.Key, "must be above 0")
		case v > 60_000 || v < -60_000:
			wrong.Add("size."+s.Key, "is "+say.Written(v).String()+": is that so? Take another unit, or fewer digits")
		default:
			stated[s.Key] = float64(v)
		}
	}
	return p.Parts(stated)
}

// Begin begins an aircraft. Problems are by field.
func (a *Airframes) Begin(ctx context.Context, n NewAircraft) error {
	wrong := ledger.Problems{}
	wrong.Text("name", &n.Name, ledger.MaxName, "what is the aircraft called?")
	wrong.Text("description", &n.Description, ledger.MaxNote, "")
	if n.Unit != "mm" && n.Unit != "in" {
		wrong.Add("unit", "mm or in?")
	}
	parts := n.Parts(wrong)
	_, err := ledger.Do(ctx, a.ledger, begun, n.Form, n, func(q *query.Queries) (f placed, err error) {
		switch _, err := q.AirframeNamed(ctx, n.Name); {
		case err == nil:
			wrong.Add("name", "there is one of that name already")
		case !errors.Is(ledger.Found(err), ledger.ErrNotFound):
			return f, err
		}
		for _, p := range parts {
			data, err := json.Marshal(p.Shape)
			if err != nil {
				return f, err
			}
			f.Assemblies = append(f.Assemblies, placedAssembly{ledger.Child(n.ID, p.Name), p.Name, p.Usual, data})
		}
		return f, wrong.Err()
	})
	return err
}
