package main

import (
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"io"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/demo"
	"orpine/internal/ledger"
	"orpine/internal/store"
)

// run runs the program with these arguments and this standard input.
func run(t *testing.T, in string, args ...string) (out string, err error) {
	t.Helper()
	cmd := root()
	var b bytes.Buffer
	cmd.SetArgs(args)
	cmd.SetIn(strings.NewReader(in))
	cmd.SetOut(&b)
	cmd.SetErr(io.Discard)
	err = cmd.ExecuteContext(t.Context())
	return b.String(), err
}

const solvable = `{"format":"orpine.worksheet","version":1,"checks":[{"name":"x","kind":"shim-stack","needed":0.9,"stock":[0.25,0.4,0.5]}]}`

func TestSolveReadsAFileOrStandardInput(t *testing.T) {
	file := filepath.Join(t.TempDir(), "sheet.json")
	require.NoError(t, os.WriteFile(file, []byte(solvable), 0o600))
	for _, args := range [][]string{{"solve", "-"}, {"solve", file}} {
		out, err := run(t, solvable, args...)
		require.NoError(t, err)
		var results struct {
			Format  string
			Version int
			Results []struct{ Stack []float64 }
		}
		require.NoError(t, json.Unmarshal([]byte(out), &results))
		assert.Equal(t, "orpine.results", results.Format)
		assert.Equal(t, []float64{0.5, 0.4}, results.Results[0].Stack)
	}
}

func TestSolveExitsWithTwoAndListsTheErrors(t *testing.T) {
	for name, in := range map[string]string{
		"garbage":   strings.Repeat("\x00{[", 1<<20),
		"too large": strings.Repeat(" ", 5<<20),
		"empty":     "",
		"errors":    strings.Replace(solvable, "0.9", `"0,900 mm thick"`, 1),
	} {
		out, err := run(t, in, "solve", "-")
		assert.Equal(t, unusable, err, name)
		var unusable struct {
			Errors []struct{ Path, Message string }
		}
		require.NoError(t, json.Unmarshal([]byte(out), &unusable), name)
		assert.NotEmpty(t, unusable.Errors[0].Message, name)
	}
	out, err := run(t, "", "solve", "/nowhere/at/all.json")
	assert.Equal(t, unusable, err)
	assert.Contains(t, out, "no such file")
}

func TestPlanReadsAFileOrStandardInput(t *testing.T) {
	const in = `{"format":"orpine.plan","version":1,"now":"2026-11-25T18:00","week":{"wed":{"from":"19:00","hours":2}},"steps":[{"id":"a","hours":1},{"id":"b","hours":1,"after":["a"]}]}`
	file := filepath.Join(t.TempDir(), "plan.json")
	require.NoError(t, os.WriteFile(file, []byte(in), 0o600))
	for _, args := range [][]string{{"plan", "-"}, {"plan", file}} {
		out, err := run(t, in, args...)
		require.NoError(t, err)
		var answer struct {
			Format, Finish string
			Now            []string
		}
		require.NoError(t, json.Unmarshal([]byte(out), &answer))
		assert.Equal(t, "orpine.planned", answer.Format)
		assert.Equal(t, []string{"a"}, answer.Now)
		assert.Equal(t, "2026-11-25T21:00", answer.Finish)
	}
	for name, in := range map[string]string{"garbage": strings.Repeat("\x00{[", 1<<20), "too large": strings.Repeat(" ", 5<<20), "empty": "", "errors": strings.Replace(in, `"hours":1}`, `"hours":0}`, 1)} {
		out, err := run(t, in, "plan", "-")
		assert.Equal(t, unusable, err, name)
		assert.Contains(t, out, `"path"`, name)
	}
	_, err := run(t, "", "plan", "/nowhere/at/all.json")
	assert.Equal(t, unusable, err)
}

