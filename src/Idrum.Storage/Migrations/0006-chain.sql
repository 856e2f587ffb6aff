-- Each act names the one before by its hash, so that what is changed or removed behind Idrum's back shows.
ALTER TABLE event ADD COLUMN hash TEXT NOT NULL DEFAULT '';
ALTER TABLE job ADD COLUMN head TEXT NOT NULL DEFAULT '';
