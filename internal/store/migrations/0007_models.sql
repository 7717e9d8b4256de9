-- +goose Up
CREATE TABLE IF NOT EXISTS models (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  maker VARCHAR(80) NOT NULL,
  name VARCHAR(80) NOT NULL,
  aliases TEXT NULL,
  variants TEXT NULL,
  predecessor VARCHAR(80) NOT NULL,
  entry VARCHAR(10) NOT NULL,
  width_mm DOUBLE NOT NULL,
  height_mm DOUBLE NOT NULL,
  thickness_mm DOUBLE NOT NULL,
  mass_g DOUBLE NOT NULL,
  keep_outs TEXT NULL
);
