// Package core holds only the test that the layers stay apart.
package core

import (
	"go/ast"
	"go/parser"
	"go/token"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// layers are the packages below internal and cmd, each line building on those above it
// only. Packages of one line never import each other, nor do those below web but for the
// ones that draw and frame.
var layers = [][]string{
	{"internal/core"},
	{"internal/worksheet", "internal/exchange", "internal/supplier", "internal/gauge", "internal/lan"},
	{"internal/supplier/simulated", "internal/gauge/simulated"},
	{"internal/paper"},
	{"internal/store/query"},
	{"internal/store"},
	{"internal/ledger"},
	{"internal/airframe", "internal/instrument"},
	{"internal/gate"},
	{"internal/measuring", "internal/riveting", "internal/closing", "internal/stores", "internal/logbook", "internal/photo"},
	{"internal/holding", "internal/amending", "internal/archive", "internal/account"},
	{"internal/overview"},
	{"internal/practice"},
	{"internal/demo", "internal/web/drawing"},
	{"internal/web/kinds"},
	{"internal/web/ui", "internal/web/outline"},
	{"internal/web"},
	{"cmd"},
}

// capabilities is their line.
const capabilities = 9

// layerOf is the line of a package, by its longest name there. A package that none names
// is a capability.
func layerOf(path string) (line int, name string) {
	for i, names := range layers {
		for _, n := range names {
			if (path == n || strings.HasPrefix(path, n+"/")) && len(n) > len(name) {
				line, name = i, n
			}
		}
	}
	if name == "" {
		return capabilities, path
	}
	return line, name
}

// imports are what each package of the program imports, tests left out.
func imports(t *testing.T) map[string][]string {
	t.Helper()
	out, err := exec.Command("go", "list", "-f", `{{.ImportPath}} {{join .Imports " "}}`, "orpine/internal/...", "orpine/cmd/...").CombinedOutput()
	require.NoError(t, err, string(out))
	all := map[string][]string{}
	for _, line := range strings.Split(strings.TrimSpace(string(out)), "\n") {
		fields := strings.Fields(line)
		all[strings.TrimPrefix(fields[0], "orpine/")] = fields[1:]
	}
	return all
}

func TestImportsRunOneWay(t *testing.T) {
	for from, list := range imports(t) {
		line, name := layerOf(from)
		for _, imported := range list {
			to, own := strings.CutPrefix(imported, "orpine/")
			if !own {
				continue
			}
			below, other := layerOf(to)
			inside := name == other && (name == "internal/core" || name == "cmd")
			assert.True(t, below < line || inside, "%s imports %s", from, to)
		}
	}
}

func TestCoreImportsOnlyTheStandardLibraryAndGonum(t *testing.T) {
	for from, list := range imports(t) {
		for _, imported := range list {
			first, _, _ := strings.Cut(imported, "/")
			if strings.HasPrefix(from, "internal/core") && strings.Contains(first, ".") {
				assert.Equal(t, "gonum.org", first, "%s imports %s", from, imported)
			}
		}
	}
}

func TestWebNeverImportsStore(t *testing.T) {
	for from, list := range imports(t) {
		for _, imported := range list {
			if strings.HasPrefix(from, "internal/web") {
				assert.False(t, imported == "orpine/internal/store" || strings.HasPrefix(imported, "orpine/internal/store/"), "%s imports %s", from, imported)
			}
		}
	}
}

var (
	madeTable = regexp.MustCompile(`(?m)^CREATE TABLE (\w+)`)
	queryName = regexp.MustCompile(`(?m)^-- name: (\w+) :`)
	written   = regexp.MustCompile(`(?m)^\s*(?:INSERT INTO|UPDATE|DELETE FROM) (\w+)`)
)

// owners are the capabilities of tables, by the migration that makes each.
func owners(t *testing.T) map[string]string {
	t.Helper()
	files, err := filepath.Glob("../store/migrations/*.sql")
	require.NoError(t, err)
	out := map[string]string{}
	for _, file := range files {
		_, capability, _ := strings.Cut(strings.TrimSuffix(filepath.Base(file), ".sql"), "_")
		data, err := os.ReadFile(file)
		require.NoError(t, err)
		for _, m := range madeTable.FindAllStringSubmatch(string(data), -1) {
			out[m[1]] = capability
		}
	}
	require.Greater(t, len(out), 20)
	return out
}

// Only the queries of the capability that makes a table write it, and only its own
// package calls those.
func TestOnlyItsOwnerWritesATable(t *testing.T) {
	owner, writer := owners(t), map[string]string{}
	files, err := filepath.Glob("../store/queries/*.sql")
	require.NoError(t, err)
	for _, file := range files {
		capability := strings.TrimSuffix(filepath.Base(file), ".sql")
		data, err := os.ReadFile(file)
		require.NoError(t, err)
		names := queryName.FindAllStringSubmatchIndex(string(data), -1)
		for i, at := range names {
			end := len(data)
			if i+1 < len(names) {
				end = names[i+1][0]
			}
			for _, m := range written.FindAllStringSubmatch(string(data[at[1]:end]), -1) {
				assert.Equal(t, owner[m[1]], capability, "%s writes %s", filepath.Base(file), m[1])
				writer[string(data[at[2]:at[3]])] = capability
			}
		}
	}
	require.Greater(t, len(writer), 40)
	for from, calls := range calls(t) {
		for _, name := range calls {
			if capability, ok := writer[name]; ok {
				assert.Equal(t, "internal/"+capability, from, "%s calls %s", from, name)
			}
		}
	}
}

// calls are the methods that are called on something called q, by package.
func calls(t *testing.T) map[string][]string {
	t.Helper()
	out := map[string][]string{}
	require.NoError(t, filepath.WalkDir("..", func(path string, d os.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") || strings.Contains(path, "store/query") {
			return err
		}
		file, err := parser.ParseFile(token.NewFileSet(), path, nil, 0)
		if err != nil {
			return err
		}
		from := "internal/" + filepath.ToSlash(strings.TrimPrefix(filepath.Dir(path), "../"))
		ast.Inspect(file, func(n ast.Node) bool {
			if s, ok := n.(*ast.SelectorExpr); ok {
				if x, ok := s.X.(*ast.Ident); ok && x.Name == "q" && !slices.Contains(out[from], s.Sel.Name) {
					out[from] = append(out[from], s.Sel.Name)
				}
			}
			return true
		})
		return nil
	}))
	return out
}
