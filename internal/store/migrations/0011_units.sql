-- +goose Up
CREATE TABLE IF NOT EXISTS units (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  study_id CHAR(36) NOT NULL,
  name VARCHAR(40) NOT NULL,
  colour VARCHAR(20) NOT NULL,
  shape VARCHAR(20) NOT NULL,
  build VARCHAR(40) NOT NULL,
  storage_gb INT NOT NULL,
  state TEXT NOT NULL,
  KEY units_study (study_id)
);
