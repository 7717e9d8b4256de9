-- +goose Up
ALTER TABLE outcomes ADD INDEX IF NOT EXISTS outcomes_model (model_id);
