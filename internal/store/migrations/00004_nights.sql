-- +goose Up
-- A show opened from a rig: the revision it was made of, its run sheet as it was, and what it came to.
CREATE TABLE nights (
    id          uuid PRIMARY KEY,
    rig_id      uuid NOT NULL,
    revision    integer NOT NULL,
    name        text NOT NULL,
    air_at      timestamptz NOT NULL,
    people      integer NOT NULL CHECK (people > 0),
    sheet       jsonb NOT NULL,
    held        jsonb NOT NULL,            -- what the log over all nights counts; follows from the operations
    seq         bigint NOT NULL DEFAULT 0, -- operations so far
    created_at  timestamptz NOT NULL,
    FOREIGN KEY (rig_id, revision) REFERENCES revisions (rig_id, number)
);
CREATE INDEX nights_air_at ON nights (air_at DESC);
CREATE INDEX nights_rig ON nights (rig_id, air_at DESC);

-- What happened, only ever added to. Ids are made where it happens, so that sending again adds nothing.
CREATE TABLE night_ops (
    night_id    uuid NOT NULL REFERENCES nights (id),
    id          text NOT NULL,
    seq         bigint NOT NULL,
    kind        text NOT NULL,
    at          timestamptz NOT NULL,
    doc         jsonb NOT NULL,
    kept_at     timestamptz NOT NULL,
    PRIMARY KEY (night_id, id)
);
CREATE UNIQUE INDEX night_ops_seq ON night_ops (night_id, seq);
CREATE TRIGGER night_ops_append_only BEFORE UPDATE OR DELETE ON night_ops
    FOR EACH ROW EXECUTE FUNCTION revisions_stay();
