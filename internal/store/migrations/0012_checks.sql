-- +goose Up
CREATE TABLE IF NOT EXISTS checks (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  mark VARCHAR(60) NOT NULL,
  name VARCHAR(80) NOT NULL,
  family CHAR(2) NOT NULL,
  seconds DOUBLE NOT NULL,
  position INT NOT NULL,
  UNIQUE KEY checks_mark (mark)
);