// A band is printed where it is asked for, the same for a seed, and not where nobody asks.
func TestPlanPlaysABand(t *testing.T) {
	const in = `{"format":"orpine.plan","version":1,"now":"2026-11-25T18:00","week":{"wed":{"from":"19:00","hours":2}},"steps":[{"id":"a","hours":9}]}`
	plain, err := run(t, in, "plan", "-")
	require.NoError(t, err)
	assert.NotContains(t, plain, `"band"`)
	one, err := run(t, in, "plan", "-", "--band", "50", "--seed", "3")
	require.NoError(t, err)
	var answer struct {
		Band struct {
			N       int
			Seed    uint64
			P10     string
			Drivers []struct{ What string }
			LeftOut []string `json:"left_out"`
		}
	}
	require.NoError(t, json.Unmarshal([]byte(one), &answer))
	assert.Equal(t, 50, answer.Band.N)
	assert.Equal(t, uint64(3), answer.Band.Seed)
	assert.NotEmpty(t, answer.Band.Drivers)
	assert.NotNil(t, answer.Band.LeftOut)
	again, err := run(t, in, "plan", "-", "--band", "50", "--seed", "3")
	require.NoError(t, err)
	assert.Equal(t, one, again)
	for _, n := range []string{"9", "10001", "x"} {
		_, err := run(t, in, "plan", "-", "--band", n)
		assert.Error(t, err, n)
	}
	_, err = run(t, in, "plan", "-", "--band", "10", "--seed", "-1")
	assert.Error(t, err)
}

// workshop makes a data directory with the demo's workshop in it.
func workshop(t *testing.T) string {
	t.Helper()
	dir := t.TempDir()
	s, err := store.Open(t.Context(), dir)
	require.NoError(t, err)
	require.NoError(t, fillDemo(t.Context(), s, nil))
	require.NoError(t, s.Close())
	return dir
}

func TestVerifyConfirmsTheJournalOrNamesTheFirstBrokenEntry(t *testing.T) {
	dir := workshop(t)
	out, err := run(t, "", "verify", "--data", dir)
	require.NoError(t, err)
	last := regexp.MustCompile(`^All (\d+) entries hold\..*\n(\d+:[0-9a-f]{64})\n$`).FindStringSubmatch(out)
	require.NotNil(t, last, out)
	_, err = run(t, "", "verify", "--data", dir, "--last", last[2])
	require.NoError(t, err)
	_, err = run(t, "", "verify", "--data", dir, "--last", "soon")
	require.ErrorContains(t, err, "NUMBER:HASH is wanted")

	db, err := sql.Open("sqlite", filepath.Join(dir, store.FileName))
	require.NoError(t, err)
	_, err = db.Exec("DROP TRIGGER journal_is_not_edited; UPDATE journal SET by_name = 'someone' WHERE seq = 7")
	require.NoError(t, err)
	require.NoError(t, db.Close())
	out, err = run(t, "", "verify", "--data", dir)
	assert.ErrorIs(t, err, exitCode(1))
	assert.Contains(t, out, "entry 7")
	assert.Contains(t, out, "copy", "it says what to do next")

	_, err = run(t, "", "verify", "--data", t.TempDir())
	assert.ErrorContains(t, err, "no workshop in")
	_, err = run(t, "", "verify")
	assert.ErrorContains(t, err, "data")
}

func TestExportGivesWhatSolveReads(t *testing.T) {
	dir := workshop(t)
	sheet, err := run(t, "", "worksheet", "--data", dir, demo.ID("tailplane on rails"))
	require.NoError(t, err)
	out, err := run(t, sheet, "solve", "-")
	require.NoError(t, err)
	assert.Contains(t, out, `"verdict": "go"`)
	_, err = run(t, "", "worksheet", "--data", dir, "nothing")
	assert.ErrorIs(t, err, ledger.ErrNotFound)
}

func TestOnlyThisMachineIsListenedTo(t *testing.T) {
	for addr, says := range map[string]string{
		"0.0.0.0:8080": "listens only on this machine", "192.168.1.5:8080": "listens only on this machine", ":8080": "listens only on this machine", "example.org:80": "listens only on this machine",
		"8080": "HOST:PORT", "127.0.0.1": "HOST:PORT", "127.0.0.1:x": "--addr 127.0.0.1:x",
	} {
		_, err := listen(t.Context(), addr)
		assert.ErrorContains(t, err, says, addr)
	}
	for _, addr := range []string{"127.0.0.1:0", "localhost:0"} {
		l, err := listen(t.Context(), addr)
		require.NoError(t, err, addr)
		require.NoError(t, l.Close())
	}
}

