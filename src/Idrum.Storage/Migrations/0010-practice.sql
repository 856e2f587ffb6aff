-- Practice: exercises as what they are of and what was done in them, and cards of drills. None of it is a job.
CREATE TABLE exercise (
    exercise_id TEXT NOT NULL PRIMARY KEY,
    person      TEXT NOT NULL,
    layout_id   TEXT NOT NULL,
    level       INTEGER NOT NULL,
    seed        INTEGER NOT NULL,
    begun_at    TEXT NOT NULL,
    ended_at    TEXT,
    moves       TEXT NOT NULL,
    marks       REAL,
    lost        REAL,
    unsafe      TEXT NOT NULL DEFAULT ''
) STRICT;

CREATE INDEX exercise_person ON exercise (person, begun_at);

CREATE TABLE drill_card (
    person TEXT NOT NULL,
    card   TEXT NOT NULL,
    kind   TEXT NOT NULL,
    layout_id TEXT NOT NULL,
    seed   INTEGER NOT NULL,
    box    INTEGER NOT NULL,
    due    TEXT NOT NULL,
    asked  INTEGER NOT NULL,
    missed INTEGER NOT NULL,
    PRIMARY KEY (person, card)
) STRICT, WITHOUT ROWID;
