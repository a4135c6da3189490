package ui

import (
	"errors"
	"fmt"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Five hundred lines on one sheet draw a change once for each who sees something else of it.
func TestAChangeIsDrawnOnceForAllWhoSeeTheSame(t *testing.T) {
	var d drawings
	var drawn atomic.Int64
	for seq := range int64(3) {
		var all sync.WaitGroup
		for i := range 500 {
			all.Go(func() {
				role := []string{"builder", "helper"}[i%2]
				part, err := d.of("sheet", "1|"+role, seq, func() ([]byte, error) {
					drawn.Add(1)
					return fmt.Append(nil, role, seq), nil
				})
				assert.NoError(t, err)
				assert.Equal(t, fmt.Sprint(role, seq), string(part))
			})
		}
		all.Wait()
	}
	assert.EqualValues(t, 6, drawn.Load(), "three changes, two roles")
	d.drop("sheet")
	assert.Empty(t, d.all)
}

// What failed for one who left is not what the others are told, nor is a name in a field.
func TestWhatIsSomebodysOwnIsNotShared(t *testing.T) {
	var d drawings
	part := func(says string, err error) []byte {
		out, _ := d.of("sheet", "1", 7, func() ([]byte, error) { return []byte(says), err })
		return out
	}
	part("", errors.New("they left"))
	assert.Equal(t, "whole", string(part("whole", nil)))
	d.drop("sheet")
	part(`<input name="by" value="one">`, nil)
	assert.Contains(t, string(part(`<input name="by" value="other">`, nil)), "other")
	d.drop("sheet")
	part("later", nil)
	old, err := d.of("sheet", "1", 6, func() ([]byte, error) { return []byte("older"), nil })
	assert.NoError(t, err)
	assert.Equal(t, "later", string(old), "who asks with an older head sees what is there")
}
