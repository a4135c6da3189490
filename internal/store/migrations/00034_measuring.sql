-- +goose Up
-- Setups of which somebody said that the part lies in them as in another: they are one placing, and
-- what disturbs one disturbs the other.
CREATE TABLE placings (
    setup_id TEXT NOT NULL REFERENCES setups (id),
    other_id TEXT NOT NULL REFERENCES setups (id),
    entry    INTEGER NOT NULL REFERENCES journal (seq),
    PRIMARY KEY (setup_id, other_id)
);
CREATE INDEX placings_by_other ON placings (other_id);

-- +goose Down
DROP TABLE placings;
