-- +goose Up
ALTER TABLE swap_acts ADD COLUMN IF NOT EXISTS spoils TEXT NULL;
