-- +goose Up
CREATE TABLE IF NOT EXISTS commands (
  id CHAR(36) NOT NULL PRIMARY KEY,
  account_id CHAR(36) NOT NULL,
  body_hash CHAR(64) NOT NULL,
  status SMALLINT NOT NULL,
  answer MEDIUMTEXT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  KEY commands_created (created_at)
);
