-- +goose Up
-- When each point that is not looked at at every outing was looked at last, and
-- when the machine came (point '+') and was returned to service ('repair').
CREATE TABLE looked (
  machine TEXT    NOT NULL,
  point   TEXT    NOT NULL,
  at      INTEGER NOT NULL,
  hours   REAL    NOT NULL, -- by the machine's meter
  PRIMARY KEY (machine, point)
) WITHOUT ROWID;
