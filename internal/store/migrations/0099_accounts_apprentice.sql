-- Whose work is looked at by another person at the gates that the office chose.
-- +goose Up
ALTER TABLE accounts ADD COLUMN IF NOT EXISTS apprentice TINYINT(1) NOT NULL DEFAULT 0;
