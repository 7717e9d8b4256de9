-- +goose Up
CREATE TABLE IF NOT EXISTS trials (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  study_id CHAR(36) NOT NULL,
  seq INT NOT NULL,
  board_unit_id CHAR(36) NOT NULL,
  build VARCHAR(40) NOT NULL,
  pieces TEXT NULL,
  results TEXT NULL,
  minutes DOUBLE NOT NULL,
  note TEXT NOT NULL,
  KEY trials_study (study_id, seq)
);
