// Package core holds only the test that the layers stay apart.
package core

import (
	"os/exec"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// deps lists all packages that a pattern builds on, standard ones left out.
func deps(t *testing.T, pattern string) []string {
	t.Helper()
	out, err := exec.Command("go", "list", "-deps", "-f", "{{if not .Standard}}{{.ImportPath}}{{end}}", pattern).CombinedOutput()
	require.NoError(t, err, string(out))
	return strings.Fields(string(out))
}

func TestCoreImportsOnlyTheStandardLibraryAndGonum(t *testing.T) {
	for _, d := range deps(t, "orpine/internal/core/...") {
		allowed := strings.HasPrefix(d, "orpine/internal/core") || strings.HasPrefix(d, "gonum.org/v1/gonum/")
		assert.True(t, allowed, "core builds on %s", d)
	}
}

func TestWorksheetBuildsOnlyOnCore(t *testing.T) {
	for _, d := range deps(t, "orpine/internal/worksheet") {
		if strings.HasPrefix(d, "orpine/") && d != "orpine/internal/worksheet" {
			assert.True(t, strings.HasPrefix(d, "orpine/internal/core"), d)
		}
	}
}

func TestWebNeverImportsStore(t *testing.T) {
	out, err := exec.Command("go", "list", "-f", `{{join .Imports "\n"}}`, "orpine/internal/web/...").CombinedOutput()
	require.NoError(t, err, string(out))
	for _, d := range strings.Fields(string(out)) {
		assert.False(t, strings.HasPrefix(d, "orpine/internal/store"), "web imports %s", d)
	}
}
