package gate

import (
	"context"
	"database/sql"
	"fmt"
	"slices"
	"strings"

	"orpine/internal/core/hold"
	"orpine/internal/core/say"
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
	all, err := q.JointsOfAssemblies(ctx, query.JointsOfAssembliesParams{Assemblies: assemblies, Theirs: assemblies})
	if err != nil {
		return fmt.Errorf("reading the joints: %w", err)
	}
	setups, err := q.SetupsOfAssemblies(ctx, query.SetupsOfAssembliesParams{Assemblies: references(assemblies), Theirs: assemblies})
	if err != nil {
		return fmt.Errorf("reading the setups of joints: %w", err)
	}
	named := map[string]bool{} // setups that were measured for some joint
	for _, r := range all {
		named[r.SetupID.String] = true
	}
	same := map[string][]string{}
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
			if i >= 0 && jointOf(all[i]).same(jointOf(r)) {
				add(r.SetupID.String)
				guarding = append(guarding, r.ID)
			}
		}
		for _, s := range setups {
			for _, id := range strings.Fields(s.Joints) {
				if slices.Contains(guarding, id) {
					add(s.ID)
				}
			}
			if s.Joints == "" && !named[s.ID] && s.AssemblyID.String == h.AssemblyID {
				add(s.ID)
			}
		}
		into.Joints[h.ID], same[h.ID] = mine, guarding
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

// AskSame asks which of the holds that stand before the same step a new one is about, where nobody
// said: a Problem at "same".
func AskSame(n NewHold, rivals []Hold, wrong ledger.Problems) {
	if len(rivals) == 0 || n.Other || n.Joint != "" {
		return
	}
	names := make([]string, len(rivals))
	for i, h := range rivals {
		names[i] = "“" + h.Name + "”"
		if h.ID == n.Same {
			return
		}
	}
	wrong.Add("same", fmt.Sprintf("%s stands before the same step here already: is it for the same holes, or for others?", say.And(names...)))
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
