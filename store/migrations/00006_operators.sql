-- +goose Up
-- What a person did last is asked at every beginning.
CREATE INDEX outing_operator ON outing (operator, began);
