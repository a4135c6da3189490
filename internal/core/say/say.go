// Package say writes numbers of things, and lists of texts, as people do.
package say

import (
	"fmt"
	"slices"
	"strings"
)

// Plural counts things: "1 hole", "4 holes".
func Plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

// Join sets texts side by side, those that are empty left out: "misread · level 2".
func Join(parts ...string) string {
	var out []string
	for _, p := range parts {
		if p != "" {
			out = append(out, p)
		}
	}
	return strings.Join(out, " · ")
}

// After puts a word before a text that is there.
func After(word, text string) string {
	if text == "" {
		return ""
	}
	return word + text
}

// Lower begins with a small letter, for the middle of a sentence.
func Lower(s string) string {
	if s == "" {
		return s
	}
	return strings.ToLower(s[:1]) + s[1:]
}

// Sentence begins with a capital.
func Sentence(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}

// And lists texts as one says them: "a, b and c".
func And(parts ...string) string {
	switch n := len(parts); n {
	case 0:
		return ""
	case 1:
		return parts[0]
	default:
		return strings.Join(parts[:n-1], ", ") + " and " + parts[n-1]
	}
}

// List joins what is there with commas: "S2-53-12, boom stringer".
func List(parts ...string) string {
	return strings.Join(slices.DeleteFunc(slices.Clone(parts), func(p string) bool { return p == "" }), ", ")
}
