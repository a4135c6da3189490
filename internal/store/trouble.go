package store

import (
	"errors"
	"fmt"
	"os"

	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"
)

// Trouble is something outside the workshop for which nothing can be written now, with what to do.
// Nothing of the write was stored.
type Trouble struct {
	Says string // what it is, and what to do
	Err  error
}

// Error says what it is.
func (t *Trouble) Error() string { return t.Says }

// Unwrap is what SQLite, or the system, said.
func (t *Trouble) Unwrap() error { return t.Err }

// troubles are what SQLite's primary result codes mean to whoever stands at the bench
// (https://sqlite.org/rescode.html).
var troubles = map[int]string{
	sqlite3.SQLITE_FULL:     "the disk is full. Make room on it, then send this once more",
	sqlite3.SQLITE_READONLY: "the disk, or the workshop's file, can only be read. Let it be written again, then send this once more",
	sqlite3.SQLITE_IOERR:    "the disk does not answer as it should. Look at its cable and its room, make a copy, then send this once more",
	sqlite3.SQLITE_BUSY:     "another program holds the workshop's file. Close it, then send this once more",
	sqlite3.SQLITE_LOCKED:   "another program holds the workshop's file. Close it, then send this once more",
	sqlite3.SQLITE_CANTOPEN: "the workshop's file cannot be opened. Look whether its disk is there, then send this once more",
	sqlite3.SQLITE_PERM:     "the workshop's file may not be written by this program",
	sqlite3.SQLITE_CORRUPT:  "the workshop's file is damaged. Change nothing, copy the whole data directory aside, and go on from the last good copy",
	sqlite3.SQLITE_NOTADB:   "the workshop's file is damaged. Change nothing, copy the whole data directory aside, and go on from the last good copy",
}

// wrapped says what was being done when SQLite refused it, as a Trouble where it is one; what the
// work itself returned is left as it is.
func wrapped(doing string, err error) error {
	var refused *sqlite.Error
	if !errors.As(err, &refused) {
		return err
	}
	err = fmt.Errorf("%s: %w", doing, err)
	if says, ok := troubles[refused.Code()&0xff]; ok {
		return &Trouble{says, err}
	}
	return err
}

// Halt stops all writing, for good, with the reason; reading goes on. The first reason stays.
func (s *Store) Halt(why error) {
	s.halted.CompareAndSwap(nil, &why)
}

// Halted is why writing has stopped; nil while it goes on. A file that was taken away, or put in
// the place of the one that was opened, stops it.
func (s *Store) Halted() error {
	if why := s.halted.Load(); why != nil {
		return *why
	}
	if s.opened == nil {
		return nil
	}
	switch now, err := os.Stat(s.path); {
	case errors.Is(err, os.ErrNotExist):
		s.Halt(fmt.Errorf("the workshop's file %s was taken away while it was open. Nothing more is written; what was written is still read from it. Before Orpine is stopped, take the whole workshop out under Files, and put it into an empty directory with orpine import. Where the file was only moved, stop Orpine, put it back and start again", s.path))
	case err != nil:
		return fmt.Errorf("the workshop's file %s cannot be looked at: %w", s.path, err)
	case !os.SameFile(now, s.opened):
		s.Halt(fmt.Errorf("another file was put in the place of %s while it was open. Stop Orpine, look which of the two is the right one, and start it again", s.path))
	default:
		return nil
	}
	return *s.halted.Load()
}
