-- +goose Up
CREATE TABLE IF NOT EXISTS swap_acts (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  study_id CHAR(36) NOT NULL,
  seq INT NOT NULL,
  after_trial INT NOT NULL,
  kind VARCHAR(20) NOT NULL,
  board_unit_id CHAR(36) NOT NULL,
  moves TEXT NULL,
  pieces TEXT NULL,
  build VARCHAR(40) NOT NULL,
  accepted BOOLEAN NOT NULL,
  reason VARCHAR(300) NOT NULL,
  what VARCHAR(120) NOT NULL,
  minutes DOUBLE NOT NULL,
  note TEXT NOT NULL,
  KEY swap_acts_study (study_id, seq)
);
