-- +goose Up
CREATE TABLE IF NOT EXISTS closings (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  unit_id CHAR(36) NOT NULL,
  ticks TEXT NULL,
  back_items TEXT NULL,
  declared TEXT NULL,
  results TEXT NULL,
  seal VARCHAR(20) NOT NULL,
  end_state VARCHAR(300) NOT NULL,
  closed BOOLEAN NOT NULL,
  UNIQUE KEY closings_unit (unit_id)
);
