-- +goose Up
-- What a part is found by: its words and those of its model, in lower case between single spaces.
CREATE TABLE IF NOT EXISTS find_texts (
  part_id CHAR(36) NOT NULL PRIMARY KEY,
  model_id CHAR(36) NOT NULL,
  words TEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  KEY find_texts_model (model_id)
);
