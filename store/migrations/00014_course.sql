-- +goose Up
-- How each outing went, step by step, for the page of a day.
CREATE TABLE course (
  outing TEXT NOT NULL,
  step TEXT NOT NULL,
  at INTEGER NOT NULL,
  who TEXT NOT NULL DEFAULT '',
  PRIMARY KEY (outing, step, at)
) WITHOUT ROWID;
