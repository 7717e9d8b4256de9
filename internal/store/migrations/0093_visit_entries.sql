-- The log of a visit: one line for each act of its repair.
-- +goose Up
CREATE TABLE IF NOT EXISTS visit_entries (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  visit_id CHAR(36) NOT NULL,
  model_id CHAR(36) NOT NULL,
  act_key VARCHAR(120) NOT NULL,
  step_id VARCHAR(36) NOT NULL,
  seconds DOUBLE NOT NULL,
  wait DOUBLE NOT NULL,
  screws INT NOT NULL,
  result VARCHAR(12) NOT NULL,
  hurt_part VARCHAR(36) NOT NULL,
  note VARCHAR(400) NOT NULL,
  away TINYINT(1) NOT NULL,
  skipped TINYINT(1) NOT NULL,
  signed_by VARCHAR(60) NOT NULL,
  happened_at DATETIME(3) NOT NULL,
  log_id VARCHAR(36) NOT NULL,
  KEY visit_entries_visit (visit_id),
  KEY visit_entries_step (step_id)
);
