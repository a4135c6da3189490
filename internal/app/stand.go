package app

import (
	"context"
	"fmt"
	"slices"

	"orpine/internal/core/hold"
	"orpine/internal/core/journal"
	"orpine/internal/store/query"
)

// NewStand puts a hold before a step of an assembly.
type NewStand struct {
	ID        string   `json:"-"`
	Assembly  string   `json:"assembly"` // id
	Name      string   `json:"name"`
	Step      string   `json:"step"`
	Permanent string   `json:"permanent"`
	Why       string   `json:"why"`
	Setup     string   `json:"setup,omitempty"` // id of the setup whose checks it asks for
	Parts     []string `json:"parts,omitempty"` // ids of those whose hand it asks for
	Second    bool     `json:"second,omitempty"`
	Bay       string   `json:"bay,omitempty"` // of a closing step: the name of what it closes
	Tasks     []string `json:"tasks,omitempty"`
}

// StandBefore puts the hold there; a closing one with the bay that it closes. Problems
// are by field.
func (a *App) StandBefore(ctx context.Context, n NewStand) error {
	defer a.alone()()
	if kind, err := a.recorded(ctx, n.ID); kind == journal.Created || err != nil {
		return err
	}
	wrong := Problems{}
	wrong.text("name", &n.Name, maxName, "what is about to be done?")
	wrong.text("permanent", &n.Permanent, maxNote, "what becomes permanent?")
	wrong.text("why", &n.Why, maxNote, "why does it matter, in one line?")
	wrong.text("bay", &n.Bay, maxName, "")
	step := hold.Step(n.Step)
	if !slices.Contains(hold.Steps, step) {
		wrong.Add("step", "which step is it, that cannot be undone? Choose one of the list")
	}
	if step.Closes() && n.Bay == "" {
		wrong.Add("bay", "what does it close?")
	}
	if !step.Closes() {
		n.Bay, n.Tasks = "", nil
	}
	for i := range n.Tasks {
		wrong.text("tasks", &n.Tasks[i], maxNote, "")
	}
	frame, assembly, err := a.Assembly(ctx, n.Assembly)
	if err != nil {
		return err
	}
	required := a.asksOf(n, assembly, wrong)
	if len(n.Parts) > 0 {
		stores, err := a.Stores(ctx, frame.ID)
		if err != nil {
			return err
		}
		for _, p := range n.Parts {
			if !slices.ContainsFunc(stores.Parts, func(part Part) bool { return part.ID == p }) {
				wrong.Add("parts", "choose parts of the list")
			}
		}
	}
	if err := wrong.err(); err != nil {
		return err
	}
	bay := n.ID + "-bay"
	if n.Bay != "" {
		required = append(required, hold.Requirement{Need: hold.Inside, Of: bay})
	}
	return a.record(ctx, deed{n.ID, journal.Created, "", n, map[string]any{"what": "hold", "name": assembly.Name + ": " + n.Name}}, func(q *query.Queries, entry int64) error {
		if err := addHold(ctx, q, n.ID, n.Assembly, n.Setup, NewHold{n.Name, n.Step, n.Permanent, n.Why, required}, "", entry); err != nil {
			return err
		}
		if n.Bay == "" {
			return nil
		}
		if err := q.AddBay(ctx, query.AddBayParams{ID: bay, AssemblyID: n.Assembly, Name: n.Bay, ClosedBy: n.ID, Entry: entry}); err != nil {
			return err
		}
		for i, task := range n.Tasks {
			if err := q.AddTask(ctx, query.AddTaskParams{ID: fmt.Sprintf("%s-task-%d", n.ID, i), BayID: bay, What: task, Entry: entry}); err != nil {
				return err
			}
		}
		return nil
	})
}

// asksOf is what the hold asks for, but for its bay.
func (a *App) asksOf(n NewStand, assembly Assembly, wrong Problems) []hold.Requirement {
	var out []hold.Requirement
	if n.Setup != "" {
		i := slices.IndexFunc(assembly.Setups, func(s Setup) bool { return s.ID == n.Setup })
		if i < 0 {
			wrong.Add("setup", "choose a setup of this assembly")
			return nil
		}
		for _, c := range assembly.Setups[i].Checks {
			out = append(out, required(c.Kind.Name, c.ID, c.Definition["limits"] != nil)...)
		}
	}
	for _, p := range n.Parts {
		out = append(out, hold.Requirement{Need: hold.Handed, Of: p})
	}
	if n.Second {
		out = append(out, hold.Requirement{Need: hold.Seconded})
	}
	return out
}

