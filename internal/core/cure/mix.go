package cure

import (
	"fmt"

	"orpine/internal/core/measure"
)

// Mix is parts by ratio, from the total or from one of them.
type Mix struct {
	Ratio []float64 `ws:"ratio"`
	By    string    `ws:"by" oneof:"volume mass"`
	Total *float64  `ws:"total,optional"`
	Part  *Part     `ws:"part,optional"`
}

// Part is one component, counted from 0, with how much there is of it.
type Part struct {
	Index  int     `ws:"index"`
	Amount float64 `ws:"amount"`
}

// Validate refuses a ratio that is none, and both or neither of total and part.
func (c *Mix) Validate(report func(path, message string)) {
	if len(c.Ratio) == 0 {
		report("ratio", "is an empty list")
	}
	for i, r := range c.Ratio {
		if r <= 0 {
			report(fmt.Sprintf("ratio[%d]", i), "must be above 0")
		}
	}
	switch {
	case (c.Total == nil) == (c.Part == nil):
		report("total", "give the total or one part, and not both")
	case c.Total != nil && *c.Total <= 0:
		report("total", "must be above 0")
	case c.Part != nil:
		if c.Part.Index < 0 || c.Part.Index >= len(c.Ratio) {
			report("part.index", "is not a component of the ratio, counted from 0")
		}
		if c.Part.Amount <= 0 {
			report("part.amount", "must be above 0")
		}
	}
}

// Solve gives the amount of each component, in the unit of what was given.
func (c *Mix) Solve(w *measure.Work) {
	of, whole := 0.0, 0.0
	for _, r := range c.Ratio {
		whole += r
	}
	if c.Total != nil {
		of = *c.Total / whole
	} else {
		of = c.Part.Amount / c.Ratio[c.Part.Index]
	}
	amounts := make([]float64, len(c.Ratio))
	for i, r := range c.Ratio {
		amounts[i] = r * of
	}
	w.Amounts(amounts)
}
