-- +goose Up
-- When somebody looks for the operator of an outing, and who went to look.
ALTER TABLE outing ADD COLUMN check_in INTEGER NOT NULL DEFAULT 0;
ALTER TABLE outing ADD COLUMN sought TEXT NOT NULL DEFAULT '';
CREATE INDEX outing_check_in ON outing (check_in) WHERE check_in > 0;
