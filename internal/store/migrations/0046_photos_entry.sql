-- +goose Up
ALTER TABLE photos ADD INDEX IF NOT EXISTS photos_entry (entry_id);
