-- +goose Up
CREATE TABLE IF NOT EXISTS lots (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  model_id CHAR(36) NOT NULL,
  kind VARCHAR(40) NOT NULL,
  name VARCHAR(40) NOT NULL,
  price_minor INT NOT NULL,
  currency VARCHAR(3) NOT NULL,
  measures TEXT NULL,
  KEY lots_kind (kind)
);
