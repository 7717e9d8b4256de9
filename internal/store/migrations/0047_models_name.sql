-- +goose Up
ALTER TABLE models ADD INDEX IF NOT EXISTS models_name (maker, name);
