-- Layouts as jobs were worked with, each writing once, by its hash; and the shop's own layouts with their versions.
CREATE TABLE layout (
    hash      TEXT NOT NULL PRIMARY KEY,
    layout_id TEXT NOT NULL,
    body      TEXT NOT NULL,
    kept_at   TEXT NOT NULL
) STRICT;

CREATE TABLE shop_layout (
    layout_id TEXT NOT NULL,
    version   INTEGER NOT NULL,
    hash      TEXT NOT NULL REFERENCES layout (hash),
    from_job  TEXT NOT NULL,
    made_at   TEXT NOT NULL,
    PRIMARY KEY (layout_id, version)
) STRICT;
