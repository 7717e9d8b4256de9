-- +goose Up
CREATE TABLE IF NOT EXISTS fault_counts (
  model_id CHAR(36) NOT NULL,
  symptom VARCHAR(60) NOT NULL,
  cause VARCHAR(80) NOT NULL,
  n DOUBLE NOT NULL,
  PRIMARY KEY (model_id, symptom, cause)
);
