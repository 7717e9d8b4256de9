-- +goose Up
CREATE TABLE IF NOT EXISTS studies (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  model_id CHAR(36) NOT NULL,
  title VARCHAR(160) NOT NULL,
  variant VARCHAR(80) NOT NULL,
  orientation VARCHAR(160) NOT NULL,
  note TEXT NOT NULL,
  KEY studies_model (model_id)
);
