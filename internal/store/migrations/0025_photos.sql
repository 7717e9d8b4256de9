-- +goose Up
CREATE TABLE IF NOT EXISTS photos (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  study_id CHAR(36) NOT NULL,
  unit_id VARCHAR(36) NOT NULL,
  part_id VARCHAR(36) NOT NULL,
  entry_id VARCHAR(36) NOT NULL,
  caption VARCHAR(200) NOT NULL,
  pins TEXT NULL,
  width INT NOT NULL,
  height INT NOT NULL,
  bytes INT NOT NULL,
  image LONGBLOB NOT NULL,
  thumb MEDIUMBLOB NOT NULL,
  KEY photos_study (study_id)
);
