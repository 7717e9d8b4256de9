-- +goose Up
ALTER TABLE swap_acts DROP COLUMN IF EXISTS after_trial;
