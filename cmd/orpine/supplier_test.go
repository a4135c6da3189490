package main

import (
	"context"
	"io"
	"os"
	"regexp"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/supplier"
)

// The supplier of the command line answers on this machine alone, the same for the same seed, and
// stops when it is told to.
func TestTheSupplierAnswersAndStops(t *testing.T) {
	quotes := map[string]supplier.Quote{}
	for _, seed := range []string{"4", "4", "5"} {
		out, in := io.Pipe()
		cmd := root()
		cmd.SetArgs([]string{"supplier", "--listen", "127.0.0.1:0", "--seed", seed})
		cmd.SetOut(in)
		ended := make(chan error, 1)
		go func() { ended <- cmd.ExecuteContext(context.Background()) }()
		said := make([]byte, 200)
		n, err := out.Read(said)
		require.NoError(t, err)
		c, err := supplier.New("counter=" + regexp.MustCompile(`http://[\d.:]+`).FindString(string(said[:n])))
		require.NoError(t, err)
		q, err := c.Quote(t.Context(), supplier.Asked{Item: "rib", Count: 2})
		require.NoError(t, err)
		if before, ok := quotes[seed]; ok {
			assert.Equal(t, before, q)
		}
		quotes[seed] = q
		require.NoError(t, syscall.Kill(os.Getpid(), syscall.SIGINT))
		select {
		case err := <-ended:
			assert.NoError(t, err)
		case <-time.After(10 * time.Second):
			t.Fatal("it did not stop")
		}
	}
	assert.NotEqual(t, quotes["4"], quotes["5"])
	_, err := run(t, "", "supplier", "--listen", "0.0.0.0:0")
	assert.ErrorContains(t, err, "only on this machine")
	_, err = run(t, "", "serve", "--data", t.TempDir(), "--supplier", "counter=http://203.0.113.7:80")
	assert.ErrorContains(t, err, "only a supplier on this machine is asked")
}
