-- +goose Up
-- Halts that were found and taken back before the machine went out: leads see them.
CREATE TABLE taken_back (
  machine TEXT    NOT NULL,
  point   TEXT    NOT NULL,
  item    TEXT    NOT NULL,
  outing  TEXT    NOT NULL,
  record  TEXT    NOT NULL, -- of the answer that took it back
  person  TEXT    NOT NULL, -- who took it back
  second  TEXT    NOT NULL, -- who saw it too, or ''
  why     TEXT    NOT NULL,
  at      INTEGER NOT NULL,
  PRIMARY KEY (machine, record)
) WITHOUT ROWID;
CREATE INDEX taken_back_at ON taken_back (at);
