package tree_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/tree"
)

func TestADocumentIsReadWithItsPlaces(t *testing.T) {
	t.Parallel()
	var twice []string
	n, err := tree.Parse([]byte(`{"b":[1,"x",null,true,{"c":1,"c":2}],"a":{}}`), func(path, message string) { twice = append(twice, path+" "+message) })
	require.NoError(t, err)
	assert.True(t, n.IsObject())
	assert.Equal(t, []string{"b", "a"}, []string{n.Members[0].Name, n.Members[1].Name}, "in their order")
	list := n.Member("b")
	assert.True(t, list.IsArray())
	var what []string
	for _, item := range list.Items {
		what = append(what, item.What())
	}
	assert.Equal(t, []string{"a number", "text", "null", "true or false", "an object"}, what)
	assert.True(t, list.Items[2].IsNull())
	assert.Equal(t, []string{"b[4].c is given twice"}, twice)
	assert.Nil(t, n.Member("z"))
	assert.Equal(t, "a.b", tree.Join("a", "b"))
	assert.Equal(t, "b", tree.Join("", "b"))
}

func TestNonsenseIsSoonRefused(t *testing.T) {
	t.Parallel()
	for text, says := range map[string]string{
		"": "ends too early", `{"a":`: "ends too early", `{"a":1} 2`: "something follows", `{a}`: "not a JSON document",
		strings.Repeat("[", 40): "deep", "[" + strings.Repeat("1,", 1_000_001) + "1]": "more than 1000000 values",
	} {
		_, err := tree.Parse([]byte(text), func(string, string) {})
		assert.ErrorContains(t, err, says)
	}
}

func TestAValueThatIsThereAlready(t *testing.T) {
	t.Parallel()
	n, err := tree.Of(map[string]any{"b": []any{1.5, "x"}, "a": 2, "c": []string{"y"}, "d": nil})
	require.NoError(t, err)
	assert.Equal(t, "a", n.Members[0].Name, "by name")
	assert.Len(t, n.Member("b").Items, 2)
	_, err = tree.Of(map[string]any{"a": struct{}{}})
	assert.ErrorContains(t, err, "no JSON form")
}
