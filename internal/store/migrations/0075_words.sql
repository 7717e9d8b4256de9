-- +goose Up
CREATE TABLE IF NOT EXISTS words (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  say VARCHAR(60) NOT NULL,
  means VARCHAR(80) NOT NULL,
  kind VARCHAR(20) NOT NULL
);
