package simulated

import (
	"context"
	"fmt"
	"net/http"
	"net/http/httptest"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/supplier"
)

// An order over the wire: the same id is the same order, it comes no sooner than it was promised,
// says so when it is late, and the box may hold another hand than its label says.
func TestAnOrderOverTheWire(t *testing.T) {
	server := httptest.NewServer(Supplier{Seed: 7}.Handler())
	defer server.Close()
	c, err := supplier.New("parts counter=" + server.URL)
	require.NoError(t, err)
	ctx := context.Background()
	wrong, late, few := 0, 0, 0
	for i := range 200 {
		a := supplier.Asked{ID: fmt.Sprint("order ", i), Item: fmt.Sprint("rib ", i%9), Count: 1 + i%12, Hand: []string{"left", "right", ""}[i%3], Day: "2026-03-02"}
		quote, err := c.Quote(ctx, a)
		require.NoError(t, err)
		first, err := c.Order(ctx, a)
		require.NoError(t, err)
		again, err := c.Order(ctx, a)
		require.NoError(t, err)
		assert.Equal(t, first, again)
		assert.Equal(t, quote, first.Quote)
		_, err = c.Parcel(ctx, first.Ref, "2026-03-02")
		assert.ErrorContains(t, err, "it has not come yet")
		end, err := c.Standing(ctx, first.Ref, "2027-01-01", "")
		require.NoError(t, err)
		require.NotEmpty(t, end.Delivered)
		assert.GreaterOrEqual(t, end.Delivered, first.Promised)
		assert.Less(t, end.Sent, end.Delivered)
		if end.Delivered > first.Promised {
			late++
			on, err := time.Parse(time.DateOnly, first.Promised)
			require.NoError(t, err)
			told, err := c.Standing(ctx, first.Ref, on.AddDate(0, 0, -1).Format(time.DateOnly), "")
			require.NoError(t, err)
			assert.Equal(t, end.Delivered, told.Promised, "it says so the day before")
		}
		parcel, err := c.Parcel(ctx, first.Ref, end.Delivered)
		require.NoError(t, err)
		if a.Hand == "" {
			assert.Empty(t, parcel.Looks)
		} else if assert.Contains(t, parcel.Label, a.Hand, "the label always says what was ordered"); parcel.Looks != "laid with its flange up, its nose points to the "+a.Hand {
			wrong++
		}
		if parcel.Pieces < a.Count {
			few++
		}
	}
	assert.InDelta(t, 0.25*133, wrong, 18)
	assert.InDelta(t, 100, late, 30)
	assert.Positive(t, few)
	order, err := c.Order(ctx, supplier.Asked{ID: "back", Item: "rib", Day: "2026-03-02"})
	require.NoError(t, err)
	credited, err := c.Standing(ctx, order.Ref, "2026-05-20", "2026-05-10")
	require.NoError(t, err)
	assert.Equal(t, "2026-05-19", credited.Credited)
}

func TestWhatIsNoOrderIsRefused(t *testing.T) {
	server := httptest.NewServer(Supplier{Seed: 7}.Handler())
	c, err := supplier.New("shop=" + server.URL + "/")
	require.NoError(t, err)
	ctx := context.Background()
	for says, a := range map[string]supplier.Asked{"an item": {ID: "1", Day: "2026-03-02"}, "an id and the day": {Item: "rib"}, "left or right": {ID: "1", Item: "rib", Hand: "both", Day: "2026-03-02"}} {
		_, err := c.Order(ctx, a)
		assert.ErrorContains(t, err, says)
	}
	_, err = c.Standing(ctx, "nonsense", "2026-03-02", "")
	assert.ErrorContains(t, err, "there is no such order")
	order, err := c.Order(ctx, supplier.Asked{ID: "1", Item: "rib", Day: "2026-03-02"})
	require.NoError(t, err)
	_, err = c.Standing(ctx, order.Ref, "someday", "")
	assert.ErrorContains(t, err, "on which day")
	answer, err := http.Post(server.URL+"/orders", "application/json", nil)
	require.NoError(t, err)
	answer.Body.Close()
	assert.Equal(t, http.StatusUnprocessableEntity, answer.StatusCode)
	answer, err = http.Get(server.URL + "/secrets")
	require.NoError(t, err)
	answer.Body.Close()
	assert.Equal(t, http.StatusNotFound, answer.StatusCode)
	server.Close()
	_, err = c.Quote(ctx, supplier.Asked{Item: "rib"})
	assert.ErrorIs(t, err, supplier.ErrAway)
	for _, at := range []string{"http://127.0.0.1:1", "shop=https://127.0.0.1", "shop=http://192.0.2.1:80", "=http://127.0.0.1:1", "shop=http://elsewhere:80"} {
		_, err := supplier.New(at)
		assert.Error(t, err, at)
	}
}

// A supplier that answers nonsense is named, and nothing of it is taken.
func TestASupplierThatAnswersNonsense(t *testing.T) {
	says, status := "", http.StatusOK
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { w.WriteHeader(status); fmt.Fprint(w, says) }))
	defer server.Close()
	c, err := supplier.New("shop=" + server.URL)
	require.NoError(t, err)
	for _, one := range []struct {
		says   string
		status int
		want   string
	}{{"<html>", 200, "cannot be read"}, {`{"price": "much"}`, 200, "cannot be read"}, {`{"error": "closed on Mondays"}`, 422, "shop refuses: closed on Mondays"}, {"", 500, "500"}} {
		says, status = one.says, one.status
		_, err := c.Order(context.Background(), supplier.Asked{ID: "1", Item: "rib", Day: "2026-03-02"})
		assert.ErrorContains(t, err, one.want)
	}
}
