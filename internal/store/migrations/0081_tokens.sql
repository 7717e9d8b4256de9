-- +goose Up
-- What other programs sign in with: the sum of a token, never the token.
CREATE TABLE IF NOT EXISTS tokens (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  account_id CHAR(36) NOT NULL,
  name VARCHAR(80) NOT NULL,
  reads_only TINYINT(1) NOT NULL,
  rooms TEXT NULL,
  hash CHAR(64) NOT NULL,
  expires_at DATETIME(3) NOT NULL,
  revoked_at DATETIME(3) NULL,
  last_used_at DATETIME(3) NULL,
  last_used_from VARCHAR(64) NOT NULL DEFAULT '',
  UNIQUE KEY tokens_hash (hash),
  KEY tokens_account (account_id)
);
