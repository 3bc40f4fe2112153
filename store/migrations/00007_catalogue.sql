-- +goose Up
-- Which edition of the catalogue that ships with the program is stored already.
CREATE TABLE catalogue_stored (
  one         INTEGER PRIMARY KEY CHECK (one = 1),
  fingerprint TEXT NOT NULL
);
