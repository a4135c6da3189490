-- Who works in the shop, and as what. Passwords, codes and sessions are not here: they are of the
-- machine, in a file of its own.

-- +goose Up
CREATE TABLE people (
    id          TEXT PRIMARY KEY,
    name        TEXT NOT NULL,
    role        TEXT NOT NULL, -- builder, helper, inspector, viewer
    left_at     TEXT NOT NULL DEFAULT '', -- '' while they belong to the shop
    entry       INTEGER NOT NULL REFERENCES journal (seq),
    revised     INTEGER NOT NULL REFERENCES journal (seq)
);

-- +goose Down
SELECT 1;
