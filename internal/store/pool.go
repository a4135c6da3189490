package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"sync/atomic"

	lru "github.com/hashicorp/golang-lru/v2"

	"orpine/internal/store/query"
)

// pool is connections to a file that stay open, each with its statements prepared. Who
// waits for one gets it in the order of coming.
type pool struct {
	db   *sql.DB
	free chan *connection
	all  []*connection
}

// connection is opened when it is first needed.
type connection struct {
	*sql.Conn
	prepared *lru.Cache[string, *sql.Stmt]
}

// statements is how many a connection keeps prepared; there are some 200 in all.
const statements = 300

func newPool(db *sql.DB, size int) *pool {
	p := &pool{db: db, free: make(chan *connection, size)}
	for range size {
		c := new(connection)
		p.all = append(p.all, c)
		p.free <- c
	}
	return p
}

// transact runs work in a transaction. It begins and ends whatever becomes of the
// context: only its statements are given up with that.
func (p *pool) transact(ctx context.Context, readOnly bool, counter *atomic.Int64, work func(db query.DBTX) error) error {
	var c *connection
	select {
	case c = <-p.free:
	case <-ctx.Done():
		return ctx.Err()
	}
	defer func() { p.free <- c }()
	if err := c.open(ctx, p.db); err != nil {
		return err
	}
	tx, err := c.BeginTx(context.WithoutCancel(ctx), &sql.TxOptions{ReadOnly: readOnly})
	if err != nil {
		return err
	}
	defer tx.Rollback() //nolint:errcheck // after a commit it does nothing
	if err := work(inTransaction{c, tx, counter}); err != nil || readOnly {
		return err
	}
	return tx.Commit()
}

// outside runs work on a connection, outside a transaction.
func (p *pool) outside(ctx context.Context, work func(c *connection) error) error {
	var c *connection
	select {
	case c = <-p.free:
	case <-ctx.Done():
		return ctx.Err()
	}
	defer func() { p.free <- c }()
	if err := c.open(ctx, p.db); err != nil {
		return err
	}
	return work(c)
}

// ready opens all connections now, so that each is to the file that is there now.
func (p *pool) ready(ctx context.Context) error {
	for _, c := range p.all {
		if err := c.open(ctx, p.db); err != nil {
			return err
		}
		if err := c.PingContext(ctx); err != nil {
			return err
		}
	}
	return nil
}

func (c *connection) open(ctx context.Context, db *sql.DB) (err error) {
	if c.Conn != nil {
		return nil
	}
	if c.prepared, err = lru.NewWithEvict(statements, func(_ string, s *sql.Stmt) { s.Close() }); err != nil {
		return err
	}
	c.Conn, err = db.Conn(context.WithoutCancel(ctx))
	return err
}

func (p *pool) close() error {
	var err error
	for _, c := range p.all {
		if c.Conn != nil {
			c.prepared.Purge()
			err = errors.Join(err, c.Close())
		}
	}
	return errors.Join(err, p.db.Close())
}

// inTransaction runs statements of a transaction on its connection, prepared there, and
// counts them.
type inTransaction struct {
	c       *connection
	tx      *sql.Tx
	counter *atomic.Int64
}

func (t inTransaction) statement(ctx context.Context, text string) (*sql.Stmt, error) {
	t.counter.Add(1)
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	if s, ok := t.c.prepared.Get(text); ok {
		return s, nil
	}
	s, err := t.c.Conn.PrepareContext(ctx, text)
	if err != nil {
		return nil, fmt.Errorf("preparing a statement: %w", err)
	}
	t.c.prepared.Add(text, s)
	return s, nil
}

func (t inTransaction) ExecContext(ctx context.Context, text string, args ...any) (sql.Result, error) {
	s, err := t.statement(ctx, text)
	if err != nil {
		return nil, err
	}
	return s.ExecContext(ctx, args...)
}

func (t inTransaction) QueryContext(ctx context.Context, text string, args ...any) (*sql.Rows, error) {
	s, err := t.statement(ctx, text)
	if err != nil {
		return nil, err
	}
	return s.QueryContext(ctx, args...)
}

// QueryRowContext leaves it to the transaction to say what is wrong with a statement
// that cannot be prepared.
func (t inTransaction) QueryRowContext(ctx context.Context, text string, args ...any) *sql.Row {
	s, err := t.statement(ctx, text)
	if err != nil {
		return t.tx.QueryRowContext(ctx, text, args...)
	}
	return s.QueryRowContext(ctx, args...)
}

// PrepareContext is asked for by package query, and not used.
func (t inTransaction) PrepareContext(ctx context.Context, text string) (*sql.Stmt, error) {
	return t.tx.PrepareContext(ctx, text)
}
