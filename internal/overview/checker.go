package overview

import (
	"context"
	"sync"
	"time"

	"orpine/internal/ledger"
)

// Checker verifies a workshop in the background, and keeps the last result.
type Checker struct {
	ledger *ledger.Ledger

	mu   sync.Mutex
	last Checked
}

// Checked is a verification: running, or its result.
type Checked struct {
	Running bool
	At      time.Time // when it ended; the zero time for never
	Report  ledger.Report
	Err     error
}

// Last is the last result, or that one is running.
func (c *Checker) Last() Checked {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.last
}

// Start begins a verification, unless one is running.
func (c *Checker) Start() { go c.Run(context.Background()) }

// Run verifies, and returns when it is done; false where one was running.
func (c *Checker) Run(ctx context.Context) bool {
	c.mu.Lock()
	if c.last.Running {
		c.mu.Unlock()
		return false
	}
	c.last.Running = true
	c.mu.Unlock()
	report, err := c.ledger.Verify(ctx)
	c.mu.Lock()
	defer c.mu.Unlock()
	c.last = Checked{At: c.ledger.Now(), Report: report, Err: err}
	return true
}
