-- +goose Up
-- Defects are looked for by when they were found.
CREATE INDEX defect_found ON defect (found_at);
