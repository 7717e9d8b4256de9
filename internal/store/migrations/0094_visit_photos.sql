-- Pictures of a visit. They are deleted for good with what its owner said.
-- +goose Up
CREATE TABLE IF NOT EXISTS visit_photos (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  visit_id CHAR(36) NOT NULL,
  model_id CHAR(36) NOT NULL,
  width INT NOT NULL,
  height INT NOT NULL,
  bytes INT NOT NULL,
  image MEDIUMBLOB NOT NULL,
  thumb MEDIUMBLOB NOT NULL,
  KEY visit_photos_visit (visit_id)
);
