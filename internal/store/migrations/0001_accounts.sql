-- +goose Up
CREATE TABLE IF NOT EXISTS accounts (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  name VARCHAR(64) NOT NULL,
  display VARCHAR(120) NOT NULL,
  role VARCHAR(20) NOT NULL,
  password_hash VARCHAR(200) NOT NULL,
  UNIQUE KEY accounts_name (name)
);
