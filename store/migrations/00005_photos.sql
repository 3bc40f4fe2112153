-- +goose Up
-- Pictures of findings, by the hash of their content: records name them.
CREATE TABLE photo (
  hash TEXT PRIMARY KEY,
  body BLOB NOT NULL
);