// HoldTemplate is a hold that an assembly of a kind usually has.
type HoldTemplate struct {
	Name, Step, Permanent, Why string
	Bay                        string // what a closing step closes
	Tasks                      []string
	Second                     bool
}

// closing is the hold before a space is closed.
func closing(what, bay, why string, tasks ...string) HoldTemplate {
	return HoldTemplate{Name: "Close " + what, Step: "close", Permanent: what + ", closed over " + bay, Why: why, Bay: bay, Tasks: tasks}
}

// riveting is the hold before a skin or its like is riveted; its rows bring what they ask.
func riveting(what, why string) HoldTemplate {
	return HoldTemplate{Name: "Rivet " + what, Step: "rivet", Permanent: "the rivets of " + what, Why: why}
}

// HoldTemplates are the holds that come with the templates of checks, by their id.
var HoldTemplates = map[string][]HoldTemplate{
	"main-spar": {riveting("the spar caps", "A rivet too long or too short in a cap is drilled out of a spar."), {Name: "Ream the root brackets", Step: "ream", Permanent: "the bolt holes of the root brackets", Why: "A reamed hole cannot be moved or made smaller.", Second: true}},
	"tailplane": {riveting("the tailplane skin", "The skin locks in whatever twist is in it."), closing("the tailplane", "the tailplane bay", "Nobody sees its spar again without drilling.", "primer on cut edges", "photos of the spar and brackets")},
	"fin":       {riveting("the fin skin", "The skin locks in whatever lean is in it."), closing("the fin", "the fin bay", "The aerial lead and the rudder cable run inside.", "aerial lead", "conduit for the rudder cable")},
	"elevator":  {riveting("the elevator skin", "A twisted elevator cannot be untwisted."), closing("the elevator", "the elevator", "The balance weight and its bolts stay inside.", "balance weight bolted and marked")},
	"wing-panel": {riveting("the top skin", "Washout that is closed in cannot be changed."), closing("the bottom skin", "the wing bays", "Wiring, conduit and tank fittings are out of reach afterwards.", "wiring conduit", "pitot line", "control pushrods pass freely", "inspection of the tank seams"),
		closing("the tank", "the tank", "A leak found later is a tank cut open.", "leak test", "finger strainer", "vent line")},
	"aileron": {riveting("the aileron skin", "A twisted aileron rolls the aircraft for ever."), closing("the aileron", "the aileron", "Balance weight and hinge nuts stay inside.", "balance weight bolted and marked")},
	"boom": {riveting("the boom skins", "Tail and wing are square to what is riveted here."), closing("the boom", "the boom bay", "Cables, rods and the tail light's wires run inside.", "control rod guides", "wires for the tail light", "primer touched up"),
		closing("the floor", "the underfloor", "The floor closes over fuel line, wiring and rudder cables.", "fuel line fixed and tested", "wiring run is decided", "rudder cable guides")},
	"canard": {{Name: "Bond the foreplane", Step: "bond", Permanent: "the bond of the foreplane", Why: "The foreplane must stall first; its angle is bonded here.", Second: true}},
	"mount":  {{Name: "Close the cowl", Step: "close", Permanent: "the cowl", Why: "A tool left on the engine comes out through the propeller.", Bay: "the engine bay", Tasks: []string{"torque marks on every nut", "control ends locked"}}},
	"other":  {{Name: "Trim the edge", Step: "trim", Permanent: "the trimmed edge", Why: "Trimmed away cannot be put back."}, {Name: "Cover the frame", Step: "cover", Permanent: "the covering", Why: "What it covers is seen by nobody until it is cut open.", Bay: "the frame", Tasks: []string{"inspection by the inspector"}}},
}

// HoldTemplateOf returns a template of holds by the id of its kind and its number.
func HoldTemplateOf(kind string, number int) (HoldTemplate, bool) {
	list := HoldTemplates[kind]
	if number < 0 || number >= len(list) {
		return HoldTemplate{}, false
	}
	return list[number], true
}
