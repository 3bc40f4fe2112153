-- +goose Up
-- At which reading of its hour meter a part comes to its limit, if it wears on so.
CREATE TABLE wear (
  machine TEXT NOT NULL,
  point   TEXT NOT NULL,
  item    TEXT NOT NULL,
  last    REAL NOT NULL, -- in the unit of the sheet
  reaches REAL NOT NULL, -- the limit, in the same
  at      REAL NOT NULL, -- hours
  PRIMARY KEY (machine, point, item)
);
