-- +goose Up
-- How the options of a machine's sheet stand on it, as core/machine writes them.
ALTER TABLE machine ADD COLUMN options TEXT NOT NULL DEFAULT '';
