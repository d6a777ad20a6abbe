-- +goose Up
-- What is owned, or could be bought: spec sheets. Revisions are only ever added, as with rigs.
CREATE TABLE shelf (
    id          text PRIMARY KEY,
    kind        text NOT NULL,
    name        text NOT NULL,
    owned       boolean NOT NULL,
    head        integer NOT NULL,
    updated_at  timestamptz NOT NULL,
    deleted_at  timestamptz
);
CREATE TABLE shelf_revisions (
    entry_id    text NOT NULL REFERENCES shelf (id),
    number      integer NOT NULL CHECK (number > 0),
    what        text NOT NULL,
    who         text NOT NULL,
    at          timestamptz NOT NULL,
    doc         jsonb NOT NULL,
    PRIMARY KEY (entry_id, number)
);
CREATE TRIGGER shelf_revisions_append_only BEFORE UPDATE OR DELETE ON shelf_revisions
    FOR EACH ROW EXECUTE FUNCTION revisions_stay();

-- A rig frozen for a past show stays as it was.
ALTER TABLE rigs ADD COLUMN frozen boolean NOT NULL DEFAULT false;
