-- +goose Up
-- What a night counts for is reckoned when the log is read, not with every tick: held_seq says as of how many operations it is.
ALTER TABLE nights ADD COLUMN held_seq bigint NOT NULL DEFAULT 0;
UPDATE nights SET held_seq = seq;
