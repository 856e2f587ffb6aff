-- What lists show of a job beside the first: tag and complaints; and the hash of each stored picture, whose id is only a name.
-- shape says by which form of the summary a row was written; rows of an older form are written anew at the start.
ALTER TABLE job ADD COLUMN tag TEXT NOT NULL DEFAULT '';
ALTER TABLE job ADD COLUMN complaints TEXT NOT NULL DEFAULT '';
ALTER TABLE job ADD COLUMN shape INTEGER NOT NULL DEFAULT 1;
ALTER TABLE photo ADD COLUMN sha256 TEXT NOT NULL DEFAULT '';
ALTER TABLE event ADD COLUMN arrived TEXT NOT NULL DEFAULT '';
CREATE INDEX job_tag ON job (tag);
CREATE INDEX job_call_back ON job (call_back_of);
