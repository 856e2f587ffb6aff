-- An exercise may be made of a closed job: its number, and what was wrong with that machine.
ALTER TABLE exercise ADD COLUMN from_job TEXT NOT NULL DEFAULT '';
ALTER TABLE exercise ADD COLUMN faults TEXT NOT NULL DEFAULT '[]';
