-- +goose Up
-- Long work. The tables river_… are those of the job queue's module as of its version 8, in one step; a test holds them to it.
CREATE TYPE river_job_state AS ENUM ('available', 'cancelled', 'completed', 'discarded', 'pending', 'retryable', 'running', 'scheduled');
CREATE TABLE river_job (
    id            bigserial PRIMARY KEY,
    state         river_job_state NOT NULL DEFAULT 'available',
    attempt       smallint NOT NULL DEFAULT 0,
    max_attempts  smallint NOT NULL DEFAULT 25,
    attempted_at  timestamptz,
    created_at    timestamptz NOT NULL DEFAULT now(),
    finalized_at  timestamptz,
    scheduled_at  timestamptz NOT NULL DEFAULT now(),
    priority      smallint NOT NULL DEFAULT 1,
    args          jsonb NOT NULL,
    attempted_by  text[],
    errors        jsonb[],
    kind          text NOT NULL,
    metadata      jsonb NOT NULL DEFAULT '{}',
    queue         text NOT NULL DEFAULT 'default',
    tags          varchar(255)[] NOT NULL DEFAULT '{}',
    unique_key    bytea,
    unique_states bit(8),
    CONSTRAINT finalized_or_finalized_at_null CHECK (
        (finalized_at IS NULL AND state NOT IN ('cancelled', 'completed', 'discarded')) OR
        (finalized_at IS NOT NULL AND state IN ('cancelled', 'completed', 'discarded'))),
    CONSTRAINT max_attempts_is_positive CHECK (max_attempts > 0),
    CONSTRAINT priority_in_range CHECK (priority >= 1 AND priority <= 4),
    CONSTRAINT queue_length CHECK (char_length(queue) > 0 AND char_length(queue) < 128),
    CONSTRAINT kind_length CHECK (char_length(kind) > 0 AND char_length(kind) < 128)
);
CREATE INDEX river_job_kind ON river_job USING btree (kind);
CREATE INDEX river_job_state_and_finalized_at_index ON river_job USING btree (state, finalized_at) WHERE finalized_at IS NOT NULL;
CREATE INDEX river_job_prioritized_fetching_index ON river_job USING btree (state, queue, priority, scheduled_at, id);
CREATE INDEX river_job_args_index ON river_job USING gin (args);
CREATE INDEX river_job_metadata_index ON river_job USING gin (metadata);
-- +goose StatementBegin
CREATE FUNCTION river_job_state_in_bitmask(bitmask bit(8), state river_job_state) RETURNS boolean LANGUAGE sql IMMUTABLE AS $$
    SELECT CASE state
        WHEN 'available' THEN get_bit(bitmask, 7)
        WHEN 'cancelled' THEN get_bit(bitmask, 6)
        WHEN 'completed' THEN get_bit(bitmask, 5)
        WHEN 'discarded' THEN get_bit(bitmask, 4)
        WHEN 'pending'   THEN get_bit(bitmask, 3)
        WHEN 'retryable' THEN get_bit(bitmask, 2)
        WHEN 'running'   THEN get_bit(bitmask, 1)
        WHEN 'scheduled' THEN get_bit(bitmask, 0)
        ELSE 0
    END = 1;
$$;
-- +goose StatementEnd
CREATE UNIQUE INDEX river_job_unique_idx ON river_job (unique_key)
    WHERE unique_key IS NOT NULL AND unique_states IS NOT NULL AND river_job_state_in_bitmask(unique_states, state);
CREATE UNLOGGED TABLE river_leader (
    elected_at timestamptz NOT NULL,
    expires_at timestamptz NOT NULL,
    leader_id  text NOT NULL,
    name       text PRIMARY KEY DEFAULT 'default',
    CONSTRAINT name_length CHECK (name = 'default'),
    CONSTRAINT leader_id_length CHECK (char_length(leader_id) > 0 AND char_length(leader_id) < 128)
);
CREATE TABLE river_queue (
    name       text PRIMARY KEY NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now(),
    metadata   jsonb NOT NULL DEFAULT '{}'::jsonb,
    paused_at  timestamptz,
    updated_at timestamptz NOT NULL DEFAULT CURRENT_TIMESTAMP
);
CREATE TABLE river_notification (
    id         bigserial PRIMARY KEY,
    created_at timestamptz NOT NULL DEFAULT now(),
    payload    text NOT NULL,
    topic      text NOT NULL,
    CONSTRAINT topic_length CHECK (length(topic) > 0 AND length(topic) < 128)
);
CREATE INDEX river_notification_created_at_idx ON river_notification (created_at);
CREATE INDEX river_notification_topic_id_idx ON river_notification (topic, id);

-- What a piece of long work is, how far it is and what it came to. The queue above says who does it and when.
CREATE TABLE jobs (
    id         uuid PRIMARY KEY,
    kind       text NOT NULL,
    about      text NOT NULL DEFAULT '',  -- what it is about, such as a rig's id
    spec       jsonb NOT NULL,
    state      text NOT NULL DEFAULT 'waits' CHECK (state IN ('waits', 'runs', 'done', 'failed', 'off')),
    runner     text NOT NULL DEFAULT '',
    tries      integer NOT NULL DEFAULT 0,
    called_off boolean NOT NULL DEFAULT false,
    step       jsonb,
    result     jsonb,
    problem    text NOT NULL DEFAULT '',
    created_at timestamptz NOT NULL DEFAULT now(),
    updated_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX jobs_about ON jobs (kind, about, created_at DESC);

-- What an inspection or a rehearsal came to, kept with the state of the rig it was held against.
CREATE TABLE reports (
    id       uuid PRIMARY KEY,
    rig_id   uuid NOT NULL,
    revision integer NOT NULL,
    kind     text NOT NULL,
    part     text NOT NULL,
    name     text NOT NULL,
    at       timestamptz NOT NULL,
    doc      jsonb NOT NULL,
    FOREIGN KEY (rig_id, revision) REFERENCES revisions (rig_id, number)
);
CREATE INDEX reports_of ON reports (rig_id, at DESC);
CREATE TRIGGER reports_append_only BEFORE UPDATE OR DELETE ON reports
    FOR EACH ROW EXECUTE FUNCTION revisions_stay();
