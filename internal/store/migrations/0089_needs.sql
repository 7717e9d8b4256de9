-- Parts that somebody put on the list of what to buy by hand.
-- +goose Up
CREATE TABLE IF NOT EXISTS needs (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  for_model_id CHAR(36) NOT NULL,
  item VARCHAR(60) NOT NULL,
  quantity INT NOT NULL,
  note VARCHAR(200) NOT NULL,
  KEY needs_model (for_model_id)
);
