-- A part may lie in many rows and bays; and what an inspection found of a part that a notice
-- names.

-- +goose Up
CREATE TABLE part_lies (
    part_id TEXT NOT NULL REFERENCES parts (id),
    kind    TEXT NOT NULL, -- row or bay
    of      TEXT NOT NULL,
    entry   INTEGER NOT NULL REFERENCES journal (seq),
    PRIMARY KEY (part_id, kind, of)
) WITHOUT ROWID;

CREATE TABLE notice_findings (
    notice_id TEXT NOT NULL REFERENCES notices (id),
    part_id   TEXT NOT NULL REFERENCES parts (id),
    answer    TEXT NOT NULL, -- affected or not affected
    found     TEXT NOT NULL, -- by the inspection, in words
    by_name   TEXT NOT NULL,
    at        TEXT NOT NULL,
    entry     INTEGER NOT NULL REFERENCES journal (seq),
    PRIMARY KEY (notice_id, part_id)
) WITHOUT ROWID;

-- +goose Down
SELECT 1;
