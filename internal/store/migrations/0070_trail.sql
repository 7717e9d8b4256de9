-- +goose Up
ALTER TABLE audit_lines ADD INDEX IF NOT EXISTS audit_lines_account (account_id, id);
