-- +goose Up
CREATE TABLE IF NOT EXISTS baselines (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  unit_id CHAR(36) NOT NULL,
  check_mark VARCHAR(60) NOT NULL,
  result VARCHAR(20) NOT NULL,
  assumed BOOLEAN NOT NULL,
  UNIQUE KEY baselines_cell (unit_id, check_mark)
);
