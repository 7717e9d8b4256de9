-- +goose Up
-- The order so far: a trial by its number, an act after the trial before it.
UPDATE trials SET place = seq * 1000 WHERE place = 0;
