-- +goose Up
-- Everything accepted is appended to record; all other tables but sheet,
-- credential, setting and sessions are projections that can be rebuilt from it.
CREATE TABLE record (
  seq        INTEGER PRIMARY KEY,
  id         TEXT    NOT NULL UNIQUE,
  kind       TEXT    NOT NULL,
  outing     TEXT    NOT NULL DEFAULT '',
  machine    TEXT    NOT NULL DEFAULT '',
  person     TEXT    NOT NULL DEFAULT '',
  supersedes TEXT    NOT NULL DEFAULT '',
  server_at  INTEGER NOT NULL, -- milliseconds since 1970, never less than the record before
  device_at  INTEGER NOT NULL DEFAULT 0,
  clock      TEXT    NOT NULL DEFAULT '', -- '', clamped or jumped
  request    BLOB    NOT NULL, -- hash of what the client sent, to tell a retry from another answer
  body       BLOB    NOT NULL,
  previous   BLOB    NOT NULL,
  hash       BLOB    NOT NULL
);
CREATE INDEX record_outing ON record (outing, seq) WHERE outing <> '';

-- +goose StatementBegin
CREATE TRIGGER record_never_changes BEFORE UPDATE ON record
BEGIN SELECT RAISE(ABORT, 'records are never changed'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER record_never_goes BEFORE DELETE ON record
BEGIN SELECT RAISE(ABORT, 'records are never deleted'); END;
-- +goose StatementEnd

CREATE TABLE sheet (
  hash    TEXT PRIMARY KEY,
  id      TEXT NOT NULL,
  edition TEXT NOT NULL,
  body    BLOB NOT NULL
);

CREATE TABLE credential (
  person   TEXT PRIMARY KEY,
  hash     TEXT NOT NULL,
  failures INTEGER NOT NULL DEFAULT 0,
  locked_until INTEGER NOT NULL DEFAULT 0
);

CREATE TABLE sessions (
  token  TEXT PRIMARY KEY,
  data   BLOB NOT NULL,
  expiry REAL NOT NULL
);
CREATE INDEX sessions_expiry ON sessions (expiry);

CREATE TABLE yard (
  one      INTEGER PRIMARY KEY CHECK (one = 1),
  name     TEXT NOT NULL,
  timezone TEXT NOT NULL,
  house    TEXT NOT NULL
);

CREATE TABLE person (
  id       TEXT PRIMARY KEY,
  name     TEXT NOT NULL,
  role     TEXT NOT NULL,
  language TEXT NOT NULL,
  units    TEXT NOT NULL,
  theme    TEXT NOT NULL DEFAULT 'auto',
  keys     INTEGER NOT NULL DEFAULT 1,
  manuals  TEXT NOT NULL DEFAULT '[]',
  left_on  INTEGER NOT NULL DEFAULT 0
);

CREATE TABLE machine (
  id     TEXT PRIMARY KEY,
  name   TEXT NOT NULL,
  bay    TEXT NOT NULL,
  sheet  TEXT NOT NULL REFERENCES sheet (hash),
  hours  REAL NOT NULL,
  outing TEXT NOT NULL DEFAULT '', -- the outing it is in now
  grade  TEXT NOT NULL DEFAULT 'sound' -- the worst of its open defects
);

CREATE TABLE outing (
  id       TEXT PRIMARY KEY,
  machine  TEXT NOT NULL,
  operator TEXT NOT NULL,
  began    INTEGER NOT NULL,
  status   TEXT NOT NULL,
  stage    TEXT NOT NULL,
  done     INTEGER NOT NULL DEFAULT 0, -- points answered
  points   INTEGER NOT NULL DEFAULT 0,
  outcome  TEXT NOT NULL DEFAULT '',
  released INTEGER NOT NULL DEFAULT 0,
  ended    INTEGER NOT NULL DEFAULT 0
);
CREATE INDEX outing_began ON outing (began);
CREATE INDEX outing_machine ON outing (machine, began);

CREATE TABLE defect (
  id       TEXT PRIMARY KEY,
  machine  TEXT NOT NULL,
  outing   TEXT NOT NULL,
  point    TEXT NOT NULL DEFAULT '',
  item     TEXT NOT NULL DEFAULT '',
  fault    TEXT NOT NULL DEFAULT '',
  test     INTEGER NOT NULL DEFAULT -1,
  note     TEXT NOT NULL DEFAULT '',
  value    TEXT NOT NULL DEFAULT '',
  grade    TEXT NOT NULL,
  finding  TEXT NOT NULL,
  found_by TEXT NOT NULL,
  found_at INTEGER NOT NULL,
  status   TEXT NOT NULL, -- open or closed
  closed_by TEXT NOT NULL DEFAULT '',
  closed_at INTEGER NOT NULL DEFAULT 0,
  cause    TEXT NOT NULL DEFAULT '',
  work     TEXT NOT NULL DEFAULT ''
);
CREATE INDEX defect_machine ON defect (machine, status);
