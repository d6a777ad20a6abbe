-- +goose Up
-- Writes that were asked for under a key, with what they made: asking again gives the same answer and makes nothing new.
CREATE TABLE requests (
    key    text PRIMARY KEY,
    print  bytea NOT NULL,                 -- of what was asked; a key stands for one request only
    made   jsonb NOT NULL,                 -- [{"id": …, "number": …}]
    at     timestamptz NOT NULL
);
CREATE INDEX requests_at ON requests (at);
