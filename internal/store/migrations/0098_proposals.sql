-- What technicians propose about a model, for an analyst to accept.
-- +goose Up
CREATE TABLE IF NOT EXISTS proposals (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  model_id CHAR(36) NOT NULL,
  kind VARCHAR(20) NOT NULL,
  part_id VARCHAR(36) NOT NULL,
  step_id VARCHAR(36) NOT NULL,
  visit_id VARCHAR(36) NOT NULL,
  measure TEXT NULL,
  words VARCHAR(120) NOT NULL,
  state VARCHAR(12) NOT NULL,
  account_id CHAR(36) NOT NULL,
  KEY proposals_model (model_id, state)
);
