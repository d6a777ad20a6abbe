-- +goose Up
CREATE TABLE rigs (
    id          uuid PRIMARY KEY,
    name        text NOT NULL,
    head        integer NOT NULL,          -- number of the newest revision
    state       text NOT NULL,             -- verdict on the newest revision
    feeds       integer NOT NULL,
    created_at  timestamptz NOT NULL,
    updated_at  timestamptz NOT NULL,
    deleted_at  timestamptz
);
CREATE INDEX rigs_updated ON rigs (updated_at DESC) WHERE deleted_at IS NULL;

-- Revisions are only ever added.
CREATE TABLE revisions (
    rig_id      uuid NOT NULL REFERENCES rigs (id),
    number      integer NOT NULL CHECK (number > 0),
    kind        text NOT NULL CHECK (kind IN ('create', 'edit', 'undo', 'redo')),
    shows       integer NOT NULL,          -- the revision whose document this repeats; its own number when new
    what        text NOT NULL,             -- what changed, in words
    who         text NOT NULL,
    at          timestamptz NOT NULL,
    name        text NOT NULL,
    state       text NOT NULL,
    doc         jsonb NOT NULL,
    PRIMARY KEY (rig_id, number)
);

-- +goose StatementBegin
CREATE FUNCTION revisions_stay() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'revisions are append-only';
END $$;
-- +goose StatementEnd
CREATE TRIGGER revisions_append_only BEFORE UPDATE OR DELETE ON revisions
    FOR EACH ROW EXECUTE FUNCTION revisions_stay();

-- What has been done once for this database, such as loading the demo.
CREATE TABLE done_once (
    what text PRIMARY KEY,
    at   timestamptz NOT NULL
);
