-- +goose Up
CREATE TABLE IF NOT EXISTS sellers (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  name VARCHAR(80) NOT NULL,
  currency VARCHAR(3) NOT NULL,
  shipping_minor BIGINT NOT NULL,
  free_above_minor BIGINT NOT NULL,
  coupons TEXT NULL,
  refund DOUBLE NOT NULL,
  return_cost_minor BIGINT NOT NULL,
  lead_p50 DOUBLE NOT NULL,
  lead_p90 DOUBLE NOT NULL,
  note VARCHAR(400) NOT NULL
);
