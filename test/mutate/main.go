// Command mutate puts wrong lines into a copy of the program, chosen by seed from its syntax trees: a
// negated condition, a check whose answer is not heeded, a changed sign, a bound moved by one. All stand
// in the copy at once, asleep; the environment wakes one (package switches). So every package of tests
// is built once, tells which of them it reaches, and is run for those alone. What is told is which
// wrong lines no Go test notices.
package main

import (
	"bytes"
	_ "embed"
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
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"
)

// where wrong lines are put: the core, and all that stands between a builder and the metal.
var where = []string{"internal/core", "internal/gate", "internal/ledger", "internal/holding", "internal/riveting", "internal/closing", "internal/stores", "internal/planning", "internal/account", "internal/archive", "internal/web/ui", "internal/web/account"}

// proofs are packages that only play builders and scenes, for the proofs and the trainer.
var proofs = []string{"sim", "practice"}

// wrong is one wrong line: what stands from one byte to another in its file is put into a call of the
// switches, and what stands between two others of them becomes a comma, where there are such.
type wrong struct {
	file       string
	line       int
	from, to   int
	call       string // of the switches, with what stands before its number
	mid, until int    // of the operator; 0 where there is none
	says       string
}

func (w wrong) String() string { return fmt.Sprintf("%s:%d: %s", w.file, w.line, w.says) }

//go:embed switches/switches.go
var switches []byte

func main() {
	n := flag.Int("n", 300, "how many")
	seed := flag.Uint64("seed", 1, "which")
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
	c, err := copied(root)
	if err != nil {
		log.Fatal(err)
	}
	defer os.RemoveAll(c.dir)
	chosen, err := c.put(all, *n)
	if err != nil {
		log.Fatal(err)
	}
	packages, err := c.tests()
	if err != nil {
		log.Fatal(err)
	}
	lived := 0
	for i, w := range chosen {
		if by := noticed(packages, i+1, w); by != "" {
			fmt.Println("noticed", w, "by", by)
			continue
		}
		lived++
		fmt.Println("LIVED  ", w)
	}
	fmt.Printf("%d noticed, %d lived\n", len(chosen)-lived, lived)
	if 20*lived > len(chosen) { // 95 % are to be noticed
		os.Exit(1)
	}
}

// tree is the copy of the program, with its files as they were.
type tree struct {
	dir string
	was map[string][]byte
}

func copied(root string) (*tree, error) {
	dir, err := os.MkdirTemp("", "orpine-mutate-")
	if err != nil {
		return nil, err
	}
	copying := exec.Command("bash", "-c", "git ls-files -z | xargs -0 cp --parents -t "+dir)
	copying.Dir = root
	if out, err := copying.CombinedOutput(); err != nil {
		return nil, fmt.Errorf("copying: %w %s", err, out)
	}
	return &tree{dir, map[string][]byte{}}, os.MkdirAll(filepath.Join(dir, "internal/switches"), 0o700)
}

// put puts n wrong lines of all into the copy, asleep, each with its place in the list, from 1, as its
// number. Those that do not build are left out, and others taken for them.
func (t *tree) put(all []wrong, n int) (chosen []wrong, err error) {
	if err := os.WriteFile(filepath.Join(t.dir, "internal/switches/switches.go"), switches, 0o600); err != nil {
		return nil, err
	}
	bad := map[string]bool{} // lines that do not build
	for {
		chosen = chosen[:0]
		for _, w := range all {
			if len(chosen) < n && !bad[fmt.Sprint(w.file, ":", w.line)] {
				chosen = append(chosen, w)
			}
		}
		if err := t.write(chosen); err != nil {
			return nil, err
		}
		build := exec.Command("go", "build", "-gcflags=-e", "./...")
		build.Dir = t.dir
		said, err := build.CombinedOutput()
		if err == nil {
			return chosen, nil
		}
		were := len(bad)
		for _, at := range regexp.MustCompile(`(?m)^(?:\./)?(\S+\.go):(\d+):`).FindAllSubmatch(said, -1) {
			bad[string(at[1])+":"+string(at[2])] = true
		}
		if len(bad) == were {
			return nil, fmt.Errorf("building: %w %s", err, said)
		}
	}
}

// write writes the files that have wrong lines, each line where it was.
func (t *tree) write(chosen []wrong) error {
	for file, was := range t.was {
		if err := os.WriteFile(filepath.Join(t.dir, file), was, 0o600); err != nil {
			return err
		}
	}
	type edit struct {
		at, width int // what begins first at a place, and ends last at one, is the wider
		drop      int
		text      string
	}
	edits := map[string][]edit{}
	for i, w := range chosen {
		wide := w.to - w.from
		e := []edit{{w.from, -wide, 0, fmt.Sprintf("switches.%s(%d, ", w.call, i+1)}, {w.to, wide - 1<<30, 0, ")"}}
		if w.mid > 0 {
			e = append(e, edit{w.mid, 0, w.until - w.mid, ","})
		}
		edits[w.file] = append(edits[w.file], e...)
	}
	for file, list := range edits {
		path := filepath.Join(t.dir, file)
		if t.was[file] == nil {
			src, err := os.ReadFile(path)
			if err != nil {
				return err
			}
			t.was[file] = src
		}
		src := t.was[file]
		named := regexp.MustCompile(`(?m)^package \w+`).FindIndex(src)
		list = append(list, edit{at: named[1], text: `; import "orpine/internal/switches"`})
		slices.SortStableFunc(list, func(a, b edit) int {
			if a.at != b.at {
				return a.at - b.at
			}
			return a.width - b.width
		})
		var out bytes.Buffer
		at := 0
		for _, e := range list {
			out.Write(src[at:e.at])
			out.WriteString(e.text)
			at = e.at + e.drop
		}
		out.Write(src[at:])
		if err := os.WriteFile(path, out.Bytes(), 0o600); err != nil {
			return err
		}
	}
	return nil
}

