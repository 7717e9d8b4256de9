-- +goose Up
CREATE TABLE IF NOT EXISTS dry_runs (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  account_id CHAR(36) NOT NULL,
  level INT NOT NULL,
  seed BIGINT UNSIGNED NOT NULL,
  acts MEDIUMTEXT NULL,
  done BOOLEAN NOT NULL,
  right_count INT NOT NULL,
  wrong_count INT NOT NULL,
  unproven_count INT NOT NULL,
  minutes DOUBLE NOT NULL,
  advised_minutes DOUBLE NOT NULL,
  KEY dry_runs_account (account_id)
);
