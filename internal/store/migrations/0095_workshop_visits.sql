-- How long what an owner said is kept after hand-back, and at which gates an apprentice's work is looked at by another.
-- +goose Up
ALTER TABLE workshop
  ADD COLUMN IF NOT EXISTS visit_days INT NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS sign_off TEXT NULL;
