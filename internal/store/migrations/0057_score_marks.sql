-- +goose Up
CREATE TABLE IF NOT EXISTS score_marks (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  model_id CHAR(36) NOT NULL,
  build VARCHAR(40) NOT NULL,
  taken_at DATETIME(3) NOT NULL,
  facts MEDIUMTEXT NOT NULL,
  note VARCHAR(200) NOT NULL,
  KEY score_marks_model (model_id, taken_at)
);
