// Command mutate puts wrong lines into a copy of the program, one at a time, chosen by seed from its
// syntax trees: a negated condition, a dropped check, a changed sign, a bound moved by one. It tells
// which of them the Go tests notice.
package main

import (
	"bytes"
	"context"
	"flag"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"log"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

// where wrong lines are put: the core, and all that stands between a builder and the metal.
var where = []string{"internal/core", "internal/gate", "internal/ledger", "internal/holding", "internal/riveting", "internal/closing", "internal/stores", "internal/planning", "internal/account", "internal/archive", "internal/web/ui", "internal/web/account"}

// tests are run in this order until one notices, after those of the package itself.
var tests = [][]string{{"./test/wayround", "./internal/overview", "./internal/amending"}, {"./test/sheets"}, {"./internal/...", "./cmd/..."}, {"./test/..."}}

// wrong is one wrong line.
type wrong struct {
	file     string
	line     int
	from, to int // bytes that it replaces
	text     string
	says     string
}

func main() {
	n := flag.Int("n", 300, "how many")
	seed := flag.Uint64("seed", 1, "which")
	skip := flag.Int("skip", 0, "how many of them to pass over")
	limit := flag.Duration("limit", 4*time.Minute, "how long a run of tests may take: one that hangs is noticed")
	flag.Parse()
	root, err := os.Getwd()
	if err != nil {
		log.Fatal(err)
	}
	all, err := sites(root)
	if err != nil {
		log.Fatal(err)
	}
	rnd := rand.New(rand.NewPCG(*seed, 29))
	rnd.Shuffle(len(all), func(i, j int) { all[i], all[j] = all[j], all[i] })
	fmt.Printf("%d places; %d of them by seed %d\n", len(all), *n, *seed)
	dir, err := os.MkdirTemp("", "orpine-mutate-")
	if err != nil {
		log.Fatal(err)
	}
	defer os.RemoveAll(dir)
	if out, err := exec.Command("bash", "-c", "git ls-files -z | xargs -0 cp --parents -t "+dir).CombinedOutput(); err != nil {
		log.Fatalf("copying: %v %s", err, out)
	}
	noticed, lived := 0, []string{}
	for _, w := range all[min(*skip, len(all)):] {
		if noticed+len(lived) == *n {
			break
		}
		switch how, err := try(dir, w, *limit); {
		case err != nil:
			log.Fatal(err)
		case how == "":
			continue // it does not build
		case how == "lived":
			lived = append(lived, w.String())
			fmt.Println("LIVED  ", w)
		default:
			noticed++
			fmt.Println("noticed", w, "by", how)
		}
	}
	fmt.Printf("%d noticed, %d lived\n", noticed, len(lived))
	if 20*len(lived) > noticed+len(lived) { // 95 % are to be noticed
		os.Exit(1)
	}
}

func (w wrong) String() string { return fmt.Sprintf("%s:%d: %s", w.file, w.line, w.says) }

// try puts the wrong line in and runs tests until one notices; "" where it does not build.
func try(dir string, w wrong, limit time.Duration) (how string, err error) {
	path := filepath.Join(dir, w.file)
	was, err := os.ReadFile(path)
	if err != nil {
		return "", err
	}
	defer func() { err = cmpErr(err, os.WriteFile(path, was, 0o600)) }()
	now := slices.Concat(was[:w.from], []byte(w.text), was[w.to:])
	if err := os.WriteFile(path, now, 0o600); err != nil {
		return "", err
	}
	run := func(args ...string) bool {
		ctx, stop := context.WithTimeout(context.Background(), limit)
		defer stop()
		c := exec.CommandContext(ctx, "go", args...)
		c.Dir, c.WaitDelay = dir, time.Second
		return c.Run() == nil
	}
	own := "./" + filepath.ToSlash(filepath.Dir(w.file))
	if !run("build", "./...") {
		return "", nil
	}
	for _, group := range append([][]string{{own}}, tests...) {
		if !run(append([]string{"test", "-failfast", "-vet=off"}, group...)...) {
			return strings.Join(group, " "), nil
		}
	}
	return "lived", nil
}

func cmpErr(first, second error) error {
	if first != nil {
		return first
	}
	return second
}

// sites are all places at which a line can be made wrong, in the order of the files.
func sites(root string) (out []wrong, err error) {
	for _, dir := range where {
		err := filepath.WalkDir(filepath.Join(root, dir), func(path string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
				return err
			}
			file, err := filepath.Rel(root, path)
			if err != nil {
				return err
			}
			found, err := inFile(path, file)
			out = append(out, found...)
			return err
		})
		if err != nil {
			return nil, err
		}
	}
	return out, nil
}

// asked are calls whose loss matters most: they are dropped whole.
var asked = []string{"gate", "slip", "near", "ask", "frozen", "shows", "may", "takes", "allow", "unasked", "reach", "Within", "refuse"}

func inFile(path, file string) (out []wrong, err error) {
	src, err := os.ReadFile(path)
	if err != nil {
		return nil, err
	}
	set := token.NewFileSet()
	tree, err := parser.ParseFile(set, path, src, 0)
	if err != nil {
		return nil, err
	}
	add := func(from, to token.Pos, text, says string) {
		a, b := set.Position(from), set.Position(to)
		out = append(out, wrong{file, a.Line, a.Offset, b.Offset, text, says + ": " + string(bytes.Join(bytes.Fields(src[a.Offset:b.Offset]), []byte(" ")))})
	}
	ast.Inspect(tree, func(n ast.Node) bool {
		switch n := n.(type) {
		case *ast.IfStmt:
			cond := src[set.Position(n.Cond.Pos()).Offset:set.Position(n.Cond.End()).Offset]
			if bytes.HasSuffix(cond, []byte("err != nil")) {
				if call := guard(n); call != "" && n.Init != nil && n.Else == nil {
					add(n.Pos(), n.End(), "", "dropped")
				}
				break // a forgotten error is no rule of the job
			}
			add(n.Cond.Pos(), n.Cond.End(), "!("+string(cond)+")", "negated")
		case *ast.BinaryExpr:
			at := set.Position(n.OpPos)
			swap := map[token.Token]string{token.ADD: "-", token.SUB: "+", token.LSS: "<=", token.LEQ: "<", token.GTR: ">=", token.GEQ: ">"}[n.Op]
			if lit, ok := n.X.(*ast.BasicLit); swap == "" || ok && lit.Kind == token.STRING {
				break
			}
			out = append(out, wrong{file, at.Line, at.Offset, at.Offset + len(n.Op.String()), swap, "“" + n.Op.String() + "” is “" + swap + "”"})
		}
		return true
	})
	return out, nil
}

// guard is the name of the check that an if asks, "" for none of those that matter.
func guard(n *ast.IfStmt) string {
	assign, ok := n.Init.(*ast.AssignStmt)
	if !ok || len(assign.Rhs) != 1 {
		return ""
	}
	call, ok := assign.Rhs[0].(*ast.CallExpr)
	if !ok {
		return ""
	}
	name := ""
	switch f := call.Fun.(type) {
	case *ast.Ident:
		name = f.Name
	case *ast.SelectorExpr:
		name = f.Sel.Name
		if x, ok := f.X.(*ast.Ident); ok {
			name = x.Name + "." + name
		}
	}
	for _, word := range asked {
		if strings.Contains(strings.ToLower(name), strings.ToLower(word)) {
			return name
		}
	}
	return ""
}
