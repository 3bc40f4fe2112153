-- +goose Up
-- The site: its file without the features, each feature in its order, and how zones and
-- banks were found; and who takes what where in the morning.
CREATE TABLE site (
  one  INTEGER NOT NULL PRIMARY KEY CHECK (one = 1),
  head TEXT NOT NULL
);
CREATE TABLE feature (
  id      TEXT NOT NULL PRIMARY KEY,
  place   INTEGER NOT NULL,
  feature TEXT NOT NULL
);
CREATE TABLE zone_walked (
  zone   TEXT NOT NULL PRIMARY KEY,
  body   TEXT NOT NULL,
  by     TEXT NOT NULL,
  at     INTEGER NOT NULL,
  record TEXT NOT NULL
);
-- A picture of a walk is of no finding: it is over when it was walked.
ALTER TABLE picture ADD COLUMN walked INTEGER NOT NULL DEFAULT 0;
CREATE TABLE bank_tried (
  zone    TEXT NOT NULL PRIMARY KEY,
  slipped INTEGER NOT NULL,
  by      TEXT NOT NULL,
  at      INTEGER NOT NULL
);
CREATE TABLE load_sheet (
  outing TEXT NOT NULL PRIMARY KEY,
  body   TEXT NOT NULL,
  by     TEXT NOT NULL,
  at     INTEGER NOT NULL
);
CREATE TABLE morning_plan (
  one    INTEGER NOT NULL PRIMARY KEY CHECK (one = 1),
  body   TEXT NOT NULL,
  by     TEXT NOT NULL,
  at     INTEGER NOT NULL,
  record TEXT NOT NULL
);
