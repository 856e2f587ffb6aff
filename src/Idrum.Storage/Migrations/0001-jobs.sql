-- A job's log and its summary; the log is the truth, the summary is what lists need.
CREATE TABLE job (
    job_id      TEXT NOT NULL PRIMARY KEY,
    number      TEXT NOT NULL UNIQUE,
    place       TEXT NOT NULL,
    layout_id   TEXT NOT NULL,
    station     TEXT NOT NULL,
    closed      INTEGER NOT NULL CHECK (closed IN (0, 1)),
    opened_at   TEXT NOT NULL,
    last_at     TEXT NOT NULL,
    steps_out   INTEGER NOT NULL,
    next_timer_at TEXT,
    part_due_at TEXT,
    call_back_of TEXT NOT NULL,
    fault_id    TEXT NOT NULL,
    words       TEXT NOT NULL,
    version     INTEGER NOT NULL
) STRICT;

CREATE INDEX job_open ON job (closed, last_at);

CREATE TABLE event (
    event_id TEXT NOT NULL PRIMARY KEY,
    job_id   TEXT NOT NULL REFERENCES job (job_id),
    seq      INTEGER NOT NULL,
    at       TEXT NOT NULL,
    body     TEXT NOT NULL,
    UNIQUE (job_id, seq)
) STRICT;

CREATE TABLE photo (
    job_id   TEXT NOT NULL REFERENCES job (job_id),
    photo_id TEXT NOT NULL,
    jpeg     BLOB NOT NULL,
    PRIMARY KEY (job_id, photo_id)
) STRICT;
