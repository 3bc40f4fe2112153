-- +goose Up
-- What is remembered of each machine that grades what is found on it later.
CREATE TABLE memory (
  machine TEXT PRIMARY KEY,
  body    TEXT NOT NULL
) WITHOUT ROWID;
