-- A time that is hardly one teaches nothing until somebody confirms it.
-- +goose Up
ALTER TABLE outcomes ADD COLUMN IF NOT EXISTS doubt TINYINT(1) NOT NULL DEFAULT 0;
