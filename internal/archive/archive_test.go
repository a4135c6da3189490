package archive_test

import (
	"archive/zip"
	"bytes"
	"crypto/sha256"
	"encoding/csv"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/account"
	"orpine/internal/airframe"
	"orpine/internal/archive"
	"orpine/internal/core/journal"
	"orpine/internal/core/measure"
	"orpine/internal/demo"
	"orpine/internal/exchange"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/test/loft"
)

func pack(t testing.TB, l *loft.Loft, aircraft string) []byte {
	t.Helper()
	var b bytes.Buffer
	_, err := archive.Write(t.Context(), l.Ledger, aircraft, &b)
	require.NoError(t, err)
	return b.Bytes()
}

func open(t testing.TB, data []byte) *archive.Archive {
	t.Helper()
	a, err := archive.Open(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	return a
}

func take(t testing.TB, l *loft.Loft, data []byte) archive.Coming {
	t.Helper()
	a := open(t, data)
	c, err := archive.Take(t.Context(), l.Ledger, a, archive.Taking{Form: l.Form(), By: "builder", Archive: a.SHA256})
	require.NoError(t, err)
	l.Verify()
	return c
}

// moved lets something happen there or here; the ids of the two are never the same.
func moved(t testing.TB, l *loft.Loft, where string) {
	t.Helper()
	state := l.SetupOf(loft.BenchSetup).State
	require.NoError(t, l.Measuring.SomethingMoved(t.Context(), measuring.SomethingMoved{Form: loft.Named(fmt.Sprint(where, state)), Setup: loft.BenchSetup, State: state, What: measure.Moved}))
}

func head(t testing.TB, l *loft.Loft) string {
	t.Helper()
	seq, hash, err := l.Ledger.Head(t.Context())
	if err != nil {
		return "empty"
	}
	return fmt.Sprint(seq, ":", hash)
}

func TestAWholeWorkshopKeepsItsNumbersAndHashes(t *testing.T) {
	t.Parallel()
	from, to := loft.Small(t), loft.Empty(t)
	data := pack(t, from, "")
	assert.Equal(t, data, pack(t, from, ""), "the same workshop gives the same bytes")
	c := take(t, to, data)
	assert.Equal(t, from.Verify(), c.New)
	assert.Equal(t, head(t, from), head(t, to))
	assert.Equal(t, data, pack(t, to, ""))
	c = take(t, to, data)
	assert.Zero(t, c.New, "the same archive twice is once")
	assert.Equal(t, head(t, from), head(t, to))

	// what was done there since does not follow: a whole workshop goes into an empty one only
	moved(t, from, "there")
	before := head(t, to)
	a := open(t, pack(t, from, ""))
	look, err := archive.Look(t.Context(), to.Ledger, a)
	require.NoError(t, err)
	assert.Contains(t, look.Refused, "entries of its own")
	_, err = archive.Take(t.Context(), to.Ledger, a, archive.Taking{Form: to.Form(), Archive: a.SHA256})
	assert.Contains(t, loft.Problems(t, err)["archive"], "Nothing of it was taken")
	assert.Equal(t, before, head(t, to))
}

func TestAnAircraftTravelsWithItsInstrumentsAndKeepsWhereItCameFrom(t *testing.T) {
	t.Parallel()
	from, to := loft.Demo(t), loft.Small(t)
	before := to.Verify()
	for _, name := range []string{"campion", "samphire"} {
		id := demo.ID(name)
		data := pack(t, from, id)
		a := open(t, data)
		require.Equal(t, archive.Aircraft, a.Scope)
		look, err := archive.Look(t.Context(), to.Ledger, a)
		require.NoError(t, err)
		require.Empty(t, look.Refused)
		assert.Equal(t, before, to.Verify(), "a look writes nothing")
		take(t, to, data)
		before = to.Verify()
		assert.Equal(t, data, pack(t, to, id), "%s goes out again as it came, whatever it is called here", name)
		assert.Zero(t, take(t, to, data).New)
		assert.Equal(t, before, to.Verify(), "the same archive twice is once")
	}
	// the small workshop has a Campion C1 and a level of its own
	list, err := to.Airframes.List(t.Context())
	require.NoError(t, err)
	var names []string
	for _, f := range list {
		names = append(names, f.Name)
	}
	assert.Contains(t, names, "Campion C1 (2)")
	entry := to.Log(1)[0]
	assert.Contains(t, entry.What, "archive taken in: Samphire S2")

	number, hash, err := to.Ledger.Came(t.Context(), entry.Seq-1)
	require.NoError(t, err)
	was := from.Log(1)[0]
	assert.Equal(t, was.Seq, number)
	assert.Equal(t, was.Hash, hash)
	assert.Equal(t, was.Seq, to.Log(2)[1].Was, "the log says where it was")
	assert.Equal(t, was.At, to.Log(2)[1].At, "it keeps its time")

	// what the sheets say of it is the same
	there, err := from.Home(t.Context(), demo.ID("samphire"))
	require.NoError(t, err)
	here, err := to.Home(t.Context(), demo.ID("samphire"))
	require.NoError(t, err)
	assert.Equal(t, len(there.Held), len(here.Held))
	assert.Equal(t, from.Worksheet(demo.ID("tailplane on rails")), to.Worksheet(demo.ID("tailplane on rails")))
}

// An instrument that was entered with the setup of one aircraft goes with another that reads
// with it, and meets itself there when the first one comes.
func TestAnInstrumentMadeBesideAnotherAircraft(t *testing.T) {
	t.Parallel()
	from, to := loft.Bench(t, 4), loft.Empty(t)
	ctx := t.Context()
	require.NoError(t, from.Airframes.Add(ctx, airframe.NewAirframe{Form: loft.Named("other"), Name: "Tansy T3", Unit: "in"}))
	require.NoError(t, from.Airframes.AddAssembly(ctx, airframe.NewAssembly{Form: loft.Named("its wing"), Airframe: loft.ID("other"), Name: "Wing", Shape: airframe.Shape{Form: "fin", X: 4790, Z: 420, Chord: 560, Tip: 420, Rise: 1310}}))
	bow := loft.Bow()
	bow.Instrument = instrument.Quicks[slices.IndexFunc(instrument.Quicks, func(k instrument.Quick) bool { return !k.Angle })].ID
	require.NoError(t, from.Measuring.Begin(ctx, measuring.NewSetup{Form: loft.Named("first"), Assembly: loft.BenchBoom, Name: "first", Checks: []measuring.NewCheck{bow}}))
	tool := from.SetupOf(loft.ID("first")).Checks[0].Instrument
	require.NotEmpty(t, tool)
	again := loft.Bow()
	again.Instrument = tool
	require.NoError(t, from.Measuring.Begin(ctx, measuring.NewSetup{Form: loft.Named("second"), Assembly: loft.ID("its wing"), Name: "second", Checks: []measuring.NewCheck{again}}))

	other := pack(t, from, loft.ID("other"))
	c := take(t, to, other)
	assert.Equal(t, int64(4), c.New, "the aircraft, its wing, its setup, and the instrument alone")
	assert.Equal(t, other, pack(t, to, loft.ID("other")))
	take(t, to, pack(t, from, loft.BenchFrame))
	assert.Equal(t, other, pack(t, to, loft.ID("other")))
	list, err := to.Instruments.List(ctx)
	require.NoError(t, err)
	n := 0
	for _, in := range list {
		if in.ID == tool {
			n++
		}
	}
	assert.Equal(t, 1, n)
}

func TestTwoWorkshopsThatWentOnDifferentlyAreNotLaidTogether(t *testing.T) {
	t.Parallel()
	from, to := loft.Small(t), loft.Empty(t)
	take(t, to, pack(t, from, loft.BenchFrame))
	moved(t, from, "there")
	c := take(t, to, pack(t, from, loft.BenchFrame))
	assert.Equal(t, int64(1), c.New, "what was done there since follows")
	moved(t, to, "here")
	moved(t, from, "there")
	look, err := archive.Look(t.Context(), to.Ledger, open(t, pack(t, from, loft.BenchFrame)))
	require.NoError(t, err)
	assert.Contains(t, look.Refused, "worked on here since it came")
}

func TestAnAnswerThatWasLost(t *testing.T) {
	t.Parallel()
	from, to := loft.Small(t), loft.Small(t)
	_ = from
	data := pack(t, loft.Demo(t), demo.ID("campion"))
	a := open(t, data)
	n := archive.Taking{Form: to.Form(), By: "builder", Archive: a.SHA256}
	_, err := archive.Take(t.Context(), to.Ledger, a, n)
	require.NoError(t, err)
	entries := to.Verify()
	_, err = archive.Take(t.Context(), to.Ledger, a, n)
	require.NoError(t, err)
	assert.Equal(t, entries, to.Verify())
	n.Archive = strings.Repeat("0", 64)
	_, err = archive.Take(t.Context(), to.Ledger, a, n)
	assert.Contains(t, loft.Problems(t, err)["archive"], "another file")
}

func TestTheCSVFilesAreWhatASpreadsheetReads(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	require.NoError(t, l.Airframes.Add(t.Context(), airframe.NewAirframe{Form: loft.Named("formula"), Name: "=1+1", Unit: "mm"}))
	z, err := zip.NewReader(bytes.NewReader(pack(t, l, "")), int64(len(pack(t, l, ""))))
	require.NoError(t, err)
	seen := map[string][][]string{}
	for _, f := range z.File {
		if !strings.HasSuffix(f.Name, ".csv") {
			continue
		}
		r, err := f.Open()
		require.NoError(t, err)
		rows, err := csv.NewReader(r).ReadAll()
		require.NoError(t, err, f.Name)
		assert.Greater(t, len(rows), 1, "%s has rows", f.Name)
		seen[strings.TrimSuffix(strings.TrimPrefix(f.Name, "csv/"), ".csv")] = rows
	}
	assert.Equal(t, []string{"aircraft", "assembly", "setup", "check", "list", "point", "field", "as typed", "value", "unit"}, seen["readings"][0][:10])
	var names []string
	for _, row := range seen["aircraft"] {
		names = append(names, row[0])
	}
	assert.Contains(t, names, "'=1+1", "no formula")
	for _, text := range []string{"=1", "+1", "-1", "@a", "'", "'=1", "plain", "", "\ta"} {
		assert.Equal(t, text, exchange.Unguard(exchange.Guard(text)))
	}
}

// members unpacks an archive so that it can be spoilt.
func members(t *testing.T, data []byte) (names []string, content map[string][]byte) {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	content = map[string][]byte{}
	for _, f := range z.File {
		r, err := f.Open()
		require.NoError(t, err)
		content[f.Name], err = io.ReadAll(r)
		require.NoError(t, err)
		names = append(names, f.Name)
	}
	return names, content
}

func repack(t *testing.T, names []string, content map[string][]byte) []byte {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for _, name := range names {
		w, err := z.Create(name)
		require.NoError(t, err)
		_, err = w.Write(content[name])
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	return b.Bytes()
}

// honest makes the manifest say what the members are.
func honest(t *testing.T, names []string, content map[string][]byte) {
	t.Helper()
	var m archive.Manifest
	require.NoError(t, json.Unmarshal(content["orpine-archive.json"], &m))
	m.Members = nil
	for _, name := range names {
		if name != "orpine-archive.json" {
			sum := sha256.Sum256(content[name])
			m.Members = append(m.Members, archive.Member{Name: name, Bytes: int64(len(content[name])), SHA256: hex.EncodeToString(sum[:])})
		}
	}
	data, err := json.Marshal(m)
	require.NoError(t, err)
	content["orpine-archive.json"] = data
}

func TestDamagedHostileAndForeignFilesAreRefusedWhole(t *testing.T) {
	t.Parallel()
	good := pack(t, loft.Small(t), loft.BenchFrame)
	to := loft.Demo(t)
	before := head(t, to)
	spoilt := func(change func(names []string, content map[string][]byte) []string) []byte {
		names, content := members(t, good)
		return repack(t, change(names, content), content)
	}
	photo := func(content map[string][]byte) string {
		for name := range content {
			if strings.HasPrefix(name, "photos/") {
				return name
			}
		}
		return ""
	}
	zeros := make([]byte, 64<<20)
	for what, c := range map[string]struct {
		says string
		data []byte
	}{
		"text":        {"no archive", []byte("hello")},
		"empty":       {"no archive", nil},
		"cut":         {"cut short", good[:len(good)/2]},
		"foreign zip": {"no archive has", repack(t, []string{"word/document.xml"}, map[string][]byte{"word/document.xml": []byte("<a/>")})},
		"no journal":  {"missing", repack(t, []string{"orpine-archive.json"}, map[string][]byte{"orpine-archive.json": []byte("{}")})},
		"path": {"no archive has", spoilt(func(n []string, c map[string][]byte) []string {
			c["../../etc/passwd"] = []byte("x")
			return append(n, "../../etc/passwd")
		})},
		"backslash": {"no archive has", spoilt(func(n []string, c map[string][]byte) []string {
			c[`photos\x.jpg`] = []byte("x")
			return append(n, `photos\x.jpg`)
		})},
		"twice": {"twice", spoilt(func(n []string, _ map[string][]byte) []string { return append(n, "journal.jsonl") })},
		"not listed": {"does not list", spoilt(func(n []string, c map[string][]byte) []string {
			c["csv/more.csv"] = []byte("x")
			return append(n, "csv/more.csv")
		})},
		"missing": {"not in it", spoilt(func(n []string, _ map[string][]byte) []string { return append(n[:1:1], n[2:]...) })},
		"damaged": {"damaged", spoilt(func(n []string, c map[string][]byte) []string {
			c["csv/readings.csv"] = append(c["csv/readings.csv"], 'x')
			return n
		})},
		"a photo that is another": {"another picture", spoilt(func(n []string, c map[string][]byte) []string {
			c[photo(c)] = loft.PNG(t, 3, 3)
			honest(t, n, c)
			return n
		})},
		"bomb": {"larger than is taken", spoilt(func(n []string, c map[string][]byte) []string { c[photo(c)] = zeros; honest(t, n, c); return n })},
		"an entry that was changed": {"not what was sealed", spoilt(func(n []string, c map[string][]byte) []string {
			c["journal.jsonl"] = bytes.Replace(c["journal.jsonl"], []byte("Samphire"), []byte("Samphyre"), 1)
			honest(t, n, c)
			return n
		})},
		"a line that is none": {"cannot be read", spoilt(func(n []string, c map[string][]byte) []string {
			c["journal.jsonl"] = append(c["journal.jsonl"], []byte("{}x\n")...)
			honest(t, n, c)
			return n
		})},
		"another version": {"version 9", spoilt(func(n []string, c map[string][]byte) []string {
			c["orpine-archive.json"] = bytes.Replace(c["orpine-archive.json"], []byte(`"version": 1`), []byte(`"version": 9`), 1)
			return n
		})},
		"a journal that ends elsewhere": {"ends elsewhere", spoilt(func(n []string, c map[string][]byte) []string {
			lines := bytes.SplitAfter(bytes.TrimSuffix(c["journal.jsonl"], []byte("\n")), []byte("\n"))
			c["journal.jsonl"] = bytes.Join(lines[:len(lines)-1], nil)
			honest(t, n, c)
			return n
		})},
	} {
		_, err := archive.Open(bytes.NewReader(c.data), int64(len(c.data)))
		var refused *archive.Refused
		if assert.ErrorAs(t, err, &refused, what) {
			assert.Contains(t, refused.Why, c.says, what)
		}
	}
	assert.Equal(t, before, head(t, to))
}

// What is whole in itself may still not fit: then nothing of it is written.
func TestEntriesThatDoNotStandAreNotTakenInPart(t *testing.T) {
	t.Parallel()
	names, content := members(t, pack(t, loft.Small(t), loft.BenchFrame))
	lines := bytes.SplitAfter(bytes.TrimSuffix(content["journal.jsonl"], []byte("\n")), []byte("\n"))
	content["journal.jsonl"] = append(bytes.Join(lines[1:], nil), '\n') // without the first, that begins the aircraft
	var m archive.Manifest
	require.NoError(t, json.Unmarshal(content["orpine-archive.json"], &m))
	m.Entries--
	var err error
	content["orpine-archive.json"], err = json.Marshal(m)
	require.NoError(t, err)
	honest(t, names, content)
	data := repack(t, names, content)
	to := loft.Empty(t)
	a := open(t, data)
	_, err = archive.Take(t.Context(), to.Ledger, a, archive.Taking{Form: to.Form(), Archive: a.SHA256})
	assert.Contains(t, loft.Problems(t, err)["archive"], "Nothing of it was taken")
	assert.Equal(t, "empty", head(t, to))
}

func TestThereIsNoSuchAircraft(t *testing.T) {
	t.Parallel()
	_, err := archive.Write(t.Context(), loft.Small(t).Ledger, loft.ID("nobody"), io.Discard)
	assert.ErrorIs(t, err, ledger.ErrNotFound)
}

func FuzzOpen(f *testing.F) {
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for name, text := range map[string]string{"orpine-archive.json": `{"format":"orpine.archive","version":1,"scope":"workshop","members":[{"name":"journal.jsonl"}]}`, "journal.jsonl": "{}\n"} {
		w, _ := z.Create(name)
		_, _ = w.Write([]byte(text))
	}
	_ = z.Close()
	f.Add(b.Bytes())
	f.Fuzz(func(t *testing.T, data []byte) {
		_, err := archive.Open(bytes.NewReader(data), int64(len(data)))
		_ = err // it says what is wrong, and does not panic
	})
}

// within are the entries of an archive.
func within(t testing.TB, a *archive.Archive) (all []journal.Entry) {
	t.Helper()
	require.NoError(t, a.Entries(func(e journal.Entry) error { all = append(all, e); return nil }))
	return all
}

// sealed puts entries behind one another, as whoever makes a file can.
func sealed(all []journal.Entry) (out []journal.Entry) {
	last := &journal.Entry{}
	for _, e := range all {
		next := journal.Next(last, e)
		out = append(out, next)
		last = &next
	}
	return out
}

// says is an entry that says what it is told to.
func says(id, kind, request string, at time.Time) journal.Entry {
	return journal.Entry{ID: loft.ID(id), Kind: kind, By: "somebody", At: at, Content: `{"version":1,"request":` + request + `,"facts":{}}`}
}

// Nothing that comes with an aircraft reaches what is here already, nor the people of the shop.
func TestWhatAnArchiveOfAnAircraftMayNotSay(t *testing.T) {
	t.Parallel()
	here := loft.Small(t)
	honest := open(t, pack(t, loft.Demo(t), demo.ID("campion")))
	all := within(t, honest)
	at := all[len(all)-1].At
	for name, e := range map[string]journal.Entry{
		"a withdrawal of another aircraft's hold": says("forged", "withdrawal", fmt.Sprintf(`{"hold":%q,"by":"somebody","why":"so"}`, loft.BenchRivet), at),
		"an aircraft beside the one announced":    says("forged", "airframe", `{"name":"Stowaway","unit":"mm"}`, at),
		"a week of an aircraft that is not in it": says("forged", "plan-week", fmt.Sprintf(`{"airframe":%q}`, loft.BenchFrame), at),
	} {
		before := head(t, here)
		a := open(t, archive.Forge(t, honest, append(slices.Clone(all), journal.Next(&all[len(all)-1], e))))
		look, err := archive.Look(t.Context(), here.Ledger, a)
		require.NoError(t, err, name)
		assert.NotEmpty(t, look.Refused, name)
		_, err = archive.Take(t.Context(), here.Ledger, a, archive.Taking{Form: here.Form(), Archive: a.SHA256})
		assert.Contains(t, loft.Problems(t, err)["archive"], "Nothing of it was taken", name)
		assert.Equal(t, before, head(t, here), name)
	}
	person := says("forged", "person", `{"name":"nobody you know","role":"builder"}`, at)
	to := loft.Empty(t)
	c := take(t, to, archive.Forge(t, honest, append(slices.Clone(all), journal.Next(&all[len(all)-1], person))))
	assert.Equal(t, []archive.Kind{{Name: "person", N: 1}}, c.Left)
	nobody, err := account.New(to.Ledger, nil).Empty(t.Context())
	require.NoError(t, err)
	assert.True(t, nobody, "no account came with an aircraft")
	assert.Contains(t, to.Log(1)[0].Detail, "about people and what they may were left")
}

// rowsOf are all rows of a workshop's record, as text.
func rowsOf(t testing.TB, l *loft.Loft) map[string]bool {
	t.Helper()
	out := map[string]bool{}
	for _, name := range archive.Tables() {
		rows, _, err := archive.Rows(t.Context(), l.Ledger, name, 0, 1<<20)
		require.NoError(t, err)
		for _, r := range rows {
			data, err := json.Marshal(r)
			require.NoError(t, err)
			out[name+string(data)] = true
		}
	}
	return out
}

// Entries are added, dropped and swapped between the archives of two aircraft: whatever is taken
// changes no row that was here.
func TestMixedArchivesReachNothingThatIsNotInThem(t *testing.T) {
	t.Parallel()
	from := loft.Demo(t)
	one, other := open(t, pack(t, from, demo.ID("campion"))), open(t, pack(t, from, demo.ID("samphire")))
	a, b := within(t, one), within(t, other)
	here := loft.Empty(t)
	take(t, here, pack(t, from, demo.ID("samphire")))
	before, at := rowsOf(t, here), head(t, here)
	rnd := rand.New(rand.NewPCG(23, 1))
	for range 40 {
		mixed := slices.Clone(a)
		for range 1 + rnd.IntN(3) {
			i, theirs := rnd.IntN(len(mixed)), b[rnd.IntN(len(b))]
			switch rnd.IntN(4) {
			case 0: // one of the other's comes between, under its own id or a new one
				if rnd.IntN(2) == 0 {
					theirs.ID = uuid.NewString()
				}
				mixed = slices.Insert(mixed, i, theirs)
			case 1:
				mixed = slices.Delete(mixed, i, i+1)
			case 2:
				mixed[i].Content = theirs.Content
				mixed[i].Kind = theirs.Kind
			default: // an id within is another's
				mixed[i].Content = strings.ReplaceAll(mixed[i].Content, a[rnd.IntN(len(a))].ID, theirs.ID)
			}
		}
		came := open(t, archive.Forge(t, one, sealed(mixed)))
		_, err := archive.Take(t.Context(), here.Ledger, came, archive.Taking{Form: here.Form(), Archive: came.SHA256})
		if err != nil {
			assert.NotEmpty(t, loft.Problems(t, err)["archive"])
			assert.Equal(t, at, head(t, here), "whole or not at all")
			continue
		}
		now := rowsOf(t, here)
		for row := range before {
			require.True(t, now[row], "changed or gone: %s", row)
		}
		here = loft.Empty(t)
		take(t, here, pack(t, from, demo.ID("samphire")))
	}
}
