-- +goose Up
-- The form that a record's body is written in; what was written before has 1.
ALTER TABLE record ADD COLUMN format INTEGER NOT NULL DEFAULT 1;
-- Records taken while the clock was wrong, and where a lead ended that.
CREATE INDEX record_clock ON record (seq) WHERE clock <> '' OR kind = 'clock_wrong';
-- A PIN that somebody else has set holds for one sign-in. Every new PIN ends the
-- sessions begun with the one before: they carry its number.
ALTER TABLE credential ADD COLUMN lent INTEGER NOT NULL DEFAULT 0;
ALTER TABLE credential ADD COLUMN number INTEGER NOT NULL DEFAULT 0;
-- Wrong PINs: counted for a person on a device they have used, for a person on
-- any other, and for an address.
CREATE TABLE attempt (
  who      TEXT    PRIMARY KEY,
  failures INTEGER NOT NULL,
  until    INTEGER NOT NULL, -- paused, in milliseconds since 1970
  at       INTEGER NOT NULL
) WITHOUT ROWID;
-- Devices that a person has signed in on, by a hash of the device's own secret.
CREATE TABLE device (
  person TEXT    NOT NULL,
  device TEXT    NOT NULL,
  at     INTEGER NOT NULL,
  PRIMARY KEY (person, device)
) WITHOUT ROWID;
-- Wrong PINs as their person and the leads are told of them.
CREATE TABLE tried (
  person  TEXT    NOT NULL,
  address TEXT    NOT NULL,
  day     INTEGER NOT NULL, -- days since 1970
  known   INTEGER NOT NULL, -- on a device the person has used
  times   INTEGER NOT NULL,
  at      INTEGER NOT NULL,
  PRIMARY KEY (person, day, address, known)
) WITHOUT ROWID;
-- When each projection was last written down in a new form.
CREATE TABLE projection (
  name    TEXT PRIMARY KEY,
  version INTEGER NOT NULL
) WITHOUT ROWID;
-- The first deadline of a machine's open Mends, so that its grade is known now.
ALTER TABLE machine ADD COLUMN mend_hours REAL;
ALTER TABLE machine ADD COLUMN mend_at INTEGER NOT NULL DEFAULT 0;
-- Who stood by at a release, and who released it.
ALTER TABLE outing ADD COLUMN released_by TEXT NOT NULL DEFAULT '';
ALTER TABLE outing ADD COLUMN second TEXT NOT NULL DEFAULT '';
-- What leads did about people and the yard, for all leads to see.
CREATE TABLE act (
  seq     INTEGER PRIMARY KEY,
  at      INTEGER NOT NULL,
  by      TEXT NOT NULL,
  kind    TEXT NOT NULL,
  subject TEXT NOT NULL,
  why     TEXT NOT NULL DEFAULT ''
);
-- That the file can still be written, and grow by an answer, is tried here.
CREATE TABLE health (
  one  INTEGER PRIMARY KEY CHECK (one = 1),
  at   INTEGER NOT NULL,
  room BLOB    NOT NULL
);
-- The clock as it was last seen, so that one set forward is seen over a restart.
CREATE TABLE clock (
  one  INTEGER PRIMARY KEY CHECK (one = 1),
  wall INTEGER NOT NULL,
  boot TEXT    NOT NULL,
  up   INTEGER NOT NULL
);
