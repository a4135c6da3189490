package ui

import (
	"strconv"

	"orpine/internal/core/school"
)

// SchoolForm is one question on which good builders differ.
type SchoolForm struct {
	school.Question
	Chosen string // "" for as its airframe has it
	Usual  string // the airframe's answer, in words
}

// SayAnswer is the answer that was chosen, in words.
func SayAnswer(q school.Question, chosen school.Choice) string {
	for _, a := range q.Answers {
		if a.ID == chosen.Answer(q.ID) {
			return a.Title
		}
	}
	return ""
}

// Int reads a whole number of a form; 0 for anything else.
func Int(text string) int64 {
	n, err := strconv.ParseInt(text, 10, 64)
	if err != nil {
		return 0
	}
	return n
}
