-- +goose Up
ALTER TABLE photos
  ADD COLUMN IF NOT EXISTS delivery_id CHAR(36) NOT NULL DEFAULT '',
  ADD INDEX IF NOT EXISTS photos_delivery (delivery_id);