// tested is a package of tests, built, with how long it takes when nothing is wrong.
type tested struct {
	dir, name string
	takes     time.Duration
	fails     string // those that fail in the copy with nothing wrong, for the copy is not the repository
	reaches   map[int]bool
}

// tests builds every package of tests, and runs each once.
func (t *tree) tests() (out []tested, err error) {
	list := exec.Command("go", "list", "-f", "{{if or .TestGoFiles .XTestGoFiles}}{{.Dir}}{{end}}", "./...")
	list.Dir = t.dir
	said, err := list.Output()
	if err != nil {
		return nil, err
	}
	for _, dir := range strings.Fields(string(said)) {
		name, err := filepath.Rel(t.dir, dir)
		if err != nil {
			return nil, err
		}
		build := exec.Command("go", "test", "-c", "-vet=off", "-o", filepath.Join(dir, "tests.bin"), ".")
		build.Dir = dir
		if said, err := build.CombinedOutput(); err != nil {
			return nil, fmt.Errorf("%s: %w %s", name, err, said)
		}
		p := tested{dir: dir, name: name, reaches: map[int]bool{}}
		seen := filepath.Join(dir, "seen.txt")
		begun := time.Now()
		_, said := p.run(10*time.Minute, "SWITCHES_SEEN="+seen, "-test.failfast=false")
		p.takes = time.Since(begun)
		var fails []string
		for _, f := range regexp.MustCompile(`(?m)^--- FAIL: (\w+)`).FindAllSubmatch(said, -1) {
			fails = append(fails, string(f[1]))
		}
		if p.fails = strings.Join(fails, "|"); p.fails != "" {
			fmt.Println("left out, for they fail with nothing wrong:", name, p.fails)
		}
		text, _ := os.ReadFile(seen) // nothing is reached where there is none
		for _, n := range strings.Fields(string(text)) {
			number, err := strconv.Atoi(n)
			if err != nil {
				return nil, err
			}
			p.reaches[number] = true
		}
		out = append(out, p)
	}
	slices.SortStableFunc(out, func(a, b tested) int { return int(a.takes - b.takes) })
	return out, nil
}

// run runs a package of tests with one more word of the environment.
func (p tested) run(limit time.Duration, env string, args ...string) (ok bool, said []byte) {
	if p.fails != "" {
		args = append(args, "-test.skip=^("+p.fails+")$")
	}
	c := exec.Command("./tests.bin", append(args, "-test.timeout="+limit.String())...)
	c.Dir, c.Env, c.WaitDelay = p.dir, append(os.Environ(), env), time.Second
	said, err := c.CombinedOutput()
	return err == nil, said
}

// noticed is which package of tests notices a wrong line: its own is asked first, then all that reach
// it, the quickest first; "" where none does.
func noticed(packages []tested, number int, w wrong) string {
	own := filepath.Dir(w.file)
	asked := slices.Clone(packages)
	slices.SortStableFunc(asked, func(a, b tested) int {
		switch {
		case a.name == own && b.name != own:
			return -1
		case b.name == own && a.name != own:
			return 1
		}
		return 0
	})
	for _, p := range asked {
		if !p.reaches[number] {
			continue
		}
		if ok, _ := p.run(4*p.takes+20*time.Second, "SWITCHES_ON="+strconv.Itoa(number), "-test.failfast"); !ok {
			return p.name
		}
	}
	return ""
}

// sites are all places at which a line can be made wrong, in the order of the files.
func sites(root string) (out []wrong, err error) {
	for _, dir := range where {
		err := filepath.WalkDir(filepath.Join(root, dir), func(path string, d fs.DirEntry, err error) error {
			if err == nil && d.IsDir() && slices.Contains(proofs, d.Name()) {
				return filepath.SkipDir
			}
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
	at := func(p token.Pos) int { return set.Position(p).Offset }
	add := func(n ast.Node, call, says string) {
		a, b := at(n.Pos()), at(n.End())
		out = append(out, wrong{file: file, line: set.Position(n.Pos()).Line, from: a, to: b, call: call, says: says + ": " + string(bytes.Join(bytes.Fields(src[a:b]), []byte(" ")))})
	}
	ast.Inspect(tree, func(n ast.Node) bool {
		switch n := n.(type) {
		case *ast.IfStmt:
			if bytes.HasSuffix(src[at(n.Cond.Pos()):at(n.Cond.End())], []byte("err != nil")) {
				if call := guard(n); call != "" && n.Else == nil {
					add(n.Cond, "Never", "not heeded, "+call)
				}
				break // a forgotten error is no rule of the job
			}
			add(n.Cond, "Not", "negated")
		case *ast.BinaryExpr:
			call := map[token.Token]string{token.ADD: "Plus", token.SUB: "Minus", token.LSS: "Less", token.LEQ: "AtMost", token.GTR: "More", token.GEQ: "AtLeast"}[n.Op]
			if lit, ok := n.X.(*ast.BasicLit); call == "" || ok && lit.Kind == token.STRING {
				break
			}
			add(n, call, "“"+n.Op.String()+"” is another")
			out[len(out)-1].mid, out[len(out)-1].until = at(n.OpPos), at(n.OpPos)+len(n.Op.String())
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
