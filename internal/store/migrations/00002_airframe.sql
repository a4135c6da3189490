-- +goose Up
CREATE TABLE airframes (
    id          TEXT PRIMARY KEY,
    name        TEXT NOT NULL UNIQUE,
    description TEXT NOT NULL,
    length_unit TEXT NOT NULL CHECK (length_unit IN ('mm', 'in')),
    schools     TEXT NOT NULL, -- JSON: the answer to each question of school; the first when it is not named
    entry       INTEGER NOT NULL REFERENCES journal (seq), -- that made it
    revised     INTEGER NOT NULL REFERENCES journal (seq)  -- that changed it last
);

CREATE TABLE assemblies (
    id          TEXT PRIMARY KEY,
    airframe_id TEXT NOT NULL REFERENCES airframes (id),
    name        TEXT NOT NULL,
    shape       TEXT NOT NULL, -- JSON: the dimensions it is drawn from
    before_us   TEXT NOT NULL, -- what had become permanent before the record began; '' for nothing
    entry       INTEGER NOT NULL REFERENCES journal (seq),
    UNIQUE (airframe_id, name)
);
CREATE INDEX assemblies_by_airframe ON assemblies (airframe_id, entry);

-- +goose Down
DROP TABLE assemblies;
DROP TABLE airframes;
