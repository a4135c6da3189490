package worksheet

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// document wraps the body of one check, and instruments, into a worksheet.
func document(check string) []byte {
	return []byte(`{"format":"orpine.worksheet","version":1,"instruments":{
		"level":{"measures":"angle","resolution":0.05,"spread":0.03},
		"tape":{"measures":"length","resolution":"1/32 in"}},"checks":[` + check + `]}`)
}

func paths(errs []Error) []string {
	var out []string
	for _, e := range errs {
		out = append(out, e.Path)
	}
	return out
}

func TestEveryErrorIsFoundWithItsPath(t *testing.T) {
	t.Parallel()
	tests := []struct {
		name, doc string
		want      []string
	}{
		{"empty", ``, []string{""}},
		{"not json", `{"format":`, []string{""}},
		{"a list", `[]`, []string{""}},
		{"two documents", `{} {}`, []string{""}},
		{"nothing in it", `{}`, []string{"format", "version", "checks"}},
		{"other format", `{"format":"x","version":2,"checks":{}}`, []string{"format", "version", "checks"}},
		{"top level", `{"format":"orpine.worksheet","version":1,"checks":[],"titel":"x","units":{"length":"cm","angle":"rad"},"decision":{"rule":"hope","coverage":0}}`,
			[]string{"titel", "units.length", "units.angle", "decision.rule", "decision.coverage"}},
		{"repeated field", `{"format":"orpine.worksheet","version":1,"version":1,"checks":[]}`, []string{"version"}},
		{"deep", strings.Repeat("[", 100_000), []string{""}},
		{"instruments", `{"format":"orpine.worksheet","version":1,"checks":[],"instruments":{"a":{"resolution":-1},"b":{"measures":"weight","spread":"0.08 R"},"c":3,"d":{"measures":"length","colour":"red"}}}`,
			[]string{"instruments.a.measures", "instruments.a.resolution", "instruments.b.measures", "instruments.b.spread", "instruments.c", "instruments.d.colour"}},
		{"checks", string(document(`3, {"kind":"level"}, {"name":"x"}, {"name":"x","kind":"leval"}`)),
			[]string{"checks[0]", "checks[1].name", "checks[1].datum", "checks[1].part", "checks[1].span", "checks[2].kind", "checks[3].kind"}},
		{"readings", string(document(`{"name":"x","kind":"level","instrument":"levl","span":"9 ft","datum":{"value":1,"values":[1]},"part":{"values":[],"turned":1,"tunred":true}}`)),
			[]string{"checks[0].instrument", "checks[0].datum", "checks[0].part.values", "checks[0].part.turned", "checks[0].part.tunred"}},
		{"one placing of several", string(document(`{"name":"x","kind":"level","span":2880,"datum":{"values":[0.1,"0.2 up"]},"part":{"instrument":"tape","value":true}}`)),
			[]string{"checks[0].datum.values[1]", "checks[0].part.value", "checks[0].part.instrument"}},
		{"limits", string(document(`{"name":"x","kind":"level","span":2880,"datum":0,"part":0,"limits":{"roll":{"low":"0.1 R","high":"0.1 L"},"yaw":{"low":1},"tip_difference":{}}}`)),
			[]string{"checks[0].limits.roll", "checks[0].limits.yaw", "checks[0].limits.tip_difference"}},
		{"kind's own refusals beside others", string(document(`{"name":"x","kind":"twist","held":true,"stations":[{"name":"a","y":-1,"angle":0,"support":"x"},{"name":"a","y":100,"front":1},{"name":"c","y":200,"angle":1,"front":2}]}`)),
			[]string{"checks[0].stations[0].support", "checks[0].stations[0].y", "checks[0].stations[1].name", "checks[0].stations[1].rear", "checks[0].stations[1].support", "checks[0].stations[2].support", "checks[0].stations[2]"}},
		{"stock", string(document(`{"name":"x","kind":"shim-stack","needed":1,"stock":[0,1],"pieces":7}`)), []string{"checks[0].stock[0]", "checks[0].pieces"}},
		{"no pieces", string(document(`{"name":"x","kind":"shim-stack","needed":1e999,"stock":"1 mm","pieces":0}`)), []string{"checks[0].needed", "checks[0].stock", "checks[0].pieces"}},
		{"beyond", string(document(`{"name":"x","kind":"level","span":1000001,"datum":361,"part":0}`)), []string{"checks[0].span", "checks[0].datum"}},
	}
	for _, test := range tests {
		t.Run(test.name, func(t *testing.T) {
			doc, errs := Parse([]byte(test.doc))
			assert.Nil(t, doc)
			assert.ElementsMatch(t, test.want, paths(errs))
			for _, e := range errs {
				assert.NotEmpty(t, e.Message)
			}
		})
	}
}

func TestInchesAndFeetInADocumentInInches(t *testing.T) {
	t.Parallel()
	doc, errs := Parse([]byte(`{"format":"orpine.worksheet","version":1,"units":{"length":"in"},"checks":[{"name":"x","kind":"length","measured":["64 5/16",1,"25.4 mm"],"design":66.3125}]}`))
	require.Empty(t, errs)
	q, _ := doc.Solve()[0].Quantity("length")
	assert.InDelta(t, 66.3125*25.4, q.Value, 1e-9)
}

