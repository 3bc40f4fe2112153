-- +goose Up
-- When the interlocks of a machine were last proved, and in which outing.
CREATE TABLE proof (
  machine TEXT PRIMARY KEY,
  outing  TEXT    NOT NULL,
  person  TEXT    NOT NULL,
  at      INTEGER NOT NULL,
  tests   INTEGER NOT NULL
) WITHOUT ROWID;
-- How long what moves took to stop, the last few times, oldest first: one row a
-- drive, because a lead looks at all of them at once.
CREATE TABLE stop_time (
  machine TEXT NOT NULL,
  permit  TEXT NOT NULL,
  times   TEXT NOT NULL,
  seconds REAL NOT NULL,    -- the last time
  within  REAL NOT NULL,    -- its limit
  week    REAL,             -- how much longer it takes each week; NULL with too few times
  reaches INTEGER NOT NULL, -- when it comes to its limit, if it goes on so; else 0
  PRIMARY KEY (machine, permit)
) WITHOUT ROWID;
CREATE INDEX stop_time_reaches ON stop_time (machine, reaches) WHERE reaches>0;
-- What a technician tried to find out which switch it is.
CREATE TABLE trial (
  seq    INTEGER PRIMARY KEY,
  defect TEXT NOT NULL,
  body   TEXT NOT NULL
);
CREATE INDEX trial_defect ON trial (defect, seq);
