-- +goose Up
-- Until when a lead's duties are handed to a person; 0 is not.
ALTER TABLE person ADD COLUMN stands_in INTEGER NOT NULL DEFAULT 0;
