package ui

import (
	"bytes"
	"html/template"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/ledger"
)

// Every action that writes something is drawn for the reader, wherever it stands; what it writes into is
// escaped afterwards, as ever.
func TestEveryActionOfATemplateIsDrawnForItsReader(t *testing.T) {
	t.Parallel()
	text := `{{define "part"}}<i>{{.}}</i>{{end}}<p title="{{.Says}}">{{if .Says}}{{.Says}}{{else}}none{{end}}</p>` +
		`{{range .List}}<b>{{.}}</b>{{else}}-{{end}}{{with .Drawn}}{{.}}{{end}}{{$v := .Says}}{{template "part" $v}}{{.Long}}{{.Number}}{{index .Map "a"}}{{.Missing}}`
	figure := say.Length(25.4)
	view := map[string]any{"Says": "it is " + figure.String() + " <long>", "List": []string{figure.String(), "a & b"}, "Drawn": template.HTML("<svg>" + figure.String() + "</svg>"),
		"Long": figure, "Number": 7, "Map": map[string]string{"a": figure.String()}, "Missing": nil}
	for reader, want := range map[say.Reader]string{
		{}:                              `<p title="it is 25.4 mm &lt;long&gt;">it is 25.4 mm &lt;long&gt;</p><b>25.4 mm</b><b>a &amp; b</b><svg>25.4 mm</svg><i>it is 25.4 mm &lt;long&gt;</i>25.4 mm725.4 mm`,
		{Inches: true}:                  `<p title="it is 1 in &lt;long&gt;">it is 1 in &lt;long&gt;</p><b>1 in</b><b>a &amp; b</b><svg>1 in</svg><i>it is 1 in &lt;long&gt;</i>1 in71 in`,
		{Comma: true, Fahrenheit: true}: `<p title="it is 25,4 mm &lt;long&gt;">it is 25,4 mm &lt;long&gt;</p><b>25,4 mm</b><b>a &amp; b</b><svg>25,4 mm</svg><i>it is 25,4 mm &lt;long&gt;</i>25,4 mm725,4 mm`,
	} {
		page, err := template.New("page").Funcs(template.FuncMap{"said": said(reader)}).Parse(text)
		require.NoError(t, err)
		figured(page)
		var b bytes.Buffer
		require.NoError(t, page.Execute(&b, view))
		assert.Equal(t, want, b.String())
	}
}

func TestABrowserChoosesHowFiguresAreWritten(t *testing.T) {
	t.Parallel()
	assert.Equal(t, say.Reader{}, readerOf(quantity.Millimetre, ""))
	assert.Equal(t, say.Reader{Inches: true, Decimals: true, Comma: true}, readerOf(quantity.Inch, "decimals.comma"))
	assert.Equal(t, say.Reader{Slopes: true, Fahrenheit: true}, readerOf(quantity.Millimetre, "slopes.fahrenheit.unheard-of.."))
	seen := map[string]bool{}
	for _, m := range manners {
		assert.NotEqual(t, say.Reader{}, readerOf(quantity.Millimetre, m.Name), "%s changes something", m.Name)
		assert.False(t, seen[m.Name])
		seen[m.Name] = true
	}
}

// A message belongs to a field: what the page does not say is told at its top, once, as its reader has it.
func TestWhatAPageDoesNotSayIsFound(t *testing.T) {
	t.Parallel()
	wrong := ledger.Problems{"text": "is more than " + say.Length(25.4).String() + " & long", "limits.twist": "low > high", "": "nothing was taken"}
	in := say.Reader{Inches: true}
	assert.Equal(t, []string{"nothing was taken", "limits.twist: low > high"}, unsaid(in, wrong, `<p>is more than 1 in &amp; long</p>`))
	assert.Empty(t, unsaid(in, wrong, `is more than 1 in &amp; long, low &gt; high, nothing was taken`))
	assert.Len(t, unsaid(say.Reader{}, wrong, `is more than 1 in &amp; long`), 3, "in another unit it is not said")
	assert.Empty(t, unsaid(in, nil, ""))
	assert.Empty(t, unsaid(in, ledger.Problems{"a": "+0.3 or −0.3?"}, "&#43;0.3 or −0.3?"), "a plus is written as a number")
}
