-- +goose Up
ALTER TABLE deliveries ADD COLUMN IF NOT EXISTS measures TEXT NULL;
