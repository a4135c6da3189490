-- +goose Up

-- The journal is the record: entries are added and never touched again. Every row of
-- every other record table follows from it.
CREATE TABLE journal (
    seq     INTEGER PRIMARY KEY,
    id      TEXT NOT NULL UNIQUE, -- UUID, made by whoever submitted it
    at      TEXT NOT NULL,        -- RFC 3339, UTC
    kind    TEXT NOT NULL,
    by_name TEXT NOT NULL,
    content TEXT NOT NULL,        -- JSON: version, taken, request, facts
    prev    TEXT NOT NULL,
    hash    TEXT NOT NULL
);
-- +goose StatementBegin
CREATE TRIGGER journal_is_not_edited BEFORE UPDATE ON journal
BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER journal_is_not_deleted BEFORE DELETE ON journal
BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END;
-- +goose StatementEnd

-- Where the journal ends, so that a cut shows.
CREATE TABLE head (
    one  INTEGER PRIMARY KEY CHECK (one = 1),
    seq  INTEGER NOT NULL,
    hash TEXT NOT NULL
);

-- What entries carry beside their content, by its SHA-256: pictures.
CREATE TABLE files (
    sha256  TEXT PRIMARY KEY,
    content BLOB NOT NULL
);

-- +goose Down
DROP TABLE files;
DROP TABLE head;
DROP TABLE journal;
