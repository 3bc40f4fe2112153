-- +goose Up
-- How many wash places and fuel points there are.
ALTER TABLE yard ADD COLUMN places TEXT NOT NULL DEFAULT '{}';
