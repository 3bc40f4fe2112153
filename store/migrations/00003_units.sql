-- +goose Up
-- An outing can have several machines; a machine remembers when it last worked.
ALTER TABLE machine ADD COLUMN worked INTEGER NOT NULL DEFAULT 0;
CREATE TABLE outing_unit (
  machine TEXT    NOT NULL,
  began   INTEGER NOT NULL,
  outing  TEXT    NOT NULL,
  PRIMARY KEY (machine, began, outing)
) WITHOUT ROWID;
INSERT INTO outing_unit SELECT machine, began, id FROM outing;
