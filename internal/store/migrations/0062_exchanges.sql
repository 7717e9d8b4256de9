-- +goose Up
CREATE TABLE IF NOT EXISTS exchanges (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  from_currency VARCHAR(3) NOT NULL,
  to_currency VARCHAR(3) NOT NULL,
  rate DOUBLE NOT NULL,
  rated_on DATETIME(3) NOT NULL
);
