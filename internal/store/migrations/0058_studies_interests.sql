-- +goose Up
ALTER TABLE studies ADD COLUMN IF NOT EXISTS interests TEXT NULL;
