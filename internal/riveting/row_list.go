package riveting

import (
	"encoding/json"
	"fmt"
	"math"
	"strings"

	"orpine/internal/airframe"
	"orpine/internal/core/quantity"
	"orpine/internal/core/row"
	"orpine/internal/gate"
	"orpine/internal/ledger"
)

// mostUnread is how many lines that cannot be read are told of at once.
const mostUnread = 8

// ReadList reads a call-out list with bare lengths in unit; problem is "" or says which line cannot be read, and why.
func ReadList(text string, unit quantity.Unit) (rows []row.Listed, problem string) {
	rows, unread := row.ReadList(text, unit)
	var says []string
	for i, u := range unread {
		if i == mostUnread {
			says = append(says, fmt.Sprintf("and %d more", len(unread)-i))
			break
		}
		says = append(says, fmt.Sprintf("line %d: %s", u.Line, u.Says))
	}
	if len(rows) == 0 && len(unread) == 0 {
		says = append(says, "a line for each row: rib 4: 12 AD4-5, 3 AD4-6")
	}
	return rows, strings.Join(says, "\n")
}

// holesOf is how many holes rows have together.
func holesOf(rows []row.Listed) (n int) {
	for _, r := range rows {
		n += len(r.Holes)
	}
	return n
}

// listed lays out the rows of a call-out list, all under the hold of the first.
func (f *layout) listed(n NewRow, rows []row.Listed, at airframe.Assembly, holds []gate.Hold, wrong ledger.Problems) error {
	var ids []string
	for i, r := range rows {
		marks := ledger.Problems{}
		marks.Text("name", &r.Name, ledger.MaxName, "")
		keep(r.Holes, holds, marks)
		for _, says := range marks {
			wrong.Add("list", fmt.Sprintf("line %d: %s", r.Line, says))
		}
		plan, err := json.Marshal(r.Row)
		if err != nil {
			return err
		}
		long, across := roomOf(at.Shape, i, len(rows))
		if r.Row.How == row.AsItComes {
			for j := range r.Holes {
				r.Holes[j].Along *= long
			}
		}
		line := airframe.LineOn(at.Shape, longest(r.Holes))
		for j := range across {
			line.From[j] += across[j]
			line.To[j] += across[j]
		}
		lies, err := json.Marshal(line)
		if err != nil {
			return err
		}
		holes := make([]laidHole, len(r.Holes))
		for j, h := range r.Holes {
			holes[j] = laidHole{factOf(h), h.Along, h.Across, h.Pose}
		}
		if i == 0 {
			f.Plan, f.Line, f.Holes, f.Name = plan, lies, holes, r.Name
			continue
		}
		id := ledger.Child(n.ID, fmt.Sprint("listed ", i))
		f.More, ids = append(f.More, more{ID: id, Assembly: n.Assembly, Name: r.Name, Line: lies, Rivets: f.Rivets, Drills: f.Drills, Plan: plan, Holes: holes}), append(ids, id)
	}
	return f.ask(ids)
}

// roomOf is how long a row of which nobody said where it lies is drawn on a part, in mm, and how far beside the part's
// own line, in its view: the i-th of n rows, evenly.
func roomOf(s airframe.Shape, i, n int) (long float64, across [2]float64) {
	line := airframe.LineOn(s, 1)
	axes := map[string][2]int{"above": {0, 1}, "left": {0, 2}, "ahead": {1, 2}}[line.View]
	least, most, ok := s.Reach()
	if !ok {
		return 1000, across
	}
	run := 0
	if math.Abs(line.To[1]-line.From[1]) > math.Abs(line.To[0]-line.From[0]) {
		run = 1
	}
	reach := func(axis int) float64 { return most[axes[axis]] - least[axes[axis]] }
	across[1-run] = reach(1-run) * 0.8 * (float64(i+1)/float64(n+1) - 0.5)
	return max(reach(run), 1), across
}
