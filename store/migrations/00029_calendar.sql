-- +goose Up
-- The private addresses of calendars, as hashes.
CREATE TABLE calendar (
  person TEXT PRIMARY KEY,
  hash   TEXT NOT NULL UNIQUE
) WITHOUT ROWID;
