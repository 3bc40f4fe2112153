-- +goose Up
-- Every page asks which machines are out.
CREATE INDEX machine_out ON machine (outing) WHERE outing <> '';
