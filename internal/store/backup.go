package store

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

// Copies are named by when they were made.
const (
	copyPrefix = "orpine-"
	copySuffix = ".db"
	copyTime   = "2006-01-02-150405"
)

// Copy writes the workshop as it is at one moment, with its photos, into a directory, as one file;
// others go on writing meanwhile. check looks at it before it gets its name: what does not pass is
// no copy, and is taken away.
func (s *Store) Copy(ctx context.Context, dir string, at time.Time, check func(ctx context.Context, copied *Store) error) (path string, err error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return "", fmt.Errorf("making the directory of copies: %w", err)
	}
	path = filepath.Join(dir, copyPrefix+at.Format(copyTime)+copySuffix)
	partial := filepath.Join(dir, ".partial-"+filepath.Base(path), FileName)
	if err := os.RemoveAll(filepath.Dir(partial)); err != nil {
		return "", fmt.Errorf("making room for the copy: %w", err)
	}
	if err := os.Mkdir(filepath.Dir(partial), 0o700); err != nil {
		return "", fmt.Errorf("making room for the copy: %w", err)
	}
	defer func() { err = errors.Join(err, os.RemoveAll(filepath.Dir(partial))) }()
	if err := s.into(ctx, partial); err != nil {
		return "", err
	}
	if err := looked(ctx, Inspect, filepath.Dir(partial), check); err != nil {
		return "", fmt.Errorf("the copy does not hold: %w", err)
	}
	if err := lasting(partial, path); err != nil {
		return "", fmt.Errorf("keeping the copy: %w", err)
	}
	return path, nil
}

// into has SQLite write all that one moment holds into a new file.
func (s *Store) into(ctx context.Context, path string) error {
	return s.read.outside(ctx, func(c *connection) error {
		if _, err := c.ExecContext(ctx, "PRAGMA query_only = 0"); err != nil { // it writes nothing to this one
			return wrapped("copying the workshop", err)
		}
		_, err := c.ExecContext(ctx, "VACUUM INTO ?", path)
		_, again := c.ExecContext(context.WithoutCancel(ctx), "PRAGMA query_only = 1")
		return wrapped("copying the workshop", errors.Join(err, again))
	})
}

func looked(ctx context.Context, open func(context.Context, string) (*Store, error), dir string, check func(ctx context.Context, copied *Store) error) error {
	copied, err := open(ctx, dir)
	if err != nil {
		return err
	}
	return errors.Join(check(ctx, copied), copied.Close())
}

// lasting gives a file its name once it is on the disk.
func lasting(from, to string) error {
	f, err := os.Open(from)
	if err != nil {
		return err
	}
	if err := errors.Join(f.Sync(), f.Close()); err != nil {
		return err
	}
	if err := os.Rename(from, to); err != nil {
		return err
	}
	d, err := os.Open(filepath.Dir(to))
	if err != nil {
		return err
	}
	return errors.Join(d.Sync(), d.Close())
}

// LastCopy is when the last copy in a directory was made, in a zone; the zero time for none.
func LastCopy(dir string, zone *time.Location) (time.Time, error) {
	all, err := copies(dir)
	if err != nil || len(all) == 0 {
		return time.Time{}, err
	}
	return time.ParseInLocation(copyTime, strings.TrimSuffix(strings.TrimPrefix(all[len(all)-1], copyPrefix), copySuffix), zone)
}

// copies are the names of those in a directory, the oldest first.
func copies(dir string) (names []string, err error) {
	entries, err := os.ReadDir(dir)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil
	}
	if err != nil {
		return nil, fmt.Errorf("looking for copies: %w", err)
	}
	for _, e := range entries {
		name, ok := strings.CutPrefix(e.Name(), copyPrefix)
		if name, fits := strings.CutSuffix(name, copySuffix); ok && fits && !e.IsDir() {
			if _, err := time.Parse(copyTime, name); err == nil {
				names = append(names, e.Name())
			}
		}
	}
	slices.Sort(names)
	return names, nil
}

// Thin takes older copies away: the last keep stay, and before them the last of each month.
func Thin(dir string, keep int) error {
	all, err := copies(dir)
	if err != nil {
		return err
	}
	var wrong []error
	for i, name := range all[:max(0, len(all)-keep)] {
		month := len(copyPrefix) + len("2006-01")
		if all[i+1][:month] == name[:month] {
			wrong = append(wrong, os.Remove(filepath.Join(dir, name)))
		}
	}
	return errors.Join(wrong...)
}

// Restore puts a copy into a data directory that has no workshop, once it passes check, which is given
// it with the tables of today.
func Restore(ctx context.Context, from, dir string, check func(ctx context.Context, copied *Store) error) (err error) {
	to := filepath.Join(dir, FileName)
	for _, suffix := range []string{"", "-wal", "-shm"} {
		if _, err := os.Stat(to + suffix); !errors.Is(err, fs.ErrNotExist) {
			return fmt.Errorf("%s is there already: restore into an empty directory, and look at both before you take one away", to+suffix)
		}
	}
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return fmt.Errorf("making the data directory: %w", err)
	}
	partial := filepath.Join(dir, ".restoring")
	if err := errors.Join(os.RemoveAll(partial), os.Mkdir(partial, 0o700)); err != nil {
		return fmt.Errorf("making room for the copy: %w", err)
	}
	defer func() { err = errors.Join(err, os.RemoveAll(partial)) }()
	if err := copyFile(from, filepath.Join(partial, FileName)); err != nil {
		return fmt.Errorf("reading the copy: %w", err)
	}
	if err := looked(ctx, Borrow, partial, check); err != nil { // it may be of an older build
		return fmt.Errorf("%s does not hold: %w", from, err)
	}
	return lasting(filepath.Join(partial, FileName), to)
}

// Settle moves what was written ahead into the file itself, so that a copy of that file alone,
// which misses the log beside it, misses little.
func (s *Store) Settle(ctx context.Context) error {
	return s.write.outside(ctx, func(c *connection) error {
		_, err := c.ExecContext(ctx, "PRAGMA wal_checkpoint(PASSIVE)")
		return wrapped("writing", err)
	})
}
