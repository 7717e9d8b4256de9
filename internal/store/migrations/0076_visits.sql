-- +goose Up
CREATE TABLE IF NOT EXISTS visits (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  model_id CHAR(36) NOT NULL,
  sticker VARCHAR(20) NOT NULL,
  ticket VARCHAR(40) NOT NULL,
  said VARCHAR(400) NOT NULL,
  arrival TEXT NULL,
  study_id VARCHAR(36) NOT NULL,
  unit_id VARCHAR(36) NOT NULL,
  work_id VARCHAR(36) NOT NULL,
  state VARCHAR(20) NOT NULL,
  KEY visits_model (model_id),
  KEY visits_state (state)
);
