-- +goose Up
ALTER TABLE accounts ADD COLUMN IF NOT EXISTS disabled BOOLEAN NOT NULL DEFAULT FALSE;
-- +goose StatementBegin
CREATE TABLE IF NOT EXISTS sign_ins (
  id CHAR(36) NOT NULL PRIMARY KEY,
  account_id CHAR(36) NOT NULL,
  started_at DATETIME(3) NOT NULL,
  seen_at DATETIME(3) NOT NULL,
  agent VARCHAR(200) NOT NULL,
  ended_at DATETIME(3) NULL,
  KEY sign_ins_account (account_id, started_at)
);
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TABLE IF NOT EXISTS links (
  hash CHAR(64) NOT NULL PRIMARY KEY,
  account_id CHAR(36) NOT NULL,
  expires_at DATETIME(3) NOT NULL,
  used_at DATETIME(3) NULL,
  KEY links_account (account_id)
);
-- +goose StatementEnd
