-- +goose Up
-- How each machine was left when it was last out, by fact.
ALTER TABLE machine ADD COLUMN stood TEXT NOT NULL DEFAULT '';
