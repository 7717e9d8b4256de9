-- +goose Up
-- How often anything of a model was changed; '' counts what belongs to no model. A room is read again when they moved on.
CREATE TABLE IF NOT EXISTS revisions (
  id CHAR(36) NOT NULL PRIMARY KEY,
  n BIGINT NOT NULL
);
