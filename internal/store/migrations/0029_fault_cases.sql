-- +goose Up
CREATE TABLE IF NOT EXISTS fault_cases (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  study_id CHAR(36) NOT NULL,
  unit_id CHAR(36) NOT NULL,
  check_mark VARCHAR(60) NOT NULL,
  symptom VARCHAR(300) NOT NULL,
  part_id CHAR(36) NOT NULL,
  tries TEXT NULL,
  closed BOOLEAN NOT NULL,
  KEY fault_cases_study (study_id)
);
