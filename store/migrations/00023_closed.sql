-- +goose Up
-- The desk says what was closed since yesterday.
CREATE INDEX defect_closed ON defect (closed_at) WHERE closed_at > 0;
