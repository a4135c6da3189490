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
func (c *Checker) Start() {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.last.Running {
		return
	}
	c.last.Running = true
	go func() {
		report, err := c.ledger.Verify(context.Background())
		c.mu.Lock()
		defer c.mu.Unlock()
		c.last = Checked{At: c.ledger.Now(), Report: report, Err: err}
	}()
}
