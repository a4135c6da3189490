package ledger

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/store/query"
)

// A kind that does not say who may make its entries, or what it has to do with what becomes permanent,
// is refused.
func TestAKindThatSaysNothingIsRefused(t *testing.T) {
	t.Parallel()
	toy := func(takes Rights, bears Bearing) error {
		_, err := register([]Capability{{Name: "toy", Kinds: Kinds(&Kind[struct{}, struct{}]{Name: "toy", Version: 1, Takes: takes, Bears: bears,
			Apply: func(context.Context, *query.Queries, Entry, struct{}, struct{}) error { return nil }, Words: func(struct{}, struct{}) Words { return Words{} }})}})
		return err
	}
	require.NoError(t, toy(Rights{Work}, Evidence))
	assert.ErrorContains(t, toy(nil, Evidence), "who may make its entries")
	assert.ErrorContains(t, toy(Rights{Work}, 0), "what becomes permanent")
	assert.ErrorContains(t, toy(Rights{Work}, Permanent), "permanent and not what")
}

// Where nobody signs in nobody is asked; who signed in is.
func TestAnAuthorIsAskedForARight(t *testing.T) {
	t.Parallel()
	require.NoError(t, Author{}.takes(Rights{Keeping}))
	helper := Author{Name: "helper", May: func(any ...Right) bool { return len(any) > 0 && any[0] == Work }}
	require.NoError(t, helper.takes(Rights{Work, Make}))
	assert.ErrorContains(t, helper.takes(Rights{Make}), "not yours to do, helper")
}
