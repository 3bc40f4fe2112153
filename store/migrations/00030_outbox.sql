-- +goose Up
-- What was told outside the yard.
CREATE TABLE sent_out (
  id TEXT    PRIMARY KEY,
  at INTEGER NOT NULL
) WITHOUT ROWID;
