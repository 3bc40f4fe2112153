-- +goose Up
-- When a machine left the yard, 0 while it is there, and why.
ALTER TABLE machine ADD COLUMN left_at INTEGER NOT NULL DEFAULT 0;
ALTER TABLE machine ADD COLUMN left_why TEXT NOT NULL DEFAULT '';