func TestATakenPortNamesTheFlag(t *testing.T) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer l.Close()
	for _, args := range [][]string{{"demo"}, {"serve", "--data", t.TempDir()}} {
		_, err = run(t, "", append(args, "--addr", l.Addr().String())...)
		assert.ErrorContains(t, err, "is taken by another program; choose another port with --addr HOST:PORT")
	}
}

func TestServeAnswersKeepsItsDataAndStopsCleanly(t *testing.T) {
	dir := t.TempDir()
	for range 2 {
		out, in := io.Pipe()
		cmd := root()
		cmd.SetArgs([]string{"serve", "--data", dir, "--addr", "127.0.0.1:0"})
		cmd.SetOut(in)
		ended := make(chan error, 1)
		go func() { ended <- cmd.ExecuteContext(context.Background()) }()
		said := make([]byte, 200)
		n, err := out.Read(said)
		require.NoError(t, err)
		url := regexp.MustCompile(`http://[\d.:]+`).FindString(string(said[:n]))
		answer, err := http.Get(url)
		require.NoError(t, err)
		assert.Equal(t, http.StatusOK, answer.StatusCode)
		require.NoError(t, answer.Body.Close())
		require.NoError(t, syscall.Kill(os.Getpid(), syscall.SIGINT))
		select {
		case err := <-ended:
			assert.NoError(t, err)
		case <-time.After(10 * time.Second):
			t.Fatal("it did not stop")
		}
	}
	out, err := run(t, "", "verify", "--data", dir)
	require.NoError(t, err)
	assert.Contains(t, out, "All 0 entries hold.")
}

// Two programs on one directory would each know only half of what is released.
func TestASecondProgramIsRefusedTheDirectory(t *testing.T) {
	dir := workshop(t)
	release, err := store.Own(dir, "orpine at http://127.0.0.1:8080")
	require.NoError(t, err)
	defer release() //nolint:errcheck // the test is over
	_, err = run(t, "", "serve", "--data", dir, "--addr", "127.0.0.1:0")
	require.ErrorContains(t, err, "in use by process "+strconv.Itoa(os.Getpid()))
	_, err = run(t, "", "verify", "--data", dir)
	require.NoError(t, err, "to look is allowed")
	_, err = run(t, "", "worksheet", "--data", dir, demo.ID("tailplane on rails"))
	require.NoError(t, err)
}

func TestVersionSaysTheBuild(t *testing.T) {
	out, err := run(t, "", "version")
	require.NoError(t, err)
	assert.Equal(t, "orpine unreleased\n", out)
}

func TestProveReportsTheSameForTheSameSeed(t *testing.T) {
	first, err := run(t, "", "prove", "--builds", "12", "--seed", "5", "--json")
	require.NoError(t, err)
	again, err := run(t, "", "prove", "--builds", "12", "--seed", "5", "--json")
	require.NoError(t, err)
	assert.Equal(t, first, again)
	var report map[string]any
	require.NoError(t, json.Unmarshal([]byte(first), &report))
	for _, field := range []string{"builds", "seed", "coverage", "blunders", "wrong_releases", "needless_refusals", "readings_per_build"} {
		assert.Contains(t, report, field)
	}
	said, err := run(t, "", "prove", "--builds", "4", "--rectangular")
	require.NoError(t, err)
	assert.Contains(t, said, "rectangular constant errors")
	assert.Contains(t, said, "join yaw")
	_, err = run(t, "", "prove", "--builds", "0")
	assert.ErrorContains(t, err, "--builds 0")
}

// Every example of the documentation is solved, the joins among them.
func TestSolveSolvesTheExamples(t *testing.T) {
	paths, err := filepath.Glob("../../docs/examples/*.json")
	require.NoError(t, err)
	require.Greater(t, len(paths), 22)
	for _, path := range paths {
		out, err := run(t, "", "solve", path)
		require.NoError(t, err, path)
		var results struct {
			Results []struct {
				Kind       string
				Quantities []struct {
					Name string
					U    *float64
				}
				Readings []struct{ Redundancy float64 }
			}
		}
		require.NoError(t, json.Unmarshal([]byte(out), &results), path)
		for _, r := range results.Results {
			assert.NotEmpty(t, r.Kind, path)
			for _, reading := range r.Readings {
				assert.LessOrEqual(t, reading.Redundancy, 1.0, path)
			}
		}
	}
}
