-- +goose Up
-- What follows from the facts of a study and takes long to work out, as of a revision of its model.
CREATE TABLE IF NOT EXISTS derived (
  kind VARCHAR(20) NOT NULL,
  id CHAR(36) NOT NULL,
  revision BIGINT NOT NULL,
  edition VARCHAR(40) NOT NULL,
  body MEDIUMTEXT NOT NULL,
  PRIMARY KEY (kind, id)
);
