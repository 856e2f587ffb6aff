-- What a closed job teaches, beside its summary; and the shop's settings, such as since when it learns.
ALTER TABLE job ADD COLUMN lesson TEXT NOT NULL DEFAULT '';

CREATE TABLE setting (
    name  TEXT NOT NULL PRIMARY KEY,
    value TEXT NOT NULL
) STRICT;
