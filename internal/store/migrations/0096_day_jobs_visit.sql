-- The visit whose log starts and ends the operations of a job of the day.
-- +goose Up
ALTER TABLE day_jobs ADD COLUMN IF NOT EXISTS visit_id VARCHAR(36) NOT NULL DEFAULT '';
