package overview

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"sync"
	"time"

	"orpine/internal/ledger"
)

// Keeper looks after a workshop while it is served: it verifies it soon after the start and each
// night, copies it, and knows what whoever works there must be told.
type Keeper struct {
	ledger *ledger.Ledger
	checks *Checker

	mu     sync.Mutex
	copies string // directory of copies; "" for none
	last   time.Time
	wrong  error // of the last copy
}

// Of the keeper's round.
const (
	firstCheck = 30 * time.Second // after the start, when those who came first are served
	nightHour  = 3
	keptCopies = 14
	// CopyOld is the age from which the last good copy is called old.
	CopyOld = 3 * 24 * time.Hour
	restful = 5 * time.Second // without an entry, until the file is settled
)

// Keep looks after the workshop until the context ends. copies is the directory of copies, "" for
// none.
func (k *Keeper) Keep(ctx context.Context, copies string, log *slog.Logger) {
	k.mu.Lock()
	k.copies = copies
	k.mu.Unlock()
	k.lookForCopy()
	check, settle := time.NewTimer(firstCheck), time.NewTicker(restful)
	defer check.Stop()
	defer settle.Stop()
	var written, settled int64
	for {
		select {
		case <-ctx.Done():
			return
		case <-check.C:
			k.Round(ctx, log)
			check.Reset(untilNight(k.ledger.Now()))
		case <-settle.C:
			now := k.ledger.Entries()
			if now == written && now != settled && k.ledger.Halted() == nil {
				if err := k.ledger.Settle(ctx); err != nil {
					log.Error("settling", "error", err)
				}
				settled = now
			}
			written = now
		}
	}
}

// untilNight is how long it still is until the next night's round. A day on which the clock is
// changed has 23 or 25 hours: it is counted to the hour, not by 24.
func untilNight(now time.Time) time.Duration {
	next := time.Date(now.Year(), now.Month(), now.Day(), nightHour, 0, 0, 0, now.Location())
	if !next.After(now) {
		next = time.Date(now.Year(), now.Month(), now.Day()+1, nightHour, 0, 0, 0, now.Location())
	}
	return max(next.Sub(now), time.Minute)
}

// Round verifies the workshop and copies it. Damage stops writing: what is damaged must not grow,
// and is copied nowhere over what is whole.
func (k *Keeper) Round(ctx context.Context, log *slog.Logger) {
	if !k.checks.Run(ctx) {
		return
	}
	var damage *ledger.Damage
	if err := k.checks.Last().Err; errors.As(err, &damage) {
		log.Error("the workshop is damaged", "error", err)
		k.ledger.Halt(damage)
		return
	}
	if k.directory() == "" {
		return
	}
	if last, err := k.ledger.LastCopy(k.directory()); err == nil && k.ledger.Now().Sub(last) < 20*time.Hour {
		return
	}
	if _, err := k.Copy(ctx); err != nil {
		log.Error("copying the workshop", "error", err)
	}
}

func (k *Keeper) directory() string {
	k.mu.Lock()
	defer k.mu.Unlock()
	return k.copies
}

// Copy makes a copy now.
func (k *Keeper) Copy(ctx context.Context) (ledger.Copied, error) {
	dir := k.directory()
	if dir == "" {
		return ledger.Copied{}, ledger.Problems{"": "no directory of copies is named: start Orpine with --copies DIR, on another disk"}
	}
	c, err := k.ledger.Copy(ctx, dir, keptCopies)
	k.mu.Lock()
	k.wrong = err
	k.mu.Unlock()
	k.lookForCopy()
	return c, err
}

func (k *Keeper) lookForCopy() {
	dir := k.directory()
	if dir == "" {
		return
	}
	last, err := k.ledger.LastCopy(dir)
	k.mu.Lock()
	defer k.mu.Unlock()
	if err == nil {
		k.last = last
	} else {
		k.wrong = err
	}
}

// Copies tells where copies go and when the last good one was made.
func (k *Keeper) Copies() (dir string, last time.Time, wrong error) {
	k.mu.Lock()
	defer k.mu.Unlock()
	return k.copies, k.last, k.wrong
}

// Alarms are what whoever works in the shop must be told on every sheet.
func (w *Workshop) Alarms() (out []string) {
	if why := w.Ledger.Halted(); why != nil {
		out = append(out, "Nothing can be entered: "+why.Error()+". What is there can be read.")
	} else if err := w.Checks.Last().Err; err != nil {
		out = append(out, "The record could not be checked: "+err.Error()+".")
	}
	if last, behind := w.Ledger.Behind(); behind {
		out = append(out, fmt.Sprintf("The clock of this machine says %s, and the last entry was made at %s: one of the two is wrong. Set the clock before anything that counts time; entries keep their order.", w.Ledger.Now().Format("2 January 2006 15:04"), last.Format("2 January 2006 15:04")))
	}
	if dir, last, wrong := w.Keeper.Copies(); dir != "" {
		switch now := w.Ledger.Now(); {
		case wrong != nil:
			out = append(out, "The last copy was not made: "+wrong.Error()+".")
		case !last.IsZero() && now.Sub(last) > CopyOld:
			out = append(out, fmt.Sprintf("The last good copy of this workshop is %d days old. Look whether %s is there, and has room.", int(now.Sub(last).Hours()/24), dir))
		}
	}
	return out
}
