-- +goose Up
-- How walk-arounds were gone through: only leads see what comes of it.
CREATE TABLE walked (
  outing  TEXT    NOT NULL,
  machine TEXT    NOT NULL,
  person  TEXT    NOT NULL,
  at      INTEGER NOT NULL,
  seconds REAL    NOT NULL,
  least   REAL    NOT NULL,
  hurried INTEGER NOT NULL,
  PRIMARY KEY (machine, outing)
) WITHOUT ROWID;
CREATE INDEX walked_at ON walked (at, person, hurried);
-- The same value typed again and again.
CREATE TABLE streak (
  machine TEXT    NOT NULL,
  point   TEXT    NOT NULL,
  item    TEXT    NOT NULL,
  typed   TEXT    NOT NULL,
  times   INTEGER NOT NULL,
  person  TEXT    NOT NULL, -- who typed it last
  at      INTEGER NOT NULL,
  PRIMARY KEY (machine, point, item)
) WITHOUT ROWID;
CREATE INDEX streak_times ON streak (times, at);
-- Called sound in one outing, found faulty in the next.
CREATE TABLE missed (
  machine TEXT    NOT NULL,
  point   TEXT    NOT NULL,
  outing  TEXT    NOT NULL, -- that found it
  person  TEXT    NOT NULL, -- who had called it sound
  at      INTEGER NOT NULL,
  found   INTEGER NOT NULL,
  PRIMARY KEY (machine, point, outing)
) WITHOUT ROWID;
CREATE INDEX missed_found ON missed (found);
