-- +goose Up
-- Days that were sealed, and where somebody last said that people are.
CREATE TABLE seal (
  record  TEXT    PRIMARY KEY, -- that sealed it
  day     TEXT    NOT NULL,    -- YYYY-MM-DD
  until   INTEGER NOT NULL,
  at      INTEGER NOT NULL,
  by      TEXT    NOT NULL,
  body    TEXT    NOT NULL     -- the seal as JSON
) WITHOUT ROWID;
CREATE INDEX seal_at ON seal (at);
CREATE TABLE whereabouts (
  person TEXT    PRIMARY KEY,
  place  TEXT    NOT NULL, -- '' is home
  by     TEXT    NOT NULL,
  at     INTEGER NOT NULL
) WITHOUT ROWID;
