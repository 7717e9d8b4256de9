-- +goose Up
CREATE TABLE IF NOT EXISTS part_pairs (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  model_id CHAR(36) NOT NULL,
  other_model_id CHAR(36) NOT NULL,
  part_id CHAR(36) NOT NULL,
  other_part_id CHAR(36) NOT NULL,
  verdict VARCHAR(10) NOT NULL,
  KEY part_pairs_models (model_id, other_model_id)
);
