package gate

import (
	"context"
	"database/sql"
	"fmt"
	"slices"
	"strings"

	"orpine/internal/core/hold"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// jointOf is what tells the joint of a hold from others: the hold that was said to be of the same
// holes, and the rows that it guards.
type jointOf query.JointsOfAssembliesRow

func (a jointOf) root() string {
	if a.Joint == "" {
		return a.ID
	}
	return a.Joint
}

// same tells whether two holds guard the same joint: a hole is in both, or somebody said so. It is
// not passed on from one to the next.
func (a jointOf) same(b jointOf) bool {
	if a.ID == b.ID || a.root() == b.root() {
		return true
	}
	theirs := strings.Fields(b.RowsOf)
	return slices.ContainsFunc(strings.Fields(a.RowsOf), func(row string) bool { return slices.Contains(theirs, row) })
}

// joints finds the setups that the joint of each hold was measured in: its own, those of holds of
// the same joint, those that were measured for it, and those of its assembly that were measured for
// no joint.
func joints(ctx context.Context, q *query.Queries, holds []Hold, into *hold.Evidence) error {
	var assemblies []string
	for _, h := range holds {
		if h.AssemblyID != "" && !slices.Contains(assemblies, h.AssemblyID) {
			assemblies = append(assemblies, h.AssemblyID)
		}
	}
	if len(assemblies) == 0 {
		return nil
	}
	read, err := q.JointsOfAssemblies(ctx, query.JointsOfAssembliesParams{Assemblies: assemblies, Theirs: assemblies, Setups: references(assemblies), Also: assemblies})
	if err != nil {
		return fmt.Errorf("reading the joints: %w", err)
	}
	cut := slices.IndexFunc(read, func(r query.JointsOfAssembliesRow) bool { return r.Sort == "setup" })
	if cut < 0 {
		cut = len(read)
	}
	all, setups := read[:cut], read[cut:]
	named := map[string]bool{} // setups that were measured for some joint
	for _, r := range all {
		named[r.SetupID] = true
	}
	same, rows := map[string][]string{}, map[string][]string{}
	for _, h := range holds {
		i := slices.IndexFunc(all, func(r query.JointsOfAssembliesRow) bool { return r.ID == h.ID })
		var mine []string
		add := func(setup string) {
			if setup != "" && !slices.Contains(mine, setup) {
				mine = append(mine, setup)
			}
		}
		add(h.SetupID)
		var guarding []string
		for _, r := range all {
			if r.ID == h.ID {
				rows[h.ID] = strings.Fields(r.RowsOf)
			}
			if i >= 0 && jointOf(all[i]).same(jointOf(r)) {
				add(r.SetupID)
				guarding = append(guarding, r.ID)
			}
		}
		for _, s := range setups {
			for _, id := range strings.Fields(s.Joint) {
				if slices.Contains(guarding, id) {
					add(s.ID)
				}
			}
			if s.Joint == "" && !named[s.ID] && s.AssemblyID == h.AssemblyID {
				add(s.ID)
			}
		}
		into.Joints[h.ID], same[h.ID] = mine, guarding
		into.Guards[h.ID] = rows[h.ID]
	}
	if into.Measured {
		return nil
	}
	facts, asks := false, false
	for _, r := range all {
		facts, asks = facts || r.Facts > 0, asks || r.Asks > 0
		into.Noticed, into.Shuts = into.Noticed || r.Notices > 0, into.Shuts || r.Beyond > 0
	}
	if asks {
		if err := provisional(ctx, q, assemblies, holds, rows, into); err != nil {
			return err
		}
	}
	if !facts {
		return nil
	}
	return factLines(ctx, q, holds, same, into)
}

// Rivals are the holds before a step of an assembly that are not settled: who stands another one
// there, or measures for it, says whether it is about the same holes.
func Rivals(ctx context.Context, q *query.Queries, assembly, step string) (out []Hold, err error) {
	holds, err := All(q.HoldsOfAssembly(ctx, assembly))
	for _, h := range holds {
		if h.Step == step && !h.Done {
			out = append(out, h)
		}
	}
	return out, err
}

// Same is the hold that a new one is about too, where there is one before the same step that is not
// settled and nobody said that these are other holes: the one that was chosen, else the first. Of
// those that were said to be others one at stop leaves a line that wants a written reason.
func (g *Gate) Same(ctx context.Context, q *query.Queries, assembly string, n *NewHold) (same Hold, found bool, err error) {
	rivals, err := Rivals(ctx, q, assembly, n.Step)
	if err != nil || len(rivals) == 0 || n.Joint != "" {
		return same, false, err
	}
	if !n.Other {
		i := max(0, slices.IndexFunc(rivals, func(h Hold) bool { return h.ID == n.Same }))
		return rivals[i], true, nil
	}
	for _, h := range rivals {
		j, err := g.Judge(ctx, q, h)
		if err != nil {
			return same, false, err
		}
		if l, stopped := j.Stopped(); stopped {
			n.Required = append(n.Required, hold.Requirement{Need: hold.Less, Of: h.ID, What: fmt.Sprintf("“%s” is at stop for the same step (%s), and these were said to be other holes", h.Name, l.What), Was: hold.Unsure.String()})
		}
	}
	return same, false, nil
}

// Judge is what the evidence says of one hold.
func (g *Gate) Judge(ctx context.Context, q *query.Queries, h Hold) (hold.Judgement, error) {
	e, err := g.Gather(ctx, q, h)
	if err != nil {
		return hold.Judgement{}, err
	}
	own := e.Of(h.ID)
	return hold.Judge(hold.Asks(h.Required, own), own), nil
}

// MeasuredFor writes that a setup was measured for the joint of a hold.
func MeasuredFor(ctx context.Context, q *query.Queries, e ledger.Entry, setup, id string) error {
	return q.AddJointSetup(ctx, query.AddJointSetupParams{SetupID: setup, HoldID: id, Entry: e.Seq})
}

func references(ids []string) []sql.NullString {
	out := make([]sql.NullString, len(ids))
	for i, id := range ids {
		out[i] = Reference(id)
	}
	return out
}
