// Package school holds the questions that good builders answer differently. The
// program carries both answers, each with what it costs; an airframe chooses, and
// a check may differ from its airframe.
package school

import "slices"

// Question is one matter on which good builders differ.
type Question struct {
	ID, Title string
	Answers   [2]Answer // the first holds where nothing is chosen
	Every     bool      // it changes every check that has limits; else those whose kind names it
}

// Answer is one way of working.
type Answer struct {
	ID, Title string
	Cost      string // in a line
}

// The questions and their answers.
const (
	Reference = "reference"
	Matched   = "matched"
	Zeroed    = "zeroed"

	Bench   = "bench"
	Ignored = "ignored"
	Trued   = "trued"

	Limits  = "limits"
	Guarded = "guarded"
	Plain   = "plain"

	Instruments = "instruments"
	Usual       = "usual"
	Proven      = "proven"
)

// Questions lists them.
var Questions = []Question{
	{Reference, "The reference", [2]Answer{
		{Matched, "accept a small tilt and match it", "One reading more for every check, and both must be taken the same way round."},
		{Zeroed, "zero it by shims", "Time at the start, and again whenever something moves; then the part's own reading is the answer."},
	}, false},
	{Bench, "The bench", [2]Answer{
		{Ignored, "measure the part and take the bench off", "A second reading at each station; the ± grows by two fifths."},
		{Trued, "make the bench true", "Shims and a new survey until it is inside its limits; it must stay so until the last hole."},
	}, false},
	{Limits, "The limits", [2]Answer{
		{Guarded, "guarded: go only when value ± U lies inside", "More placings near a limit; a go is then hardly ever wrong."},
		{Plain, "plain: go when the value lies inside", "Half of the parts that lie just outside would pass."},
	}, true},
	{Instruments, "The instruments", [2]Answer{
		{Usual, "until one is proven, what is usual of its type counts", "A go on the first evening; the ± is wider, and its line says what it rests on."},
		{Proven, "a hold takes proven ones alone", "Each is turned end for end, or held against a known length, before its readings count at a hold."},
	}, true},
}

// Choice is the answers chosen, by question; one that is not named is answered by
// its first answer.
type Choice map[string]string

// Answer returns the answer to a question.
func (c Choice) Answer(question string) string {
	for _, q := range Questions {
		if q.ID == question && c[question] != q.Answers[1].ID {
			return q.Answers[0].ID
		}
	}
	return c[question]
}

// Over returns the choice with those of an outer one where it says nothing.
func (c Choice) Over(outer Choice) Choice {
	out := Choice{}
	for _, q := range Questions {
		out[q.ID] = outer.Answer(q.ID)
		if _, ok := c[q.ID]; ok {
			out[q.ID] = c.Answer(q.ID)
		}
	}
	return out
}

// Known tells whether an answer belongs to a question.
func Known(question, answer string) bool {
	for _, q := range Questions {
		if q.ID == question {
			return answer == q.Answers[0].ID || answer == q.Answers[1].ID
		}
	}
	return false
}

// Concern returns the questions that change a check: those that its kind names, and
// where it may have limits those about limits.
func Concern(named []string, limited bool) []Question {
	var out []Question
	for _, q := range Questions {
		if q.Every && limited || slices.Contains(named, q.ID) {
			out = append(out, q)
		}
	}
	return out
}
