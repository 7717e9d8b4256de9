-- What stands on an order as the place that it comes from.
-- +goose Up
ALTER TABLE workshop ADD COLUMN IF NOT EXISTS address VARCHAR(300) NOT NULL DEFAULT '';
