package account_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"orpine/internal/account"
)

func TestNamesThatAnEyeTakesForOne(t *testing.T) {
	t.Parallel()
	for _, like := range []string{"inspector", "INSPECTOR", "inspectоr", "inspec\u200btor", "ｉｎｓｐｅｃｔｏｒ", " inspector ", "ínspector", "inspect0r"} {
		assert.True(t, account.SameName("inspector", like), "%q", like)
	}
	assert.True(t, account.SameName("the  builder", "the\u00a0builder"))
	for _, other := range [][2]string{{"builder", "helper"}, {"Ann", "Anna"}, {"builder 2", "builder 3"}, {"Иван", "Петр"}} {
		assert.False(t, account.SameName(other[0], other[1]), "%v", other)
	}
}
