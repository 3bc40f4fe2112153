-- +goose Up
-- What a yard chose where good practitioners differ, who chose it, and who is called.
ALTER TABLE yard ADD COLUMN practice TEXT NOT NULL DEFAULT '{}';
ALTER TABLE yard ADD COLUMN chosen TEXT NOT NULL DEFAULT '{}';
ALTER TABLE yard ADD COLUMN emergency TEXT NOT NULL DEFAULT '{}';
