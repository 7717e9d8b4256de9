-- +goose Up
CREATE TABLE IF NOT EXISTS merges (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  model_id CHAR(36) NOT NULL,
  kind VARCHAR(10) NOT NULL,
  from_id CHAR(36) NOT NULL,
  into_id CHAR(36) NOT NULL,
  changes MEDIUMTEXT NULL,
  undone BOOLEAN NOT NULL
);
