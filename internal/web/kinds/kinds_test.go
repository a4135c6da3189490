package kinds

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/measure"
	"orpine/internal/worksheet"
)

func every() []measure.Kind { return slices.Concat(measure.Kinds, worksheet.Joined, worksheet.Set) }

// A kind that is measured has its form, drawing, pictogram and page; a name stands once.
func TestEveryKindIsDeclaredOnce(t *testing.T) {
	for _, k := range every() {
		shown, ok := Of(k.Name)
		require.True(t, ok, "%s has a file in internal/web/kinds", k.Name)
		assert.NotEmpty(t, shown.Guide, k.Name)
		assert.NotEmpty(t, shown.Pictogram, k.Name)
		assert.Equal(t, k.New != nil, shown.Draw != nil, "%s is drawn where it is measured", k.Name)
	}
	assert.Len(t, All, len(every()))
	assert.Equal(t, "holds", GuideOf("nothing of that name"))
	assert.Equal(t, "stop", GuideFor("stop", "twist"))
	assert.Equal(t, "twist", GuideFor("go", "twist"))
	assert.NotEmpty(t, Pictogram("twist"))
}

// places are those that may name kinds: where they are declared, and where one is made from a form of its own.
var places = []string{"internal/core/measure/", "internal/core/pose/", "internal/core/rivet/", "internal/core/cure/", "internal/worksheet/worksheet.go", "internal/web/kinds/"}

var aboutKinds = regexp.MustCompile(`(?i)\bkind\b|Kind\.Name`)

// What differs from kind to kind is declared with the kind: nothing else asks for one by its name, in a
// comparison, a switch or a table.
func TestNothingElseAsksForAKindByItsName(t *testing.T) {
	names := map[string]bool{}
	for _, k := range every() {
		names[k.Name] = true
	}
	root := filepath.Join("..", "..", "..")
	require.NoError(t, filepath.WalkDir(filepath.Join(root, "internal"), func(path string, d fs.DirEntry, err error) error {
		short, _ := filepath.Rel(root, path)
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") || slices.ContainsFunc(places, func(p string) bool { return strings.HasPrefix(short, p) }) {
			return err
		}
		for _, found := range asked(t, path, names) {
			assert.Fail(t, short+": "+found)
		}
		return nil
	}))
}

// asked are the comparisons, cases and tables of a file that name kinds.
func asked(t *testing.T, path string, names map[string]bool) (out []string) {
	t.Helper()
	set := token.NewFileSet()
	file, err := parser.ParseFile(set, path, nil, 0)
	require.NoError(t, err)
	named := func(e ast.Expr) string {
		lit, ok := e.(*ast.BasicLit)
		if !ok || lit.Kind != token.STRING {
			return ""
		}
		if text, _ := strconv.Unquote(lit.Value); names[text] {
			return text
		}
		return ""
	}
	ast.Inspect(file, func(n ast.Node) bool {
		switch n := n.(type) {
		case *ast.BinaryExpr:
			if name := named(n.Y); name != "" && (n.Op == token.EQL || n.Op == token.NEQ) && aboutKinds.MatchString(source(n.X)) {
				out = append(out, "compares "+source(n.X)+" with "+name)
			}
		case *ast.SwitchStmt:
			if n.Tag == nil || !aboutKinds.MatchString(source(n.Tag)) {
				return true
			}
			for _, c := range n.Body.List {
				for _, e := range c.(*ast.CaseClause).List {
					if name := named(e); name != "" {
						out = append(out, "has a case for "+name)
					}
				}
			}
		case *ast.CompositeLit:
			keys := 0
			for _, e := range n.Elts {
				if kv, ok := e.(*ast.KeyValueExpr); ok && named(kv.Key) != "" {
					keys++
				}
			}
			if _, table := n.Type.(*ast.MapType); table && keys > 2 {
				out = append(out, "has a table by names of kinds")
			}
		}
		return true
	})
	return out
}

// source is an expression of names and selectors as it is written.
func source(e ast.Expr) string {
	switch e := e.(type) {
	case *ast.Ident:
		return e.Name
	case *ast.SelectorExpr:
		return source(e.X) + "." + e.Sel.Name
	case *ast.IndexExpr:
		if lit, ok := e.Index.(*ast.BasicLit); ok {
			return source(e.X) + " " + strings.Trim(lit.Value, `"`)
		}
	}
	return ""
}
