-- +goose Up
CREATE TABLE IF NOT EXISTS shelves (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  for_model_id CHAR(36) NOT NULL,
  item VARCHAR(60) NOT NULL,
  grade VARCHAR(10) NOT NULL,
  quantity INT NOT NULL,
  reserved INT NOT NULL,
  place VARCHAR(60) NOT NULL,
  quarantine VARCHAR(200) NOT NULL,
  origin VARCHAR(120) NOT NULL,
  best_before DATETIME(3) NULL,
  on_order INT NOT NULL,
  KEY shelves_model (for_model_id)
);
