-- +goose Up
-- A run of which nothing is on record but that it was made: such are counted without reading them.
ALTER TABLE log_entries ADD COLUMN IF NOT EXISTS plain_run BOOLEAN GENERATED ALWAYS AS
  (kind = 'step' AND (detail IS NULL OR detail IN ('{}', 'null', ''))) STORED;
