-- What acts carry is one thing, whatever its kind: a file under one name. What no act ever named goes.
CREATE TABLE attachment (
    name   TEXT NOT NULL PRIMARY KEY,
    kind   TEXT NOT NULL,
    sha256 TEXT NOT NULL,
    bytes  BLOB NOT NULL
) STRICT;

INSERT OR IGNORE INTO attachment (name, kind, sha256, bytes)
    SELECT photo_id, 'photo', sha256, jpeg FROM photo
    WHERE EXISTS (SELECT 1 FROM event WHERE event.job_id = photo.job_id AND instr(event.body, photo.photo_id) > 0);

DROP TABLE photo;
