-- +goose Up

-- Pictures, decoded and written anew, so that nothing but the picture is kept. Their
-- content lies in files.
CREATE TABLE photos (
    id      TEXT PRIMARY KEY,
    of      TEXT NOT NULL, -- id of the bay, part, hold or slip
    caption TEXT NOT NULL,
    type    TEXT NOT NULL CHECK (type IN ('image/jpeg', 'image/png')),
    width   INTEGER NOT NULL,
    height  INTEGER NOT NULL,
    sha256  TEXT NOT NULL REFERENCES files (sha256),
    thumb   TEXT NOT NULL REFERENCES files (sha256),
    at      TEXT NOT NULL,
    entry   INTEGER NOT NULL REFERENCES journal (seq)
);
CREATE INDEX photos_by_of ON photos (of, entry);

-- +goose Down
DROP TABLE photos;
