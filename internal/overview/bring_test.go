package overview_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/airframe"
	"orpine/internal/demo"
	"orpine/internal/overview"
	"orpine/internal/planning"
	"orpine/test/loft"
)

// bring tries a table, and takes it.
func bring(t *testing.T, l *loft.Loft, sort, data string) (tried, taken overview.Brought) {
	t.Helper()
	n := overview.Bringing{Form: l.Form(), Airframe: loft.BenchFrame, Sort: sort, Data: data}
	before := l.Verify()
	tried, err := l.Bring(t.Context(), n, false)
	require.NoError(t, err)
	assert.Equal(t, before, l.Verify(), "a look writes nothing")
	taken, err = l.Bring(t.Context(), n, true)
	require.NoError(t, err)
	if len(taken.Wrong) > 0 {
		assert.Equal(t, before, l.Verify(), "a wrong line stops all of them")
		return tried, taken
	}
	after := l.Verify()
	_, err = l.Bring(t.Context(), n, true) // the answer was lost
	require.NoError(t, err)
	assert.Equal(t, after, l.Verify(), "the same table twice is once")
	return tried, taken
}

func says(b overview.Brought) string {
	var out []string
	for _, l := range b.Lines {
		out = append(out, l.What+": "+l.Says)
	}
	return strings.Join(out, "\n")
}

func TestTablesAreTriedLineByLineAndTakenOnce(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	for _, c := range []struct{ sort, data, want string }{
		{"parts", "number,name,hand,lot,place\nT-1,rib,left,7,shelf A\nT-1,rib,left,7,shelf A\nT-2,'=clip,right,8,\n", "new: T-1, rib\nsame: it says what line 2 says\nnew: T-2, =clip"},
		{"parts", "number;name;hand;lot;place;colour\nT-1;rib;left;7;shelf B;red\n", "left out: the column “colour” is not read\nchange: T-1, rib: place “shelf A” becomes “shelf B”"},
		{"stock", "sort,name,number\nrivet,solid 1/8 x 1/4 in,200\n", "new: solid 1/8 x 1/4 in: 200 counted"},
		{"stock", "sort,name,number\nrivet,solid 1/8 x 1/4 in,150\n", "change: solid 1/8 x 1/4 in: counted 150, last time 200"},
		{"steps", "step\n\"Prime the ribs, 2 h\"\n", "new: Prime the ribs, 2 h"},
		{"steps", "step,state\nPrime the ribs,done\n", "change: Prime the ribs: open becomes done"},
		{"orders", "name,supplier,days\ncowl,the kit maker,30\n", "new: cowl from the kit maker"},
		{"orders", "name,supplier,asked\ncowl,the kit maker,2026-05-01\n", "change: cowl: asked “” becomes “2026-05-01”"},
	} {
		tried, taken := bring(t, l, c.sort, c.data)
		assert.Equal(t, c.want, says(tried), c.sort)
		assert.Equal(t, c.want, says(taken), c.sort)
	}
}

func TestReadingsAndHolesComeByTheRulesOfTheirSheets(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 4)
	setup := l.SetupOf(loft.BenchSetup)
	spot := setup.Checks[0].Spots[0]
	line := strings.Join([]string{setup.Title(), setup.Checks[0].Name, spot.Point, "11 mm", "rule"}, ",")
	tried, taken := bring(t, l, "readings", "setup,check,point,as typed,instrument\n"+line+"\n")
	assert.Equal(t, says(tried), says(taken))
	assert.Contains(t, says(taken), "11 mm")
	assert.Len(t, l.SetupOf(loft.BenchSetup).Checks[0].Spots[0].Counting(), 1)
	tried, _ = bring(t, l, "readings", "setup,check,point,as typed,instrument\n"+line+"\n")
	assert.Contains(t, says(tried), "same:")

	name := l.RowOf(loft.BenchRow).Name
	tried, taken = bring(t, l, "holes", "row,hole,done\n"+name+",1,set\n")
	assert.NotEmpty(t, taken.Wrong, "a hole is not set before its hold is released: %s", says(tried))
}

func TestAWrongLineStopsAllAndIsNamed(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	for _, c := range []struct{ sort, data, want string }{
		{"parts", "", "it is empty"},
		{"parts", "name\nrib\n", "no column “number”"},
		{"parts", "number,name,hand\nA-1,rib,left\nA-2,rib,upwards\n", "line 3"},
		{"parts", "number,name,assembly\nA-1,rib,Moon\n", "there is no “Moon” here"},
		{"stock", "sort,name,number\nrivet,solid,many\n", "A whole number"},
		{"readings", "setup,check,as typed,instrument\nnowhere,x,1,rule\n", "there is no setup"},
		{"holes", "row,hole,done\nnowhere,1,set\n", "there is no row"},
		{"orders", "name,supplier,promised\ncowl,the kit maker,some day\n", "line 2"},
		{"steps", "step\n\n\"\",\n", ""},
	} {
		_, taken := bring(t, l, c.sort, c.data)
		assert.Contains(t, strings.Join(taken.Wrong, "\n"), c.want)
	}
	_, err := l.Bring(t.Context(), overview.Bringing{Form: l.Form(), Airframe: loft.BenchFrame, Sort: "people"}, false)
	assert.Contains(t, loft.Problems(t, err)["sort"], "which table")
}

