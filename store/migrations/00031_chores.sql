-- +goose Up
-- How long the chores of an evening took on each machine.
CREATE TABLE chore (
  machine TEXT    NOT NULL,
  chore   TEXT    NOT NULL,
  at      INTEGER NOT NULL,
  outing  TEXT    NOT NULL,
  seconds REAL    NOT NULL,
  PRIMARY KEY (machine, chore, at, outing)
) WITHOUT ROWID;
