-- +goose Up
CREATE TABLE IF NOT EXISTS log_entries (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  study_id CHAR(36) NOT NULL,
  unit_id CHAR(36) NOT NULL,
  step_id CHAR(36) NOT NULL,
  seq INT NOT NULL,
  back BOOLEAN NOT NULL,
  new_step BOOLEAN NOT NULL,
  seconds DOUBLE NOT NULL,
  note TEXT NOT NULL,
  KEY log_entries_study (study_id, seq),
  KEY log_entries_step (step_id)
);
