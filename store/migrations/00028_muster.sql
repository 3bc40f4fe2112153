-- +goose Up
-- Who came last, whose machines are for the day, its quiet hours and weather.
CREATE TABLE came (
  person TEXT    PRIMARY KEY,
  by     TEXT    NOT NULL,
  at     INTEGER NOT NULL
) WITHOUT ROWID;
CREATE TABLE given (
  machine TEXT    PRIMARY KEY,
  person  TEXT    NOT NULL, -- '' is nobody
  by      TEXT    NOT NULL,
  at      INTEGER NOT NULL
) WITHOUT ROWID;
CREATE INDEX given_person ON given (person);
CREATE TABLE quiet (
  record TEXT    PRIMARY KEY, -- that said it
  since  INTEGER NOT NULL,
  until  INTEGER NOT NULL,
  what   TEXT    NOT NULL,
  by     TEXT    NOT NULL
) WITHOUT ROWID;
CREATE INDEX quiet_until ON quiet (until);
CREATE TABLE weather (
  one   INTEGER PRIMARY KEY CHECK (one=1),
  grass TEXT    NOT NULL,
  light TEXT    NOT NULL,
  storm TEXT    NOT NULL,
  by    TEXT    NOT NULL,
  at    INTEGER NOT NULL
);
