-- +goose Up
CREATE TABLE IF NOT EXISTS rubrics (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  name VARCHAR(60) NOT NULL,
  edition VARCHAR(40) NOT NULL,
  author VARCHAR(80) NOT NULL,
  published BOOLEAN NOT NULL,
  document MEDIUMTEXT NOT NULL
);
