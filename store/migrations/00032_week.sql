-- +goose Up
-- What is read by its time alone: a week of fills.
CREATE INDEX fill_at ON fill (at);
