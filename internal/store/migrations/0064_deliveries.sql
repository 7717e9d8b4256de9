-- +goose Up
CREATE TABLE IF NOT EXISTS deliveries (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  seller_id CHAR(36) NOT NULL,
  for_model_id CHAR(36) NOT NULL,
  item VARCHAR(60) NOT NULL,
  grade VARCHAR(10) NOT NULL,
  lot VARCHAR(40) NOT NULL,
  size INT NOT NULL,
  price_minor BIGINT NOT NULL,
  currency VARCHAR(3) NOT NULL,
  received_on DATETIME(3) NOT NULL,
  inspected INT NOT NULL,
  bad INT NOT NULL,
  reasons TEXT NULL,
  KEY deliveries_model (for_model_id)
);
