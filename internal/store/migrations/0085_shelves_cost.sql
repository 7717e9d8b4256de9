-- What a piece cost with its share of sending.
-- +goose Up
ALTER TABLE shelves ADD COLUMN IF NOT EXISTS cost_minor BIGINT NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS cost_currency VARCHAR(3) NOT NULL DEFAULT '';
