-- +goose Up
CREATE TABLE IF NOT EXISTS offers (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  seller_id CHAR(36) NOT NULL,
  for_model_id CHAR(36) NOT NULL,
  title VARCHAR(120) NOT NULL,
  covers TEXT NULL,
  grade VARCHAR(10) NOT NULL,
  lot VARCHAR(40) NOT NULL,
  price_minor BIGINT NOT NULL,
  currency VARCHAR(3) NOT NULL,
  priced_on DATETIME(3) NOT NULL,
  stock INT NOT NULL,
  lead_days DOUBLE NOT NULL,
  KEY offers_model (for_model_id),
  KEY offers_seller (seller_id)
);
