-- +goose Up
-- The desk asks for every open defect, and people for what became of what they found.
CREATE INDEX defect_open ON defect (status) WHERE status = 'open';
CREATE INDEX defect_finder ON defect (found_by, closed_at);
CREATE INDEX defect_point ON defect (machine, point, found_at);
ALTER TABLE person ADD COLUMN heard INTEGER NOT NULL DEFAULT 0;
-- What happened to each defect between being found and being closed.
CREATE TABLE story (
  defect TEXT    NOT NULL,
  seq    INTEGER NOT NULL,
  at     INTEGER NOT NULL,
  by     TEXT    NOT NULL,
  what   TEXT    NOT NULL, -- eased, proving, not_proved, closed
  outing TEXT    NOT NULL DEFAULT '',
  body   TEXT    NOT NULL DEFAULT '',
  PRIMARY KEY (defect, seq)
) WITHOUT ROWID;
