-- The seller's own code of an offer, by which a later list finds it again.
-- +goose Up
ALTER TABLE offers ADD COLUMN IF NOT EXISTS code VARCHAR(60) NOT NULL DEFAULT '';
