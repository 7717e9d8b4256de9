-- +goose Up
CREATE TABLE IF NOT EXISTS outcomes (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  model_id CHAR(36) NOT NULL,
  part_id CHAR(36) NOT NULL,
  account_id CHAR(36) NOT NULL,
  minutes DOUBLE NOT NULL,
  went VARCHAR(20) NOT NULL,
  note TEXT NOT NULL,
  KEY outcomes_part (part_id)
);
