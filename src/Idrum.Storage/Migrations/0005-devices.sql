-- Devices that may use the shop over its network: a token's hash, never the token.
CREATE TABLE device (
    device_id  TEXT NOT NULL PRIMARY KEY,
    name       TEXT NOT NULL,
    person     TEXT NOT NULL,
    keeps      INTEGER NOT NULL CHECK (keeps IN (0, 1)),
    token_hash TEXT NOT NULL UNIQUE,
    paired_at  TEXT NOT NULL,
    last_at    TEXT NOT NULL,
    revoked_at TEXT
) STRICT;
