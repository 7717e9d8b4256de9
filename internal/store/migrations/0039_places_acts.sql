-- +goose Up
UPDATE swap_acts SET place = after_trial * 1000 + LEAST(seq, 999) WHERE place = 0;
