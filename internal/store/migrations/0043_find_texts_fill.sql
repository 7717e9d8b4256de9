-- +goose Up
INSERT IGNORE INTO find_texts (part_id, model_id, words)
  SELECT p.id, m.id, CONCAT(' ', LOWER(REGEXP_REPLACE(CONCAT_WS(' ', m.maker, m.name, m.aliases, p.name, p.aliases,
    p.label, p.chip_mark, p.connector_code), '[-\\[\\]"/,:·[:space:]]+', ' ')), ' ')
  FROM parts p JOIN models m ON m.id = p.model_id WHERE p.deleted_at IS NULL AND m.deleted_at IS NULL;
