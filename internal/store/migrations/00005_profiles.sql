-- +goose Up
-- What destinations of one's own take at most. Every state is kept; the newest counts, and one that is gone can come back.
CREATE TABLE profiles (
    id      uuid NOT NULL,
    number  integer NOT NULL CHECK (number > 0),
    name    text NOT NULL,
    doc     jsonb NOT NULL,
    who     text NOT NULL,
    at      timestamptz NOT NULL,
    gone    boolean NOT NULL DEFAULT false,
    PRIMARY KEY (id, number)
);
CREATE TRIGGER profiles_append_only BEFORE UPDATE OR DELETE ON profiles
    FOR EACH ROW EXECUTE FUNCTION revisions_stay();
