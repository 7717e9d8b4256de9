-- +goose Up
CREATE TABLE IF NOT EXISTS work_orders (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  for_model_id CHAR(36) NOT NULL,
  job VARCHAR(20) NOT NULL,
  status VARCHAR(20) NOT NULL,
  ref VARCHAR(60) NOT NULL,
  asked_on DATETIME(3) NOT NULL,
  promised_on DATETIME(3) NULL,
  price_minor BIGINT NOT NULL,
  currency VARCHAR(3) NOT NULL,
  minutes DOUBLE NOT NULL,
  why VARCHAR(300) NOT NULL,
  overrode VARCHAR(60) NOT NULL,
  KEY work_orders_model (for_model_id, asked_on)
);
