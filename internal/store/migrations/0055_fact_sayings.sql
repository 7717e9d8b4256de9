-- +goose Up
CREATE TABLE IF NOT EXISTS fact_sayings (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  model_id VARCHAR(36) NOT NULL,
  fact VARCHAR(60) NOT NULL,
  number DOUBLE NULL,
  low DOUBLE NULL,
  high DOUBLE NULL,
  choice VARCHAR(40) NOT NULL,
  said_by VARCHAR(60) NOT NULL,
  unit_mark VARCHAR(60) NOT NULL,
  evidence VARCHAR(400) NOT NULL,
  currency VARCHAR(3) NOT NULL,
  build VARCHAR(40) NOT NULL,
  said_on DATETIME(3) NULL,
  KEY fact_sayings_model (model_id, fact)
);
