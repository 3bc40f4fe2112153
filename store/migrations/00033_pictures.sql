-- +goose Up
-- Which picture is of which finding, and for how long pictures are kept.
CREATE TABLE picture (
  hash    TEXT NOT NULL,
  record  TEXT NOT NULL PRIMARY KEY,
  finding TEXT NOT NULL,
  outing  TEXT NOT NULL,
  machine TEXT NOT NULL,
  point   TEXT NOT NULL,
  dropped INTEGER NOT NULL DEFAULT 0
);
CREATE INDEX picture_hash ON picture (hash);
ALTER TABLE yard ADD COLUMN pictures TEXT NOT NULL DEFAULT '{}';
