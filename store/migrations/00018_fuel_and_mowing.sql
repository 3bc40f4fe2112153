-- +goose Up
-- When each hour meter was last read, and what was filled into each machine.
ALTER TABLE machine ADD COLUMN hours_at INTEGER NOT NULL DEFAULT 0;
CREATE TABLE fill (
  id TEXT PRIMARY KEY,
  machine TEXT NOT NULL,
  outing TEXT NOT NULL,
  at INTEGER NOT NULL,
  hours REAL,
  litres REAL,
  to_mark INTEGER NOT NULL DEFAULT 0,
  can INTEGER NOT NULL DEFAULT 0,
  by TEXT NOT NULL
) WITHOUT ROWID;
CREATE INDEX fill_machine ON fill (machine, at);
-- On how many days fine turf was mown, and the end of the last of them.
ALTER TABLE yard ADD COLUMN mown INTEGER NOT NULL DEFAULT 0;
ALTER TABLE yard ADD COLUMN mown_until INTEGER NOT NULL DEFAULT 0;