func TestBoundsOfADocument(t *testing.T) {
	t.Parallel()
	_, errs := Parse(bytes.Repeat([]byte("x"), MaxBytes+1))
	assert.Equal(t, []string{""}, paths(errs))

	check := `{"name":"x","kind":"length","measured":1,"design":1}`
	_, errs = Parse(document(strings.Repeat(check+",", MaxChecks) + check))
	assert.Equal(t, []string{"checks"}, paths(errs))

	measured := "[" + strings.Repeat("1,", MaxReadings-1) + "1]"
	_, errs = Parse(document(`{"name":"x","kind":"length","measured":` + measured + `,"design":1}`))
	assert.Empty(t, errs)
	_, errs = Parse(document(`{"name":"x","kind":"length","measured":` + measured[:len(measured)-1] + `,1],"design":1}`))
	assert.Equal(t, []string{fmt.Sprintf("checks[0].measured[%d]", MaxReadings)}, paths(errs))
}

// garbage is a megabytes-long text of JSON pieces in no order.
func garbage(size int) []byte {
	random := rand.New(rand.NewPCG(9, 10))
	pieces := []string{"{", "}", "[", "]", ":", ",", `"checks"`, `"format"`, "1e999", "-", "null", `"\ud800"`, "\xff", "\x00", `{"a":1,"a":2}`, `[[`}
	var b bytes.Buffer
	b.WriteString(`{"format":"orpine.worksheet","version":1,"checks":[`)
	for b.Len() < size {
		b.WriteString(pieces[random.IntN(len(pieces))])
	}
	return b.Bytes()[:size]
}

func TestMegabytesOfGarbageAreAnErrorAndNotAPanic(t *testing.T) {
	t.Parallel()
	_, errs := Parse(garbage(MaxBytes))
	assert.NotEmpty(t, errs)
	_, errs = Parse(document(strings.Repeat("3,", MaxChecks-1) + "3"))
	assert.Len(t, errs, MaxChecks)
	wide := `{"format":"orpine.worksheet","version":1,"checks":[` + strings.Repeat(`{},`, 900_000) + `{}]}`
	_, errs = Parse([]byte(wide))
	assert.NotEmpty(t, errs)
}

// largest is a check of as many points as a document may hold, unsure, so that
// the placings are sought as well.
func largest(points int) []byte {
	random := rand.New(rand.NewPCG(11, 12))
	var b strings.Builder
	b.WriteString(`{"name":"x","kind":"bench","instrument":"tape2","limits":{"flatness":{"high":6.2}},"points":[`)
	for i := range points {
		if i > 0 {
			b.WriteByte(',')
		}
		fmt.Fprintf(&b, `{"name":"p%d","x":%d,"y":%d,"height":%.1f}`, i, 10*(i/2), 700*(i%2), 6*random.Float64())
	}
	b.WriteString(`]}`)
	return bytes.Replace(document(b.String()), []byte(`"tape":`), []byte(`"tape2":{"measures":"length","resolution":0.5,"offset":1,"spread":0.3},"tape":`), 1)
}

func TestTheLargestCheckIsSolved(t *testing.T) {
	t.Parallel()
	if testing.Short() {
		t.Skip("takes seconds")
	}
	doc, errs := Parse(largest(MaxReadings))
	require.Empty(t, errs)
	q, ok := doc.Solve()[0].Quantity("flatness")
	require.True(t, ok)
	assert.NotZero(t, q.U)
}

func FuzzWorksheet(f *testing.F) {
	cases, _ := filepath.Glob("testdata/cases/*.json")
	bad, _ := filepath.Glob("testdata/cases/bad/*.json")
	for _, path := range append(cases, bad...) {
		data, err := os.ReadFile(path)
		if err != nil {
			f.Fatal(err)
		}
		start := bytes.Index(data, []byte(`"worksheet":`)) + len(`"worksheet":`)
		f.Add(bytes.TrimSpace(data[start:bytes.LastIndexByte(data, '}')]))
		if i := bytes.LastIndex(data, []byte(`"expect":`)); i > 0 {
			f.Add(bytes.TrimRight(data[start:i], ", \n"))
		}
	}
	examples, _ := filepath.Glob("../../docs/examples/*.json")
	for _, path := range examples {
		data, err := os.ReadFile(path)
		if err != nil {
			f.Fatal(err)
		}
		f.Add(data)
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		doc, errs := Parse(data)
		if len(errs) > 0 {
			if doc != nil {
				t.Fatal("a document and errors")
			}
			return
		}
		if _, err := EncodeResults(doc.Solve()); err != nil {
			t.Fatal(err) // a NaN or an infinity among the results
		}
	})
}

func BenchmarkSolveWorksheetOf200Readings(b *testing.B) {
	data := largest(200)
	for b.Loop() {
		doc, _ := Parse(data)
		doc.Solve()
	}
}

// A document that is there as a value is read as its text is.
func TestADocumentIsReadAsItsTextIs(t *testing.T) {
	t.Parallel()
	paths, err := filepath.Glob("../../docs/examples/*.json")
	require.NoError(t, err)
	for _, path := range paths {
		data, err := os.ReadFile(path)
		require.NoError(t, err)
		var value map[string]any
		require.NoError(t, json.Unmarshal(data, &value))
		parsed, errs := Parse(data)
		require.Empty(t, errs, path)
		read, errs := Read(value)
		require.Empty(t, errs, path)
		a, err := EncodeResults(parsed.Solve())
		require.NoError(t, err)
		b, err := EncodeResults(read.Solve())
		require.NoError(t, err)
		assert.JSONEq(t, string(a), string(b), path)
	}
	_, errs := Read(map[string]any{"checks": make(chan int)})
	assert.NotEmpty(t, errs)
}
