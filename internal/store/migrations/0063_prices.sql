-- +goose Up
CREATE TABLE IF NOT EXISTS prices (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  what VARCHAR(20) NOT NULL,
  for_model_id CHAR(36) NOT NULL,
  price_minor BIGINT NOT NULL,
  currency VARCHAR(3) NOT NULL,
  priced_on DATETIME(3) NOT NULL,
  KEY prices_model (for_model_id)
);
