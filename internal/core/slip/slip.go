// Package slip remembers mistakes where they would be made again.
package slip

import (
	"fmt"

	"orpine/internal/core/part"
)

// Causes are offered to be tapped; a builder in the middle of a mistake has no time to
// write.
var Causes = []string{"measured wrong", "wrong part or hand", "wrong hole or edge", "wrong size or length", "tool slipped", "forgot a step", "plans misread", "hurried or tired"}

// Slip is a mistake or a rework, as far as it matters for where its lesson is shown.
type Slip struct {
	Assembly string // name
	Step     string // the kind of step it was made at: "rivet", "drill to size"; "" for none
	Lesson   string
}

// Applies tells whether the lesson is worth showing before a step of an assembly, and
// why: the part is the twin of the one that it was learnt on, or the same kind of step
// starts.
func (s Slip) Applies(assembly, step string) (why string, ok bool) {
	switch {
	case s.Lesson == "":
		return "", false
	case s.Assembly != "" && part.Twin(s.Assembly) == assembly:
		return "learnt on its twin, " + s.Assembly, true
	case s.Assembly != "" && s.Assembly == assembly && (step == "" || s.Step == "" || s.Step == step):
		return "learnt here", true
	case step != "" && s.Step == step:
		return fmt.Sprintf("learnt at the same kind of step (%s) on %s", step, orElsewhere(s.Assembly)), true
	}
	return "", false
}

func orElsewhere(name string) string {
	if name == "" {
		return "another part"
	}
	return name
}
