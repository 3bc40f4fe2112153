-- +goose Up
-- Whose machine it is, where it is hired: nobody here repairs it.
ALTER TABLE machine ADD COLUMN hirer TEXT NOT NULL DEFAULT '';
