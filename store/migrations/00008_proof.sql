-- +goose Up
-- When the interlocks of a machine were last proved, and in which outing.
CREATE TABLE proof (
  machine TEXT PRIMARY KEY,
  outing  TEXT    NOT NULL,
  person  TEXT    NOT NULL,
  at      INTEGER NOT NULL,
  tests   INTEGER NOT NULL
) WITHOUT ROWID;
-- How long what moves took to stop, by outing.
CREATE TABLE stop_time (
  machine TEXT    NOT NULL,
  permit  TEXT    NOT NULL,
  at      INTEGER NOT NULL,
  outing  TEXT    NOT NULL,
  seconds REAL    NOT NULL,
  within  REAL    NOT NULL, -- seconds
  PRIMARY KEY (machine, permit, at, outing)
) WITHOUT ROWID;
-- What a technician tried to find out which switch it is.
CREATE TABLE trial (
  seq    INTEGER PRIMARY KEY,
  defect TEXT NOT NULL,
  body   TEXT NOT NULL
);
CREATE INDEX trial_defect ON trial (defect, seq);
