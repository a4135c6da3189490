-- What is said of a bay: that something of its assemblies lies outside, that holes kept
-- open inside can still be reached, that it belongs to another assembly too, or lies
-- within another bay.

-- +goose Up
CREATE TABLE bay_says (
    bay_id  TEXT NOT NULL REFERENCES bays (id),
    kind    TEXT NOT NULL, -- outside, reachable, assembly, within
    of      TEXT NOT NULL, -- "row:", "hold:", "check:", "task:" and an id; a row's, assembly's or bay's id
    note    TEXT NOT NULL, -- what was to be seen then
    by_name TEXT NOT NULL,
    at      TEXT NOT NULL,
    entry   INTEGER NOT NULL REFERENCES journal (seq),
    PRIMARY KEY (bay_id, kind, of)
) WITHOUT ROWID;

-- +goose Down
SELECT 1;
