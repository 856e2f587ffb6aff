-- What devices had still kept when they were let in no more: for who keeps the shop to look at, given back to nobody else.
CREATE TABLE left_act (
    left_id   TEXT NOT NULL PRIMARY KEY,
    device_id TEXT NOT NULL,
    device    TEXT NOT NULL,
    person    TEXT NOT NULL,
    job       TEXT NOT NULL,
    words     TEXT NOT NULL,
    made_at   TEXT NOT NULL,
    came_at   TEXT NOT NULL,
    fields    TEXT NOT NULL,
    file_name TEXT NOT NULL DEFAULT '',
    file      BLOB
) STRICT;

CREATE INDEX left_act_device ON left_act (device_id);
