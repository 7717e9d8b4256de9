-- A seller's list that was put in, with what every offer was before: it is undone as one.
-- +goose Up
CREATE TABLE IF NOT EXISTS offer_imports (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  file VARCHAR(120) NOT NULL,
  sellers TEXT NULL,
  default_model VARCHAR(200) NOT NULL,
  mapping TEXT NULL,
  answers TEXT NULL,
  defaults_said TEXT NULL,
  made LONGTEXT NULL,
  changed LONGTEXT NULL,
  same INT NOT NULL,
  gone INT NOT NULL,
  kept TEXT NULL,
  undone TINYINT(1) NOT NULL
);
