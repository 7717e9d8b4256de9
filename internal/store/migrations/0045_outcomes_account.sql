-- +goose Up
ALTER TABLE outcomes ADD INDEX IF NOT EXISTS outcomes_account (account_id, id);