// A setup goes out as a worksheet and comes in as a setup that says the same.
func TestAWorksheetGoesOutAndComesIn(t *testing.T) {
	t.Parallel()
	from, to := loft.Demo(t), loft.Bench(t, 4)
	for _, name := range []string{"tailplane on rails", "fin upright", "mount pads", "spar left", "aileron rib"} {
		was := from.SetupOf(demo.ID(name))
		n := overview.BringingWorksheet{Form: to.Form(), Assembly: loft.BenchBoom, Name: name, Data: string(from.Worksheet(demo.ID(name)))}
		before := to.Verify()
		tried, err := to.BringWorksheet(t.Context(), n, false)
		require.NoError(t, err)
		require.Empty(t, tried.Wrong, name)
		assert.Equal(t, before, to.Verify())
		_, err = to.BringWorksheet(t.Context(), n, true)
		require.NoError(t, err)
		is := to.SetupOf(n.ID)
		require.Len(t, is.Checks, len(was.Checks), name)
		for i, c := range was.Checks {
			if c.Result == nil {
				continue
			}
			require.NotNil(t, is.Checks[i].Result, "%s: %v", name, is.Checks[i].Problems)
			for k, q := range c.Result.Quantities {
				assert.InDelta(t, q.Value, is.Checks[i].Result.Quantities[k].Value, 1e-9, "%s, %s", name, q.Name)
			}
		}
		after := to.Verify()
		_, err = to.BringWorksheet(t.Context(), n, true)
		require.NoError(t, err)
		assert.Equal(t, after, to.Verify(), "the same once more is once")
	}
	bad, err := to.BringWorksheet(t.Context(), overview.BringingWorksheet{Form: to.Form(), Assembly: loft.BenchBoom, Name: "x", Data: "{}"}, true)
	require.NoError(t, err)
	assert.NotEmpty(t, bad.Wrong)
}

// A plan goes out of Order and comes into another order of work, which says the same of its steps.
func TestAPlanGoesOutAndComesIn(t *testing.T) {
	t.Parallel()
	from, to := loft.Demo(t), loft.Empty(t)
	require.NoError(t, to.Airframes.Add(t.Context(), airframe.NewAirframe{Form: loft.Named("frame"), Name: "Samphire S2", Unit: "mm"}))
	was, err := from.Order(t.Context(), demo.ID("samphire"))
	require.NoError(t, err)
	data, err := json.Marshal(was.Plan.Document("Europe/Berlin"))
	require.NoError(t, err)
	n := overview.BringingPlan{Form: to.Form(), Airframe: loft.ID("frame"), Data: string(data)}
	before := to.Verify()
	tried, err := to.BringPlan(t.Context(), n, false)
	require.NoError(t, err)
	require.Empty(t, tried.Wrong)
	assert.Equal(t, before, to.Verify(), "a look writes nothing")
	_, err = to.BringPlan(t.Context(), n, true)
	require.NoError(t, err)
	is, err := to.Order(t.Context(), loft.ID("frame"))
	require.NoError(t, err)
	require.Len(t, is.Own, len(was.Plan.Steps))
	byName := map[string]planning.Step{}
	for _, s := range is.Own {
		byName[s.Name] = s
	}
	for i, s := range was.Plan.Steps {
		got, ok := byName[s.Name]
		require.True(t, ok, s.Name)
		assert.Equal(t, s.State, got.State, s.Name)
		assert.Equal(t, planning.Hours{Low: s.Low, Likely: s.Likely, High: s.High}, got.Hours)
		settled, _ := was.Plan.Settled()
		assert.Len(t, got.After, len(settled.Steps[i].After), s.Name)
		assert.Len(t, got.Needs, len(s.Needs), s.Name)
	}
	after := to.Verify()
	_, err = to.BringPlan(t.Context(), n, true)
	require.NoError(t, err)
	assert.Equal(t, after, to.Verify(), "the answer was lost: once")
	n.Form = to.Form()
	tried, err = to.BringPlan(t.Context(), n, true)
	require.NoError(t, err)
	news, _, _ := tried.Counts()
	assert.Zero(t, news, "all of it is here")
	assert.Equal(t, after, to.Verify())
	bad, err := to.BringPlan(t.Context(), overview.BringingPlan{Form: to.Form(), Airframe: loft.ID("frame"), Data: "{}"}, true)
	require.NoError(t, err)
	assert.NotEmpty(t, bad.Wrong)
}
