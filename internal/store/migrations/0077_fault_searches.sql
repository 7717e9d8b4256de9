-- +goose Up
CREATE TABLE IF NOT EXISTS fault_searches (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  visit_id CHAR(36) NOT NULL,
  model_id CHAR(36) NOT NULL,
  symptom VARCHAR(60) NOT NULL,
  works TEXT NULL,
  lost TEXT NULL,
  limit_minor BIGINT NOT NULL,
  service_minor BIGINT NOT NULL,
  acts TEXT NULL,
  state VARCHAR(20) NOT NULL,
  ended TEXT NULL,
  why VARCHAR(300) NOT NULL,
  closed_at DATETIME(3) NULL,
  work_id VARCHAR(36) NOT NULL,
  KEY fault_searches_visit (visit_id),
  KEY fault_searches_model (model_id, state)
);
