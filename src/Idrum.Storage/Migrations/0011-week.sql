-- Appointments: what was promised on the telephone, before there is a job of it and after.
CREATE TABLE booking (
    booking_id TEXT NOT NULL PRIMARY KEY,
    day        TEXT NOT NULL,
    uid        TEXT NOT NULL UNIQUE,
    job_number TEXT NOT NULL DEFAULT '',
    body       TEXT NOT NULL
) STRICT;

CREATE INDEX booking_day ON booking (day);
CREATE INDEX booking_job ON booking (job_number);

-- How appointments stood before a calendar was read in, so that it is taken back as one. No body: there was none.
CREATE TABLE booking_before (
    batch      TEXT NOT NULL,
    booking_id TEXT NOT NULL,
    body       TEXT,
    PRIMARY KEY (batch, booking_id)
) STRICT, WITHOUT ROWID;

-- What came due and was seen to.
CREATE TABLE due_done (
    job_number TEXT NOT NULL,
    kind       TEXT NOT NULL,
    day        TEXT NOT NULL,
    done_at    TEXT NOT NULL,
    person     TEXT NOT NULL DEFAULT '',
    PRIMARY KEY (job_number, kind, day)
) STRICT, WITHOUT ROWID;

-- Jobs closed on some days are found without reading all records.
CREATE INDEX job_closed_at ON job (json_extract(record, '$.closedAt')) WHERE closed = 1 AND record <> '';
