-- What a function is worth to the workshop that a piece loses, in its currency.
-- +goose Up
ALTER TABLE workshop ADD COLUMN IF NOT EXISTS function_values TEXT NULL;
