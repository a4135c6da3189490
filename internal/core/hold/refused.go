package hold

import "fmt"

// NotReleased is the one sentence by which every way of doing a hold's step is refused: ended is
// what made a line worse than it was signed, "" where nobody signed yet.
func NotReleased(name, ended string) string {
	if ended != "" {
		return fmt.Sprintf("the release of “%s” stands no more: %s", name, ended)
	}
	return fmt.Sprintf("the hold “%s” is not released", name)
}
